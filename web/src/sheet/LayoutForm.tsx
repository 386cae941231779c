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
import { common } from "../texts/common";
import { sheet as say } from "../texts/sheet";

const MAKES: readonly (readonly [Makes, string])[] = [
  ["both", say.printedAndCut],
  ["cut", say.cutOnlyNothingIsPrinted],
  ["print", say.printedOnlyNothingIsCut],
];
const FILLS: readonly (readonly [Fill, string])[] = [
  ["quantity", say.asOrdered],
  ["length", say.asManyAsFillThat],
  ["sheet", say.asManyAsFillWhat],
];
const INKS = [
  ["usual", say.asItIsUsualFor],
  ["white colour varnish", say.whiteColourVarnish],
  ["colour white varnish", say.colourWhiteVarnish],
  ["white varnish colour", say.whiteVarnishColour],
  ["varnish white colour", say.varnishWhiteColour],
  ["varnish colour white", say.varnishColourWhite],
  ["colour varnish white", say.colourVarnishWhite],
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
    <Stack component="section" spacing={1.5} aria-label={say.layoutLabel}>
      {children}
      <MediaPart material={material} media={form.media} onMedia={(media) => set({ media })} />
      {placed ? (
        <Button onClick={() => run({ columns: null, gap_mm: null, turned: null })}>
          {say.backToRowsAndColumns}
        </Button>
      ) : (
        <Stack direction="row" spacing={1}>
          <TextField
            label={say.columns}
            placeholder={say.asFit}
            value={form.columns}
            onChange={(e) => set({ columns: e.target.value.replace(/\D/g, "") })}
          />
          <LengthField
            label={say.gap}
            shipped={say.n2Bleed}
            value={form.gap}
            onChange={(gap) => set({ gap })}
          />
          <TextField
            select
            label={common.turned}
            value={form.turned}
            onChange={(e) => set({ turned: e.target.value })}
            sx={{ minWidth: 120 }}
          >
            <MenuItem value="auto">{say.lessWaste}</MenuItem>
            <MenuItem value="false">{say.no}</MenuItem>
            <MenuItem value="true">{say.yes}</MenuItem>
          </TextField>
        </Stack>
      )}
      <Typography
        component="div"
        variant="body2"
        role="group"
        aria-label={say.whatItGoesThrough}
        sx={{ lineHeight: 2.1 }}
      >
        {say.itIs}
        <Choice label={say.makes} value={form.makes} options={MAKES} onChange={(makes) => set({ makes })} />.
        {form.makes === "cut" && (
          <>
            {say.aWeedingFrame}
            <Amount
              label={say.weedingFrame}
              value={form.frame}
              shipped={say.none}
              {...limits.layout.frame_mm}
              onChange={(frame) => set({ frame })}
            />
            {say.roundEverything}
          </>
        )}
        {say.copies2}
        <Choice
          label={say.howManyCopies}
          value={form.fill}
          options={FILLS}
          onChange={(fill) => set({ fill })}
        />
        {say.aSheetIsAtMost}
        <Amount
          label={say.longestSheet}
          value={form.longest}
          shipped={say.any}
          {...limits.layout.length_mm}
          step={100}
          onChange={(longest) => set({ longest })}
        />
        {say.long}
        {form.makes !== "cut" && (
          <>
            {say.inksAreLaidDown}
            <Choice<string>
              label={say.orderOfInks}
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
            words={form.makes === "cut" ? common.cut : say.printed}
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
          {say.whichLengthIsToBe}
        </Typography>
      )}
      <Failure of={error} />
    </Stack>
  );
}
