/** The machine stands, and a person has to do something; a new origin here moves all that comes after. */
import {
  Alert,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { useOrigin } from "../api/benchChanges";
import type { Bed, Playback, Release } from "../api/client";

interface Props {
  made: Release;
  bed: Bed;
  stop: Playback["stops"][number];
  onDone: () => void;
}

export function Halt({ made, bed, stop, onDone }: Props) {
  const origin = useOrigin(made.id, bed.side);
  const [asks, setAsks] = useState(false);
  const [x, setX] = useState("");
  const [y, setY] = useState("");
  const moved = Object.values(bed.shifts).at(-1);
  const isMoved = moved?.some((mm) => mm !== 0);
  return (
    <Stack spacing={1} role="alert" sx={{ p: 1.5, border: "2px solid #222" }}>
      <Typography sx={{ fontWeight: 700 }}>The machine stands.</Typography>
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
        <Button size="small" onClick={() => setAsks(true)}>
          Set a new origin…
        </Button>
      )}
      <Dialog open={asks} onClose={() => setAsks(false)}>
        <DialogTitle>Set a new origin between two passes?</DialogTitle>
        <DialogContent>
          <Typography sx={{ mb: 2 }}>
            Part of this sheet is cut already. With a new origin everything that follows lands beside it, and
            the pieces are spoilt. The machine comes back to the old origin by itself: there is no need to set
            one.
          </Typography>
          <Stack direction="row" spacing={1}>
            <TextField
              label="To the right, mm"
              type="number"
              value={x}
              onChange={(e) => setX(e.target.value)}
            />
            <TextField label="Forward, mm" type="number" value={y} onChange={(e) => setY(e.target.value)} />
          </Stack>
        </DialogContent>
        <DialogActions>
          <Button variant="contained" onClick={() => setAsks(false)}>
            Keep the old one
          </Button>
          <Button
            color="error"
            onClick={() => {
              origin.mutate({ before: stop.before, moved: [Number(x), Number(y)] });
              setAsks(false);
            }}
          >
            Set it all the same
          </Button>
        </DialogActions>
      </Dialog>
    </Stack>
  );
}
