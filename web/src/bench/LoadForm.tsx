/** Loading is an act: which end goes in first, and how askew; what is left empty comes as it comes. */
import { Button, FormControlLabel, MenuItem, Stack, Switch, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { useLoad } from "../api/benchChanges";
import { queueQueries } from "../api/queueChanges";
import type { Bed } from "../api/client";
import { CountField, LengthField } from "../ui/LengthField";
import { common } from "../texts/common";
import { bench as say } from "../texts/bench";
import { queues as words } from "../texts/queues";

interface TrulyProps {
  bed: Bed;
  value: number | null;
  onChange: (sheet: number | null) => void;
}

/** Which sheet a hand has taken: the simulated shop has several, and any of them may be laid in. */
function TrulyLaid({ bed, value, onChange }: TrulyProps) {
  const queues = useQuery(queueQueries.queues());
  const others = (queues.data?.cutter ?? []).filter(
    (one) => one.release_id !== bed.release_id && ["printed", "laminated", "half-cut"].includes(one.stage),
  );
  if (!others.length) return null;
  return (
    <TextField
      select
      label={words.trulyLaid}
      value={value ?? 0}
      onChange={(event) => onChange(Number(event.target.value) || null)}
    >
      <MenuItem value={0}>{words.thisOne}</MenuItem>
      {others.map((one) => (
        <MenuItem key={one.sheet_id} value={one.sheet_id}>
          {one.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

export function LoadForm({ bed }: { bed: Bed }) {
  const load = useLoad(bed.release_id);
  const [right, setRight] = useState<number | null>(null);
  const [forward, setForward] = useState<number | null>(null);
  const [turn, setTurn] = useState<number | null>(null);
  const [turned, setTurned] = useState(false);
  const [truly, setTruly] = useState<number | null>(null);
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
      truly,
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
      <Typography variant="h2">{bed.loading === null ? say.loadTheSheet : say.loadItAgain}</Typography>
      <Stack direction="row" spacing={1}>
        <LengthField label={common.right} shipped="as it is" value={right} onChange={setRight} />
        <LengthField label={say.forward} shipped="as it is" value={forward} onChange={setForward} />
        <CountField label={say.turned} shipped="as it is" value={turn} onChange={setTurn} />
      </Stack>
      <Typography variant="body2" color="text.secondary">
        {say.whatIsLeftEmptyLies}
      </Typography>
      <FormControlLabel
        control={<Switch size="small" checked={turned} onChange={(_, on) => setTurned(on)} />}
        label={say.loadedTheOtherWayRound}
      />
      {bed.side === "front" && <TrulyLaid bed={bed} value={truly} onChange={setTruly} />}
      <Button
        type="submit"
        variant="contained"
        disabled={load.isPending || wrong}
        sx={{ alignSelf: "flex-start" }}
      >
        {bed.side === "back" ? say.turnItOverSidewaysAnd : say.loadIt}
      </Button>
      <Failure of={load.error} />
    </Stack>
  );
}
