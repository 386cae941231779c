/** Controls for one value each: text, number, length, yes or no, a choice, a colour, a place, another thing. */
import { Box, FormControlLabel, FormHelperText, MenuItem, Stack, Switch, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { KindId } from "../../api/client";
import { queries } from "../../api/queries";
import { digits, understood, inUnit, echoed, counted } from "../../ui/lengths";
import { useUnit } from "../../ui/unit";
import { plain } from "../../ui/words";
import { named, unitOf, wrongNumber, wrongText, type Path, type Schema } from "./schema";
import { shelf as say } from "../../texts/shelf";

export interface FieldProps {
  name: string;
  label: string;
  says: string;
  schema: Schema;
  /** Whether leaving it empty says something. */
  empty: boolean;
  value: unknown;
  path: Path;
  onChange: (value: unknown) => void;
}

/** What a form marks a field by, so that the first that is wrong is found. */
const marked = (path: Path) => ({ "data-field": named(path) });

export function TextOf({
  label,
  says,
  schema,
  value,
  empty,
  path,
  onChange,
  many,
}: FieldProps & { many: boolean }) {
  const text = typeof value === "string" ? value : "";
  const wrong = wrongText(text, schema);
  return (
    <TextField
      label={label}
      value={text}
      multiline={many}
      minRows={many ? 3 : undefined}
      error={wrong !== ""}
      helperText={wrong || says}
      onChange={(event) => onChange(event.target.value === "" && empty ? null : event.target.value)}
      slotProps={{ htmlInput: marked(path), formHelperText: { role: wrong ? "alert" : undefined } }}
    />
  );
}

/** A number with its unit; a length is typed and shown in the person's own. What is no number stays as typed. */
export function NumberField({ name, label, says, schema, value, empty, path, onChange }: FieldProps) {
  const own = unitOf(name, schema);
  const chosen = useUnit();
  const isLength = own === "mm" && schema.type === "number";
  const unit = isLength ? chosen : own;
  const write = (figure: unknown) =>
    typeof figure !== "number" || Number.isNaN(figure)
      ? ""
      : isLength
        ? digits(figure, chosen)
        : plain(figure);
  const [typed, setTyped] = useState<{ text: string; gave: unknown } | null>(null);
  const text = typed && Object.is(typed.gave, value) ? typed.text : write(value);
  const read = (from: string): number | null => {
    if (from.trim() === "") return empty ? null : NaN;
    if (!isLength) return counted(from) ?? NaN;
    const found = understood(from, chosen);
    return found.state === "length" ? found.mm : NaN;
  };
  const figure = read(text);
  const wrong =
    figure === null
      ? ""
      : text.trim() === ""
        ? say.writeANumberHere
        : isLength && wrongNumber(figure, schema, "mm")
          ? rangeIn(figure, schema, chosen)
          : wrongNumber(figure, schema, own) || wholeOnly(figure, schema);
  return (
    <TextField
      label={unit ? `${label}, ${unit}` : label}
      value={text}
      error={wrong !== ""}
      helperText={wrong || (typed && isLength && echoed(text, chosen)) || says}
      onChange={(event) => {
        const next = event.target.value;
        const gave = read(next);
        setTyped({ text: next, gave });
        onChange(gave);
      }}
      slotProps={{
        htmlInput: { inputMode: isLength ? "text" : "decimal", ...marked(path) },
        formHelperText: { role: wrong ? "alert" : undefined },
      }}
    />
  );
}

const wholeOnly = (figure: number, schema: Schema) =>
  schema.type === "integer" && !Number.isInteger(figure) ? say.giveAWholeNumber : "";

function rangeIn(figure: number, schema: Schema, unit: "mm" | "in"): string {
  if (Number.isNaN(figure)) return say.thatIsNoLength;
  return say.giveTo(
    inUnit(schema.minimum ?? schema.exclusiveMinimum ?? 0, unit),
    inUnit(schema.maximum ?? 0, unit),
  );
}

export function YesField(props: FieldProps) {
  const { label, says, value, empty, path, onChange } = props;
  if (empty) {
    const words = value === true ? "yes" : value === false ? "no" : null;
    return (
      <ChoiceField
        {...props}
        schema={{ enum: ["yes", "no"] }}
        value={words}
        onChange={(word) => onChange(word === null ? null : word === "yes")}
      />
    );
  }
  return (
    <Box>
      <FormControlLabel
        label={label}
        control={
          <Switch
            checked={value === true}
            onChange={(event) => onChange(event.target.checked)}
            slotProps={{ input: marked(path) }}
          />
        }
      />
      <FormHelperText sx={{ mt: 0, mx: 1.75 }}>{says}</FormHelperText>
    </Box>
  );
}

const spoken = (word: unknown) => {
  const text = String(word).replace(/-/g, " ");
  return text.charAt(0).toUpperCase() + text.slice(1);
};

export function ChoiceField({ label, says, schema, value, empty, path, onChange }: FieldProps) {
  return (
    <TextField
      select
      label={label}
      value={value === null || value === undefined ? "" : String(value)}
      helperText={says}
      onChange={(event) => onChange(event.target.value === "" ? null : event.target.value)}
      slotProps={{
        htmlInput: marked(path),
        inputLabel: empty ? { shrink: true } : {},
        select: { displayEmpty: empty },
      }}
    >
      {empty && <MenuItem value="">–</MenuItem>}
      {(schema.enum ?? []).map((word) => (
        <MenuItem key={String(word)} value={String(word)}>
          {spoken(word)}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Another thing of the Shelf, by its name. */
export function ThingField({
  label,
  says,
  value,
  empty,
  path,
  kind,
  onChange,
}: FieldProps & { kind: KindId }) {
  const listed = useQuery(queries.things(kind));
  const now = typeof value === "string" ? value : "";
  const things = (listed.data?.things ?? []).filter((one) => !one.retired || one.id === now);
  return (
    <TextField
      select
      label={label}
      value={things.some((one) => one.id === now) ? now : ""}
      helperText={says}
      onChange={(event) => onChange(event.target.value === "" ? null : event.target.value)}
      slotProps={{ htmlInput: marked(path), inputLabel: { shrink: true }, select: { displayEmpty: true } }}
    >
      <MenuItem value="" disabled={!empty}>
        {empty ? "–" : say.chooseOne}
      </MenuItem>
      {things.map((one) => (
        <MenuItem key={one.id} value={one.id}>
          {one.title}
          {one.retired && " (retired)"}
        </MenuItem>
      ))}
    </TextField>
  );
}

export function ColourField({ label, says, value, path, onChange }: FieldProps) {
  const now = typeof value === "string" ? value : "#000000";
  return (
    <Stack direction="row" spacing={1} sx={{ alignItems: "flex-start" }}>
      <input
        type="color"
        aria-label={say.chosen(label)}
        value={/^#[0-9a-f]{6}$/i.test(now) ? now : "#000000"}
        onChange={(event) => onChange(event.target.value)}
        style={{ width: 44, height: 40, padding: 2, border: "1px solid #CFCFCF", background: "none" }}
      />
      <TextField
        label={label}
        value={now}
        error={!/^#[0-9a-f]{6}$/i.test(now)}
        helperText={/^#[0-9a-f]{6}$/i.test(now) ? says : say.writeItAsRrggbb}
        onChange={(event) => onChange(event.target.value)}
        slotProps={{ htmlInput: marked(path) }}
        fullWidth
      />
    </Stack>
  );
}

/** Two figures that belong together, such as a place. */
export function PairField({ label, says, schema, value, name, path, onChange }: FieldProps) {
  const now = Array.isArray(value) ? (value as unknown[]) : [0, 0];
  return (
    <Box>
      <Stack direction="row" spacing={1}>
        {(schema.prefixItems ?? []).map((inner, i) => (
          <NumberField
            key={i}
            name={name}
            label={`${label} ${i === 0 ? "X" : "Y"}`}
            says=""
            schema={inner}
            empty={false}
            value={now[i]}
            path={[...path, i]}
            onChange={(next) => onChange(now.map((one, k) => (k === i ? next : one)))}
          />
        ))}
      </Stack>
      <FormHelperText sx={{ mx: 1.75 }}>{says}</FormHelperText>
    </Box>
  );
}
