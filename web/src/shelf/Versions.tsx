/** The versions of a thing, the newest first: who kept it, when and why, and what it changed; and what can be done. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { Link, useNavigate } from "react-router";
import type { Difference, ShelfThingWhole, ThingVersion } from "../api/client";
import { useRemoveThing, useRetireThing, useUsualThing } from "../api/shelfChanges";
import { Failure } from "../help/Failure";
import { Row } from "../ui/Row";
import { moment } from "../ui/words";
import { common } from "../texts/common";
import { shelf as say } from "../texts/shelf";

interface Props {
  whole: ShelfThingWhole;
  /** A version is put into the form, to be kept once more. */
  onTake: (version: ThingVersion) => void;
}

export function Versions({ whole, onTake }: Props) {
  return (
    <Stack spacing={1} component="section" aria-label={say.versionsLabel}>
      <Typography variant="h2">{say.versions}</Typography>
      {whole.versions.map((version, i) => (
        <Box key={version.number} data-version={version.number} sx={{ borderTop: "1px solid #DDD", pt: 1 }}>
          <Row spacing={1}>
            <Typography variant="subtitle2">{version.number}</Typography>
            <Typography variant="body2" sx={{ flex: 1, overflowWrap: "anywhere" }}>
              {version.who || common.theShop}, {moment(version.when)}
              {version.note && `: ${version.note}`}
            </Typography>
            {i > 0 && whole.may_edit && <Button onClick={() => onTake(version)}>{say.takeItAgain}</Button>}
          </Row>
          <Changes of={version.changes} />
        </Box>
      ))}
      {whole.may_edit && <Doing whole={whole} />}
    </Stack>
  );
}

export function Changes({ of }: { of: readonly Difference[] }) {
  if (!of.length) return null;
  return (
    <Box component="ul" sx={{ m: 0, pl: 3 }}>
      {of.map((one, i) => (
        <Typography key={i} component="li" variant="body2" sx={{ overflowWrap: "anywhere" }}>
          {one.where && `${one.where}: `}
          <s>{one.before || "nothing"}</s> → <b>{one.after || "nothing"}</b>
        </Typography>
      ))}
    </Box>
  );
}

function Doing({ whole: { thing } }: { whole: ShelfThingWhole }) {
  const go = useNavigate();
  const retire = useRetireThing();
  const usual = useUsualThing();
  const remove = useRemoveThing();
  const back = `/shelf/${thing.kind}`;
  return (
    <Stack spacing={1} sx={{ borderTop: "1px solid #DDD", pt: 1.5 }}>
      <Row spacing={1} useFlexGap sx={{ flexWrap: "wrap" }}>
        <Button component={Link} to={`${back}/new?from=${thing.id}`} variant="outlined">
          {say.copyIt}
        </Button>
        {!thing.usual && !thing.retired && (
          <Button variant="outlined" onClick={() => usual.mutate(thing.id)}>
            {say.makeItTheUsualOne}
          </Button>
        )}
        <Button
          variant="outlined"
          onClick={() =>
            retire.mutate({ id: thing.id, retired: !thing.retired, note: "", seen: thing.number })
          }
        >
          {thing.retired ? say.offerItAgain : say.retireIt}
        </Button>
        <Button onClick={() => remove.mutate(thing.id, { onSuccess: () => void go(back) })}>
          {say.removeIt}
        </Button>
      </Row>
      <Failure of={retire.error ?? usual.error ?? remove.error} />
    </Stack>
  );
}
