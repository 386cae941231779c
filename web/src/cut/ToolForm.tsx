/** A tool setting of a job: what is always looked at, its perforation, and behind a button blade and wear. */
import { Failure } from "../help/Failure";
import { Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useEffect, useRef, useState, type ReactNode } from "react";
import type { Tool } from "../api/client";
import { CountField, LengthField } from "../ui/LengthField";
import { length, plain } from "../ui/words";
import { Patterns } from "./Patterns";
import { common } from "../texts/common";
import { cut as say } from "../texts/cut";

type Figure = Exclude<keyof Tool, "role" | "blade" | "tie" | "pattern">;
interface Field {
  key: Figure;
  words: string;
  /** What stands in an empty field: what is left to the machine has none. */
  empty?: string;
  /** A length; otherwise a plain number, whose unit its words name. */
  length?: true;
}
interface Group {
  title: string;
  fields: Field[];
}

const ALWAYS: Field[] = [
  { key: "number", words: say.tool },
  { key: "force_gf", words: say.forceGf, empty: "machine" },
  { key: "speed_mm_s", words: "mm/s", empty: "machine" },
  { key: "passes", words: say.passes },
];
const PERFORATION: Group = {
  title: say.perforation,
  fields: [
    { key: "cut_mm", words: common.cut, length: true },
    { key: "tie_mm", words: say.tie, length: true },
    { key: "tie_force_gf", words: say.forceInTheTieGf },
  ],
};
const BLADE: Group = {
  title: say.blade,
  fields: [
    { key: "offset_mm", words: say.offset, length: true },
    { key: "overcut_mm", words: say.overcut, length: true },
    { key: "acceleration_mm_s2", words: say.accelerationMmS, empty: "machine" },
  ],
};
const WEAR: Group = {
  title: say.wear,
  fields: [
    { key: "age_m", words: say.hasCutM },
    { key: "wear_gf_km", words: say.wearGfPerKm },
  ],
};
const BLADES = [
  ["", say.leftToTheMachine],
  ["drag", say.dragBlade],
  ["tangential", say.tangentialBlade],
  ["rotary", say.rotaryBlade],
  ["wheel", say.creasingWheel],
] as const;

/** What a tool does, in one line of words. */
export function toolWords(tool: Tool): string {
  const left = (value: number | null | undefined, unit: string, what: string) =>
    value === null || value === undefined ? say.leftToTheMachine2(what) : `${plain(value)} ${unit}`;
  const blade = BLADES.find(([value]) => value !== "" && value === tool.blade)?.[1];
  return [
    say.tool2(tool.number),
    left(tool.force_gf, "gf", "force"),
    left(tool.speed_mm_s, "mm/s", "speed"),
    (tool.passes ?? 1) === 1 ? say.onceOver : say.timesOver(tool.passes),
    ...(tool.cut_mm ? [say.cutsLeaves(length(tool.cut_mm), length(tool.tie_mm ?? 0))] : []),
    ...(blade ? [blade] : []),
  ].join(", ");
}

interface Props {
  tool: Tool;
  failed?: Error | null;
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
  const wrong = Object.values(own).some((value) => Number.isNaN(value));
  const set = (field: Field, figure: number | null) =>
    setOwn({ ...own, [field.key]: figure === null && !field.empty ? NaN : figure });
  // Who leaves with figures that were typed and not kept has meant them all the same.
  const left = useRef<() => void>(() => undefined);
  useEffect(() => {
    left.current = () => {
      if (changed && !wrong && sent.current !== JSON.stringify(own)) onKeep(own);
    };
  });
  useEffect(() => () => left.current(), []);
  const shown = only ? ALWAYS.filter((field) => only.includes(field.key)) : ALWAYS;
  const one = (field: Field) => {
    const given = {
      label: field.words,
      of: only ? say.theAligningFigure : tool.role,
      value: own[field.key],
      shipped: field.empty,
      onChange: (figure: number | null) => set(field, figure),
      sx: { width: field.words.length > 12 ? 148 : 82 },
    };
    return field.length ? (
      <LengthField key={field.key} {...given} />
    ) : (
      <CountField key={field.key} {...given} />
    );
  };
  const group = ({ title, fields }: Group, also?: ReactNode) => (
    <Stack key={title} spacing={0.5} role="group" aria-label={title}>
      <Typography variant="body2" color="text.secondary">
        {title}
      </Typography>
      <Fields>
        {fields.map(one)}
        {also}
      </Fields>
    </Stack>
  );
  return (
    <Stack
      component="form"
      spacing={1}
      sx={{ mt: 0.7 }}
      onSubmit={(event) => {
        event.preventDefault();
        if (!wrong) keep(own);
      }}
    >
      <Fields>
        {shown.map(one)}
        {!only && (
          <Button size="small" aria-expanded={more} onClick={() => setMore(!more)}>
            {more ? say.less : say.bladeAndWear}
          </Button>
        )}
      </Fields>
      {perforates &&
        group(PERFORATION, <Patterns tool={own} onChoose={(pattern) => setOwn({ ...own, ...pattern })} />)}
      {more && group(BLADE, <BladeKind tool={own} onChoose={(blade) => setOwn({ ...own, blade })} />)}
      {more && group(WEAR)}
      {changed && (
        <Button type="submit" variant="contained" disabled={wrong} sx={{ alignSelf: "flex-start" }}>
          {say.keep}
        </Button>
      )}
      <Failure of={failed} />
    </Stack>
  );
}

const Fields = ({ children }: { children: ReactNode }) => (
  <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap", rowGap: 1, alignItems: "center" }}>
    {children}
  </Stack>
);

function BladeKind({ tool, onChoose }: { tool: Tool; onChoose: (blade: Tool["blade"]) => void }) {
  return (
    <TextField
      select
      label={say.kind}
      value={tool.blade ?? ""}
      sx={{ width: 188 }}
      slotProps={{
        inputLabel: { shrink: true },
        select: { displayEmpty: true },
        htmlInput: { "aria-label": say.bladeFor(tool.role) },
      }}
      onChange={(e) => onChoose((e.target.value || null) as Tool["blade"])}
    >
      {BLADES.map(([value, words]) => (
        <MenuItem key={value} value={value}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}
