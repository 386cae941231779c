/** How copies are to lie: media, rows and columns or placed one by one, what it goes through, marks, inks. */
import { limits } from "../ui/limits";
import { Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { Failure } from "../help/Failure";
import type { Layout, Sheet } from "../api/client";
import { Amount, Choice } from "../ui/fields";
import { LengthField } from "../ui/LengthField";
import { boxOf } from "./hand";
import { MarksPart, WayPart } from "./MarksPart";
import { MediaPart } from "./MediaPart";
import type { Target } from "./target";
import type { Fill, LayoutFormState, Makes } from "./useForm";

const MAKES: readonly (readonly [Makes, string])[] = [
  ["both", "printed and cut"],
  ["cut", "cut only, nothing is printed"],
  ["print", "printed only, nothing is cut"],
];
const FILLS: readonly (readonly [Fill, string])[] = [
  ["quantity", "as ordered"],
  ["length", "as many as fill that length"],
  ["sheet", "as many as fill what is loaded"],
];
const INKS = [
  ["usual", "as it is usual for this side"],
  ["white colour varnish", "white, colour, varnish"],
  ["colour white varnish", "colour, white, varnish"],
  ["white varnish colour", "white, varnish, colour"],
  ["varnish white colour", "varnish, white, colour"],
  ["varnish colour white", "varnish, colour, white"],
  ["colour varnish white", "colour, varnish, white"],
] as const;

/** Where a rectangle for marks begins: on the marks that there are, else round all that can be used. */
function rectangleOf(sheet: Sheet | undefined): number[] {
  if (!sheet) return [50, 150, 400, 500];
  if (!sheet.marks.length) return sheet.room;
  return boxOf(sheet.marks.map((mark): [number, number] => [mark.x_mm, mark.y_mm]));
}

interface Props {
  target: Target;
  sheet: Sheet | undefined;
  state: LayoutFormState;
  /** The material, where it can be changed here. */
  material: string;
  children?: ReactNode;
}

export function LayoutForm({ target, sheet, state, material, children }: Props) {
  const { form, set, placed, asks } = state;
  const { run, error } = target.change;
  return (
    <Stack component="section" spacing={1.5} aria-label="layout">
      {children}
      <MediaPart material={material} media={form.media} onMedia={(media) => set({ media })} />
      {placed ? (
        <Button onClick={() => run({ columns: null, gap_mm: null, turned: null })}>
          Back to rows and columns
        </Button>
      ) : (
        <Stack direction="row" spacing={1}>
          <TextField
            label="Columns"
            placeholder="as fit"
            value={form.columns}
            onChange={(e) => set({ columns: e.target.value.replace(/\D/g, "") })}
          />
          <LengthField label="Gap" shipped="2 × bleed" value={form.gap} onChange={(gap) => set({ gap })} />
          <TextField
            select
            label="Turned"
            value={form.turned}
            onChange={(e) => set({ turned: e.target.value })}
            sx={{ minWidth: 120 }}
          >
            <MenuItem value="auto">less waste</MenuItem>
            <MenuItem value="false">no</MenuItem>
            <MenuItem value="true">yes</MenuItem>
          </TextField>
        </Stack>
      )}
      <Typography
        component="div"
        variant="body2"
        role="group"
        aria-label="what it goes through"
        sx={{ lineHeight: 2.1 }}
      >
        It is <Choice label="makes" value={form.makes} options={MAKES} onChange={(makes) => set({ makes })} />
        .
        {form.makes === "cut" && (
          <>
            {" "}
            A weeding frame{" "}
            <Amount
              label="weeding frame"
              value={form.frame}
              shipped="none"
              {...limits.layout.frame_mm}
              onChange={(frame) => set({ frame })}
            />{" "}
            round everything.
          </>
        )}{" "}
        Copies{" "}
        <Choice
          label="how many copies"
          value={form.fill}
          options={FILLS}
          onChange={(fill) => set({ fill })}
        />
        ; a sheet is at most{" "}
        <Amount
          label="longest sheet"
          value={form.longest}
          shipped="any"
          {...limits.layout.length_mm}
          step={100}
          onChange={(longest) => set({ longest })}
        />{" "}
        long.
        {form.makes !== "cut" && (
          <>
            {" "}
            Inks are laid down{" "}
            <Choice<string>
              label="order of inks"
              value={form.inks ? form.inks.join(" ") : "usual"}
              options={INKS}
              onChange={(v) =>
                set({ inks: v === "usual" ? null : (v.split(" ") as NonNullable<Layout["inks"]>) })
              }
            />
            .
          </>
        )}{" "}
        {form.makes !== "both" && (
          <WayPart
            mirror={form.mirror}
            onMirror={(mirror) => set({ mirror })}
            words={form.makes === "cut" ? "Cut" : "Printed"}
          />
        )}
      </Typography>
      {form.makes === "both" && (
        <MarksPart
          marks={form.marks}
          onMarks={(marks) => set({ marks })}
          code={form.code}
          onCode={(code) => set({ code })}
          mirror={form.mirror}
          onMirror={(mirror) => set({ mirror })}
          room={rectangleOf(sheet)}
          inArt={target.rectangles}
        />
      )}
      {asks && (
        <Typography color="error" role="alert">
          Which length is to be filled? Say how long a sheet is at most.
        </Typography>
      )}
      <Failure of={error} />
    </Stack>
  );
}
