/** Fields of a form for lengths and counts: any unit and any sum, what was understood below, and in words what is wrong. */
import { TextField, type TextFieldProps } from "@mui/material";
import { useState } from "react";
import { useUnit } from "./unit";
import { counted, digits, echoed, inUnit, understood, type Named } from "./lengths";
import { plain } from "./words";
import { ui as say } from "../texts/ui";

type Shared = Pick<TextFieldProps, "autoFocus" | "sx" | "fullWidth" | "helperText"> & {
  label: string;
  /** What it is a figure of, for those who do not see where it stands. */
  of?: string;
  /** What stands there in grey where nothing is said. */
  shipped?: string;
};

type LengthProps = Shared & {
  /** In mm; undefined and null for nothing said. */
  value: number | null | undefined;
  /** Hears mm, null for nothing, and not a number for what is no length. */
  onChange: (mm: number | null) => void;
  /** What a figure without a unit is in; otherwise what the person has chosen. */
  unit?: Named;
  shippedMm?: number;
  least?: number;
  most?: number;
};

/** A length. The form keeps mm. */
export function LengthField({ label, of, value, onChange, unit, shippedMm, shipped, ...rest }: LengthProps) {
  const chosen = useUnit();
  const shown = unit ?? chosen;
  const { least = -Infinity, most = Infinity, helperText, ...field } = rest;
  const write = (mm: number | null | undefined) => (mm === null || mm === undefined ? "" : digits(mm, shown));
  const [text, setText, tells] = useText(value, write, shown);
  const wrong = wrongLength(text, shown, least, most);
  const grey = shippedMm === undefined ? shipped : digits(shippedMm, shown);
  return (
    <TextField
      {...field}
      label={`${label}, ${shown}`}
      value={text}
      placeholder={grey}
      error={wrong !== ""}
      helperText={wrong || echoed(text, shown) || helperText}
      onChange={(event) => {
        const next = event.target.value;
        const read = understood(next, shown);
        const bad = wrongLength(next, shown, least, most) !== "";
        const mm = bad ? NaN : read.state === "length" ? read.mm : null;
        setText(next);
        tells(mm);
        onChange(mm);
      }}
      slotProps={{
        formHelperText: { role: wrong ? "alert" : undefined },
        htmlInput: { inputMode: "text", ...named(`${label}, ${shown}`, of) },
        inputLabel: grey ? { shrink: true } : {},
      }}
    />
  );
}

type Value = number | null | undefined;

/** The text of a field: as it is typed, and written anew where the form has another value than the field has told. */
function useText(value: Value, write: (value: Value) => string, unit: string) {
  const [text, setText] = useState(write(value));
  const [last, setLast] = useState({ value, told: value, unit });
  if (last.unit !== unit || !Object.is(last.value, value)) {
    setLast({ value, told: value, unit });
    if (last.unit !== unit || !Object.is(last.told, value)) setText(write(value));
  }
  return [text, setText, (told: Value) => setLast({ ...last, told })] as const;
}

/** Why a text is no length for a field, in words; nothing where it is one. */
export function wrongLength(text: string, unit: Named, least: number, most: number): string {
  const read = understood(text, unit);
  if (read.state === "wrong") return read.why;
  if (read.state === "empty") return "";
  if (read.mm < least) return say.atLeast2(inUnit(least, unit));
  return read.mm > most ? say.atMost2(inUnit(most, unit)) : "";
}

type CountProps = Shared & {
  value: number | null | undefined;
  onChange: (count: number | null) => void;
  whole?: boolean;
};

/** A number that is no length. The form hears not a number for what is none. */
export function CountField({ label, of, value, onChange, shipped, whole = false, ...field }: CountProps) {
  const write = (count: number | null | undefined) =>
    count === null || count === undefined ? "" : plain(count);
  const [text, setText, tells] = useText(value, write, "");
  const read = (from: string) => {
    const count = counted(from);
    return whole && count !== null && !Number.isInteger(count) ? NaN : count;
  };
  const wrong = Number.isNaN(read(text));
  return (
    <TextField
      {...field}
      label={label}
      value={text}
      placeholder={shipped}
      error={wrong}
      helperText={wrong ? say.isNoNumber2(text, whole) : field.helperText}
      onChange={(event) => {
        const count = read(event.target.value);
        setText(event.target.value);
        tells(count);
        onChange(count);
      }}
      slotProps={{
        formHelperText: { role: wrong ? "alert" : undefined },
        htmlInput: { inputMode: "decimal", ...named(label, of) },
        inputLabel: shipped ? { shrink: true } : {},
      }}
    />
  );
}

const named = (label: string, of?: string) => (of ? { "aria-label": say.forIt(label, of) } : {});
