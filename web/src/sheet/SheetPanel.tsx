/** The stage with the sheets and, beside it, what they come to and how they are laid out: of a job or of several. */
import { Alert, Button } from "@mui/material";
import { useMemo, useState, type ReactNode } from "react";
import { Stage } from "../stage/Stage";
import type { Box, View } from "../stage/geometry";
import { Docket } from "../ui/Docket";
import { mm } from "../ui/words";
import { HandBar } from "./HandBar";
import { HandLayer } from "./HandLayer";
import { CopiesCanvas } from "./CopiesCanvas";
import { areMany, type Copy, type Matrix } from "./hand";
import { LayoutForm } from "./LayoutForm";
import { MediaLook } from "./MediaLook";
import { Expected, MisplacementMap } from "./Misplacement";
import { NestPart } from "./NestPart";
import { Pager } from "./Pager";
import { RectangleLayer } from "./RectangleLayer";
import { costOf, SheetFigures, SheetNotes } from "./SheetFigures";
import { SheetView } from "./SheetView";
import type { ItemArt, Target } from "./target";
import { useByHand } from "./useByHand";
import { useForm } from "./useForm";
import type { Sheet } from "../api/client";

export const NO_SHEET: Box = [0, 0, 1000, 600];

interface Props {
  target: Target;
  label: string;
  material: string;
  /** The first of the docket, and what else belongs into the form. */
  head?: ReactNode;
  fields?: ReactNode;
  also?: Record<string, unknown>;
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
      key={key}
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
  also,
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
  return (
    <>
      <Stage
        bounds={sheet ? [0, 0, sheet.width_mm, sheet.length_mm] : NO_SHEET}
        label={label}
        tools={pager}
        canvas={canvas}
        onTop={(view: View) =>
          sheet && rectangle ? (
            <RectangleLayer
              box={rectangle}
              view={view}
              onBox={(box) => state.set({ marks: { ...state.form.marks, around: box } })}
            />
          ) : null
        }
      >
        {(view) =>
          sheet && (
            <>
              <SheetView sheet={sheet} arts={target.arts} copies={soFar?.copies} />
              <MediaLook sheet={sheet} view={view} />
              {mapped && sheet.misplacement && !soFar && <MisplacementMap of={sheet.misplacement} />}
            </>
          )
        }
      </Stage>
      <Docket title="Sheet">
        {head}
        {!target.known && waiting}
        {target.error && <Alert severity="error">{target.error}</Alert>}
        {soFar && (
          <Alert severity="info" role="status">
            Nested so far: {mm(soFar.length, 0)}
            {sheet && target.price !== null && `, ${costOf(sheet, soFar.length, target.price).toFixed(2)}`}.
            What you see can be kept: press Stop.
          </Alert>
        )}
        {sheet && (
          <>
            <SheetFigures target={target} sheet={sheet} />
            <Expected sheet={sheet} shown={mapped} onShow={onMapped} />
            <SheetNotes sheet={sheet} />
            <Button onClick={onByHand} disabled={target.busy || areMany(sheet)} variant="outlined">
              {areMany(sheet) ? "Too many copies to place by hand" : "Place copies by hand"}
            </Button>
          </>
        )}
        <NestPart target={target} />
        <LayoutForm target={target} sheet={sheet} state={state} material={material} also={also}>
          {fields}
        </LayoutForm>
        {foot}
      </Docket>
    </>
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
        : one.placements.map((matrix, n) => ({ matrix, item: one.item_of[n] ?? 0, sheet: i + 1 })),
    );
    const own = hand.copies.map((copy) => ({ matrix: [...copy.matrix], item: copy.item, sheet: number }));
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
        label={`${label}, copies by hand`}
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
      <Docket title="Copies by hand">
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
