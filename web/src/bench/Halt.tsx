/** The machine stands, and a person has to do something; a new origin here moves all that comes after. */
import { Alert, Button, Stack, Typography } from "@mui/material";
import { useOrigin } from "../api/benchChanges";
import type { Bed, Playback, Release } from "../api/client";
import { SetOrigin } from "./OriginDialog";

interface Props {
  made: Release;
  bed: Bed;
  stop: Playback["stops"][number];
  onDone: () => void;
}

export function Halt({ made, bed, stop, onDone }: Props) {
  const origin = useOrigin(made.id, bed.side);
  const moved = Object.values(bed.shifts).at(-1);
  const isMoved = moved?.some((mm) => mm !== 0);
  return (
    <Stack spacing={1} role="alert" sx={{ p: 1.5, border: "2px solid #222" }}>
      <Typography variant="subtitle1">The machine stands.</Typography>
      <Typography>{stop.words}</Typography>
      <Button variant="contained" onClick={onDone}>
        It is done, go on
      </Button>
      {isMoved ? (
        <>
          <Alert severity="warning">
            A new origin was set: what comes now is cut {moved?.[0]}, {moved?.[1]} mm beside what was cut.
          </Alert>
          <Button size="small" onClick={() => origin.mutate({ before: stop.before, moved: null })}>
            Return to the old origin
          </Button>
        </>
      ) : (
        <SetOrigin
          between="two passes"
          warns="Part of this sheet is cut already. With a new origin everything that follows lands beside it, and the pieces are spoilt."
          onSet={(next) => origin.mutate({ before: stop.before, moved: next })}
        />
      )}
    </Stack>
  );
}
