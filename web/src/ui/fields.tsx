/** The words of a sentence that says what is wanted: each a small control within a line of text. */
import { MenuItem, TextField } from "@mui/material";
import { useState } from "react";
import { plain, typed } from "./words";

interface NumberProps {
  label: string;
  value: number | undefined;
  unit?: string;
  least?: number;
  most?: number;
  step?: number;
  /** What stands there where nothing is said. */
  shipped?: string;
  onChange?: (value: number | undefined) => void;
  /** Instead of `onChange`: hears each figure that is taken, and whether a sign stands before it. */
  onTyped?: (value: number, signed: boolean) => void;
}

/** How wide a field is beside its digits, which are all shown, and each of them, in pixels. */
const [WIDE, DIGIT] = [36, 9];

/** A figure in a sentence. Enter or leaving it takes it; the arrow keys go up and down by a step. */
export function Amount({
  label,
  value,
  unit = "mm",
  least = -1000,
  most = 1000,
  step = 0.5,
  shipped,
  onChange,
  onTyped,
}: NumberProps) {
  const [text, setText] = useState<string | null>(null);
  const shown = text ?? (value === undefined ? "" : plain(value));
  const bound = (v: number) => Math.min(most, Math.max(least, Number(v.toFixed(3))));
  const take = () => {
    if (text === null) return;
    const next = typed(text);
    setText(null);
    if (next === null) {
      if (shipped !== undefined && value !== undefined) onChange?.(undefined);
    } else if (Number.isFinite(next)) {
      if (onTyped) onTyped(bound(next), /^\s*[-+−]/.test(text));
      else if (bound(next) !== value) onChange?.(bound(next));
    }
  };
  return (
    <TextField
      variant="standard"
      value={shown}
      placeholder={shipped}
      onChange={(e) => setText(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        const by = { ArrowUp: step, ArrowDown: -step }[e.key];
        if (by !== undefined) {
          e.preventDefault();
          setText(null);
          const next = bound((value ?? 0) + (e.shiftKey ? by * 10 : by));
          if (onTyped) onTyped(next, next < 0);
          else onChange?.(next);
        } else if (e.key === "Enter") {
          e.preventDefault(); // the figure is taken; a form around it is sent by its button alone
          take();
        } else if (e.key === "Escape") setText(null);
      }}
      slotProps={{
        htmlInput: {
          "aria-label": unit ? `${label}, ${unit}` : label,
          inputMode: "decimal",
          style: { textAlign: "right", padding: "1px 2px", fontSize: 14, fontWeight: 600 },
        },
        input: {
          endAdornment: unit ? <span style={{ paddingLeft: 3, fontSize: 14 }}>{unit}</span> : undefined,
        },
      }}
      sx={{
        width: Math.max(unit.length > 2 ? 76 : 62, WIDE + DIGIT * shown.length),
        verticalAlign: "baseline",
      }}
    />
  );
}

interface ChoiceProps<T extends string> {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}

/** One of several words in a sentence. */
export function Choice<T extends string>({ label, value, options, onChange }: ChoiceProps<T>) {
  return (
    <TextField
      select
      variant="standard"
      value={value}
      onChange={(e) => onChange(e.target.value as T)}
      slotProps={{
        htmlInput: { "aria-label": label },
        select: { sx: { fontSize: 14, fontWeight: 600, py: "1px" } },
      }}
      sx={{ verticalAlign: "baseline" }}
    >
      {options.map(([id, words]) => (
        <MenuItem key={id} value={id}>
          {words}
        </MenuItem>
      ))}
    </TextField>
  );
}
