/** The machine stands, and a person has to do something; a new origin here moves all that comes after. */
import { Alert, Button, Stack, Typography } from "@mui/material";
import { useOrigin } from "../api/benchChanges";
import type { Bed, Playback, Release } from "../api/client";
import { SetOrigin } from "./OriginDialog";
import { bench as say } from "../texts/bench";

interface Props {
  made: Release;
  bed: Bed;
  stop: Playback["stops"][number];
  /** Whether what came before is still being kept. */
  busy: boolean;
  onDone: () => void;
}

export function Halt({ made, bed, stop, busy, onDone }: Props) {
  const origin = useOrigin(made.id, bed.side);
  const moved = Object.values(bed.shifts).at(-1);
  const isMoved = moved?.some((mm) => mm !== 0);
  return (
    <Stack spacing={1} role="alert" sx={{ p: 1.5, border: "2px solid #222" }}>
      <Typography variant="subtitle1">{say.theMachineStands}</Typography>
      <Typography>{stop.words}</Typography>
      <Button variant="contained" onClick={onDone} disabled={busy}>
        {say.itIsDoneGoOn}
      </Button>
      {isMoved ? (
        <>
          <Alert severity="warning">
            {say.aNewOriginWasSet}
            {moved?.[0]}, {moved?.[1]}
            {say.mmBesideWhatWasCut}
          </Alert>
          <Button size="small" onClick={() => origin.mutate({ before: stop.before, moved: null })}>
            {say.returnToTheOldOrigin}
          </Button>
        </>
      ) : (
        <SetOrigin
          between={say.twoPasses}
          warns={say.partOfThisSheetIs}
          onSet={(next) => origin.mutate({ before: stop.before, moved: next })}
        />
      )}
    </Stack>
  );
}
