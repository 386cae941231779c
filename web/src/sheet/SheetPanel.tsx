/** The stage with the sheets and, beside it, what they come to and how they are laid out: of a job or of several. */
import { Alert, Button, Stack, Typography } from "@mui/material";
import { useMemo, useState, type ReactNode } from "react";
import { Stage } from "../stage/Stage";
import { grow, type Box, type Point, type View } from "../stage/geometry";
import { Why } from "../help/Help";
import { Docket } from "../ui/Docket";
import { mm } from "../ui/words";
import { HandBar } from "./HandBar";
import { HandLayer } from "./HandLayer";
import { CopiesCanvas } from "./CopiesCanvas";
import { areMany, boxOf, copiesOf, outlineOf, union, type Copy, type Matrix } from "./hand";
import { LayoutForm } from "./LayoutForm";
import { MediaLook } from "./MediaLook";
import { Expected, MisplacementMap } from "./Misplacement";
import { NestPart } from "./NestPart";
import { Pager } from "./Pager";
import { RectangleLayer } from "./RectangleLayer";
import { costOf, SheetFigures, SheetNotes } from "./SheetFigures";
import { SheetView } from "./SheetView";
import type { ItemArt, LayoutChange, Target } from "./target";
import { useByHand } from "./useByHand";
import { useForm } from "./useForm";
import type { Sheet } from "../api/client";
import { common } from "../texts/common";
import { sheet as say } from "../texts/sheet";

export const NO_SHEET: Box = [0, 0, 1000, 600];
/** What is shown beside the copies, and from which share of the sheet on all of it is. */
const BESIDE_MM = 12;
const BESIDE_SHARE = 0.05;
const MOST_OF_IT = 0.6;

interface Props {
  target: Target;
  label: string;
  material: string;
  /** The first of the docket, and what else belongs into the form. */
  head?: ReactNode;
  fields?: ReactNode;
  foot?: ReactNode;
  waiting: ReactNode;
}

export function SheetPanel(props: Props) {
  const { target } = props;
  const [number, setNumber] = useState(1);
  const [byHand, setByHand] = useState(false);
  const [mapped, setMapped] = useState(false);
  const shown = Math.min(number, Math.max(target.sheets.length, 1));
  const sheet = target.sheets[shown - 1];
  const pager = <Pager count={target.sheets.length} shown={shown} onShow={setNumber} />;
  const key = JSON.stringify(target.layout);
  if (sheet && byHand)
    return (
      <HandPanel
        key={`${shown} ${sheet.placed_of} ${key}`}
        {...props}
        sheet={sheet}
        number={shown}
        onDone={() => setByHand(false)}
      />
    );
  return (
    <FormPanel
      {...props}
      sheet={sheet}
      pager={pager}
      onByHand={() => setByHand(true)}
      mapped={mapped}
      onMapped={setMapped}
    />
  );
}

/** Copies that are too many to be drawn one by one. */
export const manyCopies = (sheet: Sheet | undefined, arts: ItemArt[], printed = false) =>
  sheet && areMany(sheet)
    ? (view: View, size: [number, number], over: [number, number]) => (
        <CopiesCanvas sheet={sheet} arts={arts} view={view} size={size} over={over} printed={printed} />
      )
    : undefined;

/** The copies that nesting has found so far, as the worker tells them. */
function nestedSoFar(target: Target): { copies: Copy[]; length: number } | null {
  const found = target.nesting?.result as
    { placed?: { matrix: number[]; item: number }[]; length_mm?: number } | null | undefined;
  if (!found?.placed) return null;
  return {
    copies: found.placed.map((copy) => ({ item: copy.item, matrix: copy.matrix as Matrix })),
    length: found.length_mm ?? 0,
  };
}

interface FormProps extends Props {
  sheet: Sheet | undefined;
  pager: ReactNode;
  onByHand: () => void;
  mapped: boolean;
  onMapped: (mapped: boolean) => void;
}

function FormPanel({
  target,
  label,
  material,
  head,
  fields,
  foot,
  waiting,
  sheet,
  pager,
  onByHand,
  mapped,
  onMapped,
}: FormProps) {
  const state = useForm(target);
  const soFar = nestedSoFar(target);
  const { arts } = target;
  const canvas = useMemo(() => manyCopies(sheet, arts), [sheet, arts]);
  const { around } = state.form.marks;
  const rectangle = Array.isArray(around) && state.form.makes === "both" ? (around as Box) : null;
  const media = sheet ?? target.bare;
  const opens = useMemo(() => whereCopiesLie(sheet), [sheet]);
  // a rectangle that lies beyond the media can be taken hold of all the same
  const bounds: Box = useMemo(
    () =>
      media ? union([[0, 0, media.width_mm, media.length_mm], ...(rectangle ? [rectangle] : [])]) : NO_SHEET,
    [media, rectangle],
  );
  return (
    <>
      <Stage
        bounds={bounds}
        opens={opens}
        label={label}
        tools={pager}
        canvas={canvas}
        onTop={(view: View) =>
          media && rectangle ? (
            <RectangleLayer
              box={rectangle}
              view={view}
              onBox={(box) => state.set({ marks: { ...state.form.marks, around: box } })}
            />
          ) : null
        }
      >
        {(view) =>
          media && (
            <>
              <SheetView sheet={media} arts={target.arts} copies={soFar?.copies} />
              <MediaLook sheet={media} view={view} />
              {mapped && media.misplacement && !soFar && <MisplacementMap of={media.misplacement} />}
            </>
          )
        }
      </Stage>
      <Docket
        title={say.sheet}
        beside={
          <>
            {(state.waits || target.busy) && (
              <Typography variant="body2" color="text.secondary" role="status">
                {say.layingOut}
              </Typography>
            )}
            <Button disabled={!state.undo} onClick={() => state.undo?.()} sx={{ py: 0 }}>
              {common.undo}
            </Button>
          </>
        }
      >
        {head}
        {!target.known && waiting}
        {target.error && <Refused target={target} />}
        {soFar && (
          <Alert severity="info" role="status">
            {say.nestedSoFar(mm(soFar.length, 0))}
            {sheet && target.price !== null && `, ${costOf(sheet, soFar.length, target.price).toFixed(2)}`}
            {say.whatYouSeeCanBe}
          </Alert>
        )}
        <LayoutForm target={target} sheet={media ?? undefined} state={state} material={material}>
          {fields}
        </LayoutForm>
        {sheet && <SheetNotes sheet={sheet} />}
        {sheet && (
          <Button onClick={onByHand} disabled={target.busy || areMany(sheet)} variant="outlined">
            {areMany(sheet) ? say.tooManyCopiesToPlace : say.placeCopiesByHand}
          </Button>
        )}
        <NestPart target={target} />
        {sheet && (
          <>
            <Expected sheet={sheet} shown={mapped} onShow={onMapped} />
            <SheetFigures target={target} sheet={sheet} />
          </>
        )}
        {foot}
      </Docket>
    </>
  );
}

/** Where the copies and their marks lie, where that is not most of the sheet: the view opens on it. */
function whereCopiesLie(sheet: Sheet | undefined): Box | undefined {
  if (!sheet?.placements.length) return undefined;
  const marks = sheet.marks.map((mark): Point => [mark.x_mm, mark.y_mm]);
  const outlines = sheet.items.map((item) => item.outline as Point[]);
  const copies = marks.length ? [] : copiesOf(sheet).flatMap((copy) => outlineOf(copy, outlines));
  const box = boxOf([...marks, ...copies]);
  const shown = grow(box, BESIDE_MM + BESIDE_SHARE * Math.max(box[2] - box[0], box[3] - box[1]));
  const share = ((shown[2] - shown[0]) * (shown[3] - shown[1])) / (sheet.width_mm * sheet.length_mm);
  return share > MOST_OF_IT ? undefined : shown;
}

/** Why nothing can be laid out, and what would fit, each in one press. */
function Refused({ target }: { target: Target }) {
  return (
    <Alert severity="error">
      {target.error} <Why of="does-not-fit" />
      <Stack
        direction="row"
        useFlexGap
        spacing={0.5}
        sx={{ flexWrap: "wrap", mt: target.fits.length ? 1 : 0 }}
      >
        {target.fits.map((fit, i) => (
          <Button
            key={fit.words}
            variant={i ? "outlined" : "contained"}
            disabled={target.change.isPending}
            onClick={() => target.change.run(fit.change as LayoutChange)}
          >
            {fit.words}
          </Button>
        ))}
      </Stack>
    </Alert>
  );
}

interface HandProps extends Props {
  sheet: Sheet;
  number: number;
  onDone: () => void;
}

/** Copies moved by hand; all else of the layout waits. */
function HandPanel({ target, label, sheet, number, onDone }: HandProps) {
  const hand = useByHand(sheet);
  const keep = () => {
    const rest = target.sheets.flatMap((one, i) =>
      i + 1 === number
        ? []
        : one.placements.map((matrix, n) => ({
            matrix: matrix as Matrix,
            item: one.item_of[n] ?? 0,
            sheet: i + 1,
          })),
    );
    const own = hand.copies.map((copy) => ({ matrix: copy.matrix, item: copy.item, sheet: number }));
    // where it is refused, what was moved stays as it is here
    target.change.run({ placed: [...rest, ...own], placed_of: sheet.placed_of }, onDone);
  };
  const step = (dx: number, dy: number) => ({
    [dx ? (dx > 0 ? "ArrowRight" : "ArrowLeft") : dy > 0 ? "ArrowUp" : "ArrowDown"]: () => hand.nudge(dx, dy),
    [`Shift+${dx ? (dx > 0 ? "ArrowRight" : "ArrowLeft") : dy > 0 ? "ArrowUp" : "ArrowDown"}`]: () =>
      hand.nudge(10 * dx, 10 * dy),
  });
  const keys = hand.chosen.size
    ? {
        ...step(1, 0),
        ...step(-1, 0),
        ...step(0, 1),
        ...step(0, -1),
        r: () => hand.turn(90),
        "Shift+R": () => hand.turn(-90),
        Escape: () => hand.choose([]),
      }
    : {};
  return (
    <>
      <Stage
        bounds={[0, 0, sheet.width_mm, sheet.length_mm]}
        label={say.copiesByHand2(label)}
        moreKeys={{ ...keys, a: () => hand.choose(hand.copies.keys()) }}
        onPick={() => hand.choose([])}
        onTop={(view: View) => <HandLayer sheet={sheet} hand={hand} view={view} />}
      >
        {(view) => (
          <>
            <SheetView sheet={sheet} arts={target.arts} copies={hand.copies} />
            <MediaLook sheet={sheet} view={view} />
          </>
        )}
      </Stage>
      <Docket title={say.copiesByHand3}>
        <HandBar
          hand={hand}
          pending={target.change.isPending}
          error={target.change.error}
          onKeep={keep}
          onLetGo={onDone}
        />
        <SheetFigures target={target} sheet={sheet} />
      </Docket>
    </>
  );
}
