/** The way of a new shop, in six steps: what it is called, its machines, names, films, people, and a file as proof. */
import { Alert, Box, Button, LinearProgress, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import { usePutExamples, useShopChange } from "../../api/shelfChanges";
import { Failure } from "../../help/Failure";
import { Row } from "../../ui/Row";
import { Invites } from "../Invites";
import { ShopForm, TakeIn } from "../MovePart";
import { Films } from "./Films";
import { Machines } from "./Machines";
import { Names } from "./Names";
import { Proof } from "./Proof";
import { common } from "../../texts/common";
import { guide as say } from "../../texts/guide";

const STEPS = [say.theShop, say.machines, say.names, say.films, say.people, say.aFileAsProof] as const;

export function Guide() {
  const [step, setStep] = useState(0);
  const me = useQuery(queries.me());
  const shop = useQuery(queries.shop());
  const next = () => setStep((now) => Math.min(now + 1, STEPS.length - 1));
  if (me.isPending || shop.isPending) return <LinearProgress aria-label={common.loadingLabel} />;
  if (me.isError || shop.isError) return <Failure of={me.error ?? shop.error} alone />;
  if (!me.data.rights.includes("edit-shelf"))
    return (
      <Alert severity="info" sx={{ m: 3 }}>
        {say.theShopIsNotSet}
      </Alert>
    );
  const SCREENS: readonly ReactNode[] = [
    <Beginning key="shop" onNext={next} />,
    <Machines key="machines" onNext={next} />,
    <Names key="names" onNext={next} />,
    <Films key="films" onNext={next} />,
    <People key="people" onNext={next} manages={me.data.rights.includes("manage-people")} />,
    <Proof key="proof" />,
  ];
  return (
    <Stack spacing={3} sx={{ p: 3, maxWidth: 860, mx: "auto" }}>
      <Row spacing={1}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {say.setUpYourShop}
        </Typography>
        <Later />
      </Row>
      <Row component="nav" aria-label={say.stepsLabel} spacing={1} useFlexGap sx={{ flexWrap: "wrap" }}>
        {STEPS.map((words, i) => (
          <Button
            key={words}
            onClick={() => setStep(i)}
            aria-current={i === step ? "step" : undefined}
            sx={{ borderBottom: i === step ? 2 : 0, borderRadius: 0 }}
          >
            {i + 1}. {words}
          </Button>
        ))}
      </Row>
      {SCREENS[step]}
    </Stack>
  );
}

/** Whoever knows the way leaves the guide; it stands on the Shelf. */
function Later() {
  const change = useShopChange();
  return (
    <Button component={Link} to="/" onClick={() => change.mutate({ begun: true })}>
      {say.laterWithoutTheGuide}
    </Button>
  );
}

function Beginning({ onNext }: { onNext: () => void }) {
  const shop = useQuery(queries.shop());
  const examples = usePutExamples();
  const begun = useShopChange();
  const keep = useShopChange();
  return (
    <Stack spacing={3} component="section" aria-label={common.theShop}>
      {shop.data && <ShopForm shop={shop.data} keep={keep} onKept={onNext} />}
      <Stack spacing={1}>
        <Typography variant="h2">{say.orBeginOtherwise}</Typography>
        <Row spacing={1} useFlexGap sx={{ flexWrap: "wrap" }}>
          <Button
            variant="outlined"
            disabled={examples.isPending}
            onClick={() => examples.mutate([], { onSuccess: () => begun.mutate({ begun: true }) })}
          >
            {say.putAllExamplesOnThe}
          </Button>
          <Typography variant="body2" color="text.secondary">
            {say.plainMachinesNamesAndFilms}
          </Typography>
        </Row>
        {examples.isSuccess && (
          <Alert severity="success">
            {say.theyLieOnTheShelf}
            <Link to="/">{say.toTheDesk}</Link>
            {say.toDropAFile}
          </Alert>
        )}
        <Failure of={examples.error} />
        <TakeIn onTaken={() => begun.mutate({ begun: true })} />
      </Stack>
    </Stack>
  );
}

function People({ onNext, manages }: { onNext: () => void; manages: boolean }) {
  const staff = useQuery({ ...queries.staff(), enabled: manages });
  return (
    <Stack spacing={2} component="section" aria-label={say.peopleLabel}>
      {manages && staff.data ? (
        <Invites staff={staff.data} />
      ) : (
        <Typography variant="body2">{say.whoeverManagesPeopleInvitesThe}</Typography>
      )}
      <Failure of={staff.error} />
      <Box>
        <Button variant="contained" onClick={onNext}>
          {common.goOn}
        </Button>
      </Box>
    </Stack>
  );
}
