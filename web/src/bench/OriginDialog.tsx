/** A new origin while part of the work is cut: possible, as on a real machine, and warned of in plain words. */
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { LengthField } from "../ui/LengthField";

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
        Set a new origin…
      </Button>
      <Dialog open={asks} onClose={() => setAsks(false)}>
        <DialogTitle>Set a new origin between {between}?</DialogTitle>
        <DialogContent>
          <Typography sx={{ mb: 2 }}>
            {warns} The machine comes back to the old origin by itself: there is no need to set one.
          </Typography>
          <Stack direction="row" spacing={1}>
            <LengthField label="To the right" value={x} onChange={setX} />
            <LengthField label="Forward" value={y} onChange={setY} />
          </Stack>
        </DialogContent>
        <DialogActions>
          <Button variant="contained" onClick={() => setAsks(false)}>
            Keep the old one
          </Button>
          <Button
            color="error"
            disabled={Number.isNaN(x) || Number.isNaN(y)}
            onClick={() => {
              onSet([x ?? 0, y ?? 0]);
              setAsks(false);
            }}
          >
            Set it all the same
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
