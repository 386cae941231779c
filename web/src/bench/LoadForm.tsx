/** Loading is an act: which end goes in first, and how askew; what is left empty comes as it comes. */
import { Alert, Button, FormControlLabel, Stack, Switch, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { useLoad } from "../api/benchChanges";
import type { Bed, Laying } from "../api/client";

const FIELDS: { key: "shift_x_mm" | "shift_y_mm" | "turn_deg"; words: string }[] = [
  { key: "shift_x_mm", words: "Right, mm" },
  { key: "shift_y_mm", words: "Forward, mm" },
  { key: "turn_deg", words: "Turned, °" },
];

export function LoadForm({ bed }: { bed: Bed }) {
  const load = useLoad(bed.release_id);
  const [values, setValues] = useState<Record<string, string>>({});
  const [turned, setTurned] = useState(false);
  const number = (key: string) => (values[key] ? Number(values[key]) : null);
  const lay = () => {
    const seed = Number((bed.laying as Partial<Laying> | null)?.seed ?? 0) + 1;
    load.mutate({
      side: bed.side,
      seed,
      turned,
      shift_x_mm: number("shift_x_mm"),
      shift_y_mm: number("shift_y_mm"),
      turn_deg: number("turn_deg"),
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
        {FIELDS.map((field) => (
          <TextField
            key={field.key}
            label={field.words}
            type="number"
            placeholder="as it is"
            value={values[field.key] ?? ""}
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { step: "any" } }}
            onChange={(e) => setValues({ ...values, [field.key]: e.target.value })}
          />
        ))}
      </Stack>
      <Typography variant="body2" color="text.secondary">
        What is left empty lies as hands lay it: a little askew, and otherwise each time.
      </Typography>
      <FormControlLabel
        control={<Switch size="small" checked={turned} onChange={(_, on) => setTurned(on)} />}
        label="Its trailing edge goes in first"
      />
      <Button type="submit" variant="contained" disabled={load.isPending} sx={{ alignSelf: "flex-start" }}>
        {bed.side === "back" ? "Turn it over sideways and load it" : "Load it"}
      </Button>
      {load.isError && <Alert severity="error">{load.error.message}</Alert>}
    </Stack>
  );
}
