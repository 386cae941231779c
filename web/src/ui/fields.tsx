/** The words of a sentence that says what is wanted: each a small control within a line of text. */
import { MenuItem, Paper, Popper, TextField } from "@mui/material";
import { useId, useRef, useState } from "react";
import { useUnit } from "./unit";
import { counted, digits, echoed, inUnit, understood } from "./lengths";
import { plain } from "./words";
import { ui as say } from "../texts/ui";

interface NumberProps {
  label: string;
  /** In the unit; a length is in mm, and is shown and typed in the unit that the person has chosen. */
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
/** Steps of the arrow keys in inches, of which the nearest to a step in mm is taken. */
const INCHES = [0.005, 0.01, 0.02, 0.05, 0.1, 0.25, 0.5, 1];

/** A step in mm as a round one in inches, in mm. */
const inchStep = (mm: number) =>
  25.4 * INCHES.reduce((one, next) => (Math.abs(next * 25.4 - mm) < Math.abs(one * 25.4 - mm) ? next : one));

/** How a field reads and writes: as a length in the chosen unit, or as a plain number. */
function useReading(unit: string) {
  const chosen = useUnit();
  if (unit !== "mm")
    return {
      unit,
      write: plain,
      read: (text: string) => {
        const figure = counted(text);
        const wrong = Number.isNaN(figure) ? say.isNoNumber(text) : "";
        return { figure: wrong ? null : figure, wrong };
      },
      with: (value: number) => (unit ? `${plain(value)} ${unit}` : plain(value)),
      echo: () => "",
      step: (by: number) => by,
    };
  return {
    unit: chosen as string,
    write: (mm: number) => digits(mm, chosen),
    read: (text: string) => {
      const found = understood(text, chosen);
      return {
        figure: found.state === "length" ? found.mm : null,
        wrong: found.state === "wrong" ? found.why : "",
      };
    },
    with: (mm: number) => inUnit(mm, chosen),
    echo: (text: string) => echoed(text, chosen),
    step: (by: number) => (chosen === "in" ? inchStep(by) : by),
  };
}

/**
 * A figure in a sentence. Enter or leaving it takes it; the arrow keys go up and down by a step. What is wrong stays
 * as it was typed, and is said below in words; Escape brings back what was there.
 */
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
  const [refused, setRefused] = useState("");
  const field = useRef<HTMLDivElement>(null);
  const id = useId();
  const reading = useReading(unit);
  const shown = text ?? (value === undefined ? "" : reading.write(value));
  const set = (next: string | null) => {
    setText(next);
    setRefused("");
  };
  const take = () => {
    if (text === null) return;
    const { figure, wrong } = reading.read(text);
    if (wrong) setRefused(wrong);
    else if (figure === null) {
      set(null);
      if (shipped !== undefined && value !== undefined) onChange?.(undefined);
    } else if (figure < least - 1e-6) setRefused(say.atLeast(reading.with(least)));
    else if (figure > most + 1e-6) setRefused(say.atMost(reading.with(most)));
    else {
      set(null);
      const rounded = Number(figure.toFixed(4));
      if (onTyped) onTyped(rounded, /^\s*[-+−]/.test(text));
      else if (rounded !== value) onChange?.(rounded);
    }
  };
  const go = (by: number) => {
    set(null);
    const next = Math.min(most, Math.max(least, Number(((value ?? 0) + reading.step(by)).toFixed(4))));
    if (onTyped) onTyped(next, next < 0);
    else onChange?.(next);
  };
  const below = refused || (text === null ? "" : reading.echo(text));
  return (
    <>
      <TextField
        ref={field}
        variant="standard"
        value={shown}
        placeholder={shipped}
        error={refused !== ""}
        onChange={(e) => set(e.target.value)}
        onBlur={take}
        onKeyDown={(e) => {
          const by = { ArrowUp: step, ArrowDown: -step }[e.key];
          if (by !== undefined) {
            e.preventDefault();
            go(e.shiftKey ? by * 10 : by);
          } else if (e.key === "Enter") {
            e.preventDefault(); // the figure is taken; a form around it is sent by its button alone
            take();
          } else if (e.key === "Escape") set(null);
        }}
        slotProps={{
          htmlInput: {
            "aria-label": reading.unit ? `${label}, ${reading.unit}` : label,
            "aria-describedby": below ? id : undefined,
            inputMode: unit === "mm" ? "text" : "decimal",
            style: { textAlign: "right", padding: "1px 2px", fontSize: 14, fontWeight: 600 },
          },
          input: {
            endAdornment: reading.unit ? (
              <span style={{ paddingLeft: 3, fontSize: 14 }}>{reading.unit}</span>
            ) : undefined,
          },
        }}
        sx={{
          width: Math.max(reading.unit.length > 2 ? 76 : 62, WIDE + DIGIT * shown.length),
          verticalAlign: "baseline",
        }}
      />
      <Popper
        open={below !== ""}
        anchorEl={() => field.current ?? document.body}
        placement="bottom-end"
        sx={{ zIndex: 1400 }}
      >
        <Paper
          id={id}
          role={refused ? "alert" : "status"}
          elevation={3}
          sx={{
            px: 1,
            py: 0.5,
            maxWidth: 260,
            fontSize: 13,
            color: refused ? "error.main" : "text.secondary",
          }}
        >
          {below}
        </Paper>
      </Popper>
    </>
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
