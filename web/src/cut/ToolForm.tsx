/** A tool setting of a job: what is always looked at, and behind a button what a blade needs. */
import { Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import type { Tool } from "../api/client";
import { Patterns } from "./Patterns";

interface Field {
  key: keyof Tool;
  words: string;
  /** What stands in an empty field: what is left to the machine has none. */
  empty?: string;
}

const ALWAYS: Field[] = [
  { key: "number", words: "Tool" },
  { key: "force_gf", words: "Force, gf", empty: "machine" },
  { key: "speed_mm_s", words: "mm/s", empty: "machine" },
  { key: "passes", words: "Passes" },
];
const OF_TIES: Field[] = [
  { key: "cut_mm", words: "Cut, mm" },
  { key: "tie_mm", words: "Tie, mm" },
  { key: "tie_force_gf", words: "Force in the tie, gf" },
];
const OF_BLADE: Field[] = [
  { key: "offset_mm", words: "Offset, mm" },
  { key: "overcut_mm", words: "Overcut, mm" },
  { key: "acceleration_mm_s2", words: "mm/s²", empty: "machine" },
  { key: "age_m", words: "Blade has cut, m" },
  { key: "wear_gf_km", words: "Wear, gf per km" },
];
const BLADES = [
  ["", "left to the machine"],
  ["drag", "drag blade"],
  ["tangential", "tangential blade"],
  ["rotary", "rotary blade"],
  ["wheel", "creasing wheel"],
] as const;

interface Props {
  tool: Tool;
  failed?: string;
  /** The only figures that can be set; all where it is left out. */
  only?: (keyof Tool)[];
  onKeep: (tool: Tool) => void;
}

export function ToolForm({ tool, failed, only, onKeep }: Props) {
  const [own, setOwn] = useState<Tool>(tool);
  const [more, setMore] = useState(false);
  const sent = useRef<string | null>(null);
  const keep = (next: Tool) => {
    sent.current = JSON.stringify(next);
    onKeep(next);
  };
  const changed = JSON.stringify(own) !== JSON.stringify(tool);
  const perforates = tool.cut_mm !== null && tool.cut_mm !== undefined;
  const set = (field: Field, text: string) => {
    const value = text === "" && field.empty ? null : Number(text);
    setOwn({ ...own, [field.key]: value });
  };
  // Who leaves with figures that were typed and not kept has meant them all the same.
  const left = useRef<() => void>(() => undefined);
  useEffect(() => {
    left.current = () => {
      const whole = Object.values(own).every((value) => !Number.isNaN(value));
      if (changed && whole && sent.current !== JSON.stringify(own)) onKeep(own);
    };
  });
  useEffect(() => () => left.current(), []);
  const shown = only
    ? ALWAYS.filter((field) => only.includes(field.key))
    : [...ALWAYS, ...(perforates ? OF_TIES : []), ...(more ? OF_BLADE : [])];
  return (
    <Stack
      component="form"
      direction="row"
      useFlexGap
      spacing={0.5}
      sx={{ flexWrap: "wrap", mt: 0.7, rowGap: 1, alignItems: "center" }}
      onSubmit={(event) => {
        event.preventDefault();
        keep(own);
      }}
    >
      {shown.map((field) => (
        <TextField
          key={field.key}
          label={field.words}
          type="number"
          value={own[field.key] ?? ""}
          placeholder={field.empty}
          sx={{ width: field.words.length > 12 ? 124 : 82 }}
          slotProps={{
            inputLabel: { shrink: true },
            htmlInput: {
              step: "any",
              "aria-label": `${field.words} for ${only ? "the aligning figure" : tool.role}`,
            },
          }}
          onChange={(e) => set(field, e.target.value)}
        />
      ))}
      {perforates && <Patterns tool={own} onChoose={(pattern) => setOwn({ ...own, ...pattern })} />}
      {more && (
        <TextField
          select
          label="Blade"
          value={own.blade ?? ""}
          sx={{ width: 168 }}
          slotProps={{
            inputLabel: { shrink: true },
            select: { displayEmpty: true },
            htmlInput: { "aria-label": `Blade for ${tool.role}` },
          }}
          onChange={(e) => setOwn({ ...own, blade: (e.target.value || null) as Tool["blade"] })}
        >
          {BLADES.map(([value, words]) => (
            <MenuItem key={value} value={value}>
              {words}
            </MenuItem>
          ))}
        </TextField>
      )}
      {!only && (
        <Button size="small" aria-expanded={more} onClick={() => setMore(!more)}>
          {more ? "Less" : "Blade…"}
        </Button>
      )}
      {changed && (
        <Button type="submit" variant="contained">
          Keep
        </Button>
      )}
      {failed && (
        <Typography color="error" variant="body2">
          {failed}
        </Typography>
      )}
    </Stack>
  );
}
