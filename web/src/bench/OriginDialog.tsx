/** A new origin while part of the work is cut: possible, as on a real machine, and warned of in plain words. */
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { LengthField } from "../ui/LengthField";
import { bench as say } from "../texts/bench";

interface Props {
  /** Between what it would be set, as in “two passes”. */
  between: string;
  warns: string;
  onSet: (moved: [number, number]) => void;
}

export function SetOrigin({ between, warns, onSet }: Props) {
  const [asks, setAsks] = useState(false);
  const [x, setX] = useState<number | null>(null);
  const [y, setY] = useState<number | null>(null);
  return (
    <>
      <Button size="small" onClick={() => setAsks(true)}>
        {say.setANewOrigin}
      </Button>
      <Dialog open={asks} onClose={() => setAsks(false)}>
        <DialogTitle>{say.setANewOriginBetween(between)}</DialogTitle>
        <DialogContent>
          <Typography sx={{ mb: 2 }}>{say.theMachineComesBackTo(warns)}</Typography>
          <Stack direction="row" spacing={1}>
            <LengthField label={say.toTheRight} value={x} onChange={setX} />
            <LengthField label={say.forward} value={y} onChange={setY} />
          </Stack>
        </DialogContent>
        <DialogActions>
          <Button variant="contained" onClick={() => setAsks(false)}>
            {say.keepTheOldOne}
          </Button>
          <Button
            color="error"
            disabled={Number.isNaN(x) || Number.isNaN(y)}
            onClick={() => {
              onSet([x ?? 0, y ?? 0]);
              setAsks(false);
            }}
          >
            {say.setItAllTheSame}
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
