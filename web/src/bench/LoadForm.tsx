/** Loading is an act: which end goes in first, and how askew; what is left empty comes as it comes. */
import { Button, FormControlLabel, Stack, Switch, Typography } from "@mui/material";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { useLoad } from "../api/benchChanges";
import type { Bed } from "../api/client";
import { CountField, LengthField } from "../ui/LengthField";

export function LoadForm({ bed }: { bed: Bed }) {
  const load = useLoad(bed.release_id);
  const [right, setRight] = useState<number | null>(null);
  const [forward, setForward] = useState<number | null>(null);
  const [turn, setTurn] = useState<number | null>(null);
  const [turned, setTurned] = useState(false);
  const wrong = [right, forward, turn].some(Number.isNaN);
  const lay = () => {
    const seed = (bed.laying?.seed ?? 0) + 1;
    load.mutate({
      side: bed.side,
      seed,
      turned,
      shift_x_mm: right,
      shift_y_mm: forward,
      turn_deg: turn,
      stretch: null,
      skew_deg: null,
    });
  };
  return (
    <Stack
      spacing={1}
      component="form"
      onSubmit={(event) => {
        event.preventDefault();
        lay();
      }}
    >
      <Typography variant="h2">{bed.loading === null ? "Load the sheet" : "Load it again"}</Typography>
      <Stack direction="row" spacing={1}>
        <LengthField label="Right" shipped="as it is" value={right} onChange={setRight} />
        <LengthField label="Forward" shipped="as it is" value={forward} onChange={setForward} />
        <CountField label="Turned, °" shipped="as it is" value={turn} onChange={setTurn} />
      </Stack>
      <Typography variant="body2" color="text.secondary">
        What is left empty lies as hands lay it: a little askew, and otherwise each time.
      </Typography>
      <FormControlLabel
        control={<Switch size="small" checked={turned} onChange={(_, on) => setTurned(on)} />}
        label="Loaded the other way round, its far end first"
      />
      <Button
        type="submit"
        variant="contained"
        disabled={load.isPending || wrong}
        sx={{ alignSelf: "flex-start" }}
      >
        {bed.side === "back" ? "Turn it over sideways and load it" : "Load it"}
      </Button>
      <Failure of={load.error} />
    </Stack>
  );
}
