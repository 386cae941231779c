/** The help beside the stage: of the place where one stands, or the entry of a finding or a refusal. */
import { Row } from "../ui/Row";
import { Box, Button, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { useLocation } from "react-router";
import { queries } from "../api/queries";
import { MONO } from "../ui/theme";
import { placeAt, PLACES, type Place } from "./stations";
import { GLOSSARY } from "./glossary";
import { REFUSALS } from "./tables";
import { useHelp } from "./useHelp";
import { common } from "../texts/common";
import { help as say } from "../texts/help";

export function HelpPanel() {
  const { entry, show } = useHelp();
  const { pathname } = useLocation();
  if (entry === null) return null;
  const place = PLACES[placeAt(pathname)];
  return (
    <Stack
      component="aside"
      aria-label={say.helpLabel2}
      spacing={1}
      sx={{
        width: 300,
        flex: "none",
        overflowY: "auto",
        p: 2,
        bgcolor: "background.paper",
        borderRight: 1,
        borderColor: "divider",
      }}
      onKeyDown={(event) => event.key === "Escape" && show(null)}
    >
      <Row>
        <Typography variant="h2" sx={{ flex: 1 }}>
          {entry ? say.whatThisMeans : place?.title}
        </Typography>
        <Button onClick={() => show(null)} sx={{ py: 0 }}>
          {common.close}
        </Button>
      </Row>
      {entry ? (
        <>
          {REFUSALS.has(entry) ? <Refusal code={entry} /> : <Finding id={entry} />}
          <Button onClick={() => show("")} sx={{ alignSelf: "flex-start" }}>
            {say.about(place?.title)}
          </Button>
        </>
      ) : (
        place && <About {...place} />
      )}
    </Stack>
  );
}

function About({ is, first, keys, words }: Place) {
  return (
    <>
      <Typography variant="body2">{is}</Typography>
      <Part title={say.mostOften}>
        <Box component="ol" sx={{ m: 0, pl: 2.5, fontSize: 14 }}>
          {first.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </Box>
      </Part>
      {keys.length > 0 && (
        <Part title={say.keys}>
          {keys.map(([key, does]) => (
            <Stack key={key + does} direction="row" spacing={1}>
              <Typography variant="body2" sx={{ fontFamily: MONO, width: 64, flex: "none", fontWeight: 700 }}>
                {key}
              </Typography>
              <Typography variant="body2">{does}</Typography>
            </Stack>
          ))}
        </Part>
      )}
      <Part title={say.words}>
        {words.map((word) => (
          <Word key={word} word={word} />
        ))}
      </Part>
    </>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box component="section" aria-label={title}>
      <Typography sx={{ fontWeight: 700, mt: 0.5 }}>{title}</Typography>
      {children}
    </Box>
  );
}

const Word = ({ word }: { word: string }) => (
  <Typography variant="body2" sx={{ mb: 0.5 }}>
    <b>{word}</b>: {GLOSSARY.get(word)}
  </Typography>
);

/** A check: what it measures, how grave it is, and what can be done about it. */
function Finding({ id }: { id: string }) {
  const sheets = useQuery(queries.checkSheets());
  const check = sheets.data?.checks.find((one) => one.id === id);
  if (!check)
    return (
      <Typography variant="body2">{sheets.isPending ? say.lookingItUp : say.thereIsNoEntryFor}</Typography>
    );
  const limits = check.limits.map(({ value, unit }) => `${value} ${unit}`.trim()).join(", ");
  const grave = {
    stop: say.aStopNothingIsReleased,
    look: say.aLookSomebodyHasTo,
    note: say.aNoteItIsOnly,
  }[check.severity];
  return (
    <>
      <Typography variant="subtitle1">{check.title}</Typography>
      <Typography variant="body2">{check.says}</Typography>
      <Typography variant="body2">
        {grave} {limits && say.shippedWithTheLimitThe(limits)}
      </Typography>
      <Part title={say.whatToDo}>
        <Box component="ol" sx={{ m: 0, pl: 2.5, fontSize: 14 }}>
          <li>{say.pressTheCardTheStage}</li>
          <li>{say.pressTheMendThatStands}</li>
          <li>{say.whereThereIsNoMend}</li>
          <li>{say.whereItMayStaySay}</li>
        </Box>
      </Part>
      <Typography variant="body2" color="text.secondary" sx={{ fontFamily: MONO, fontSize: 11 }}>
        {id}
      </Typography>
    </>
  );
}

const NEXT: Record<string, string> = {
  "does-not-fit": say.whatTakesTheRoomStands,
  "stops-open": say.openCheckMendWhatIs,
  "not-ready": say.waitUntilTheWorkThat,
  "changed-meanwhile": say.somebodyElseOrAnotherWindow,
  "nothing-to-do": say.itIsAsYouWant,
  "cannot-read": say.askTheCustomerForThe,
  "limit-exceeded": say.makeTheFileSimplerFewer,
  locked: say.askTheCustomerForThePassword,
  "not-permitted": say.somebodyWithTheRightFor,
  "brings-stop": say.pressTheButtonInThe,
};

function Refusal({ code }: { code: string }) {
  return (
    <>
      <Typography variant="body2">{REFUSALS.get(code)}</Typography>
      <Part title={say.whatToDo}>
        <Typography variant="body2">{NEXT[code] ?? say.theMessageSaysTheNext}</Typography>
      </Part>
    </>
  );
}
