/** Copies while they are moved by hand: a draft of where they lie, which are chosen, and the steps back. */
import { useMemo, useState } from "react";
import type { Sheet } from "../api/client";
import type { Box, Point } from "../stage/geometry";
import {
  alignment,
  boxOf,
  clashing,
  copiesOf,
  equalGaps,
  intoRoom,
  movedBy,
  outlineOf,
  turnedAbout,
  union,
  type Copy,
  type Side,
} from "./hand";

const MOST_STEPS = 100;

export interface ByHand {
  copies: Copy[];
  chosen: Set<number>;
  clashes: Set<number>;
  touched: boolean;
  outlines: Point[][];
  choose: (copies: Iterable<number>, more?: boolean) => void;
  /** What the copies were when they were taken; a drag goes on from there. */
  begin: () => void;
  drag: (dx: number, dy: number) => void;
  nudge: (dx: number, dy: number) => void;
  turn: (degrees: number) => void;
  align: (side: Side) => void;
  spread: (across: boolean) => void;
  /** The box round what is chosen, and where cuts may lie, in mm on the sheet. */
  box: Box | null;
  room: Box;
  /** Moves what is chosen so that the lower left of its box comes there. */
  place: (x: number, y: number) => void;
  back: () => void;
  canGoBack: boolean;
}

export function useByHand(sheet: Sheet): ByHand {
  const first = useMemo(() => copiesOf(sheet), [sheet]);
  const [copies, setCopies] = useState(first);
  const [steps, setSteps] = useState<Copy[][]>([]);
  const [chosen, setChosen] = useState(new Set<number>());
  const [moved, setMoved] = useState(new Set<number>());
  const outlines = useMemo(() => sheet.items.map((item) => item.outline as Point[]), [sheet]);
  const room = sheet.room as Box;
  const boxOfCopy = (copy: Copy) => boxOf(outlineOf(copy, outlines));
  const boxes = (of: Iterable<number>) => [...of].flatMap((i) => (copies[i] ? [boxOfCopy(copies[i])] : []));
  const clashes = useMemo(
    () => clashing(copies, outlines, moved, sheet.gap_mm),
    [copies, outlines, moved, sheet.gap_mm],
  );

  const keep = (before: Copy[]) => setSteps([...steps, before].slice(-MOST_STEPS));
  /** Chosen copies changed one by one, then all pushed back into the room together. */
  const change = (from: Copy[], by: (copy: Copy, index: number) => Copy) => {
    const next = new Map<number, Copy>();
    [...chosen].forEach((i, n) => from[i] && next.set(i, by(from[i], n)));
    if (!next.size) return;
    const [dx, dy] = intoRoom(union([...next.values()].map(boxOfCopy)), room, sheet.endless);
    setCopies(
      from.map((copy, i) => {
        const own = next.get(i);
        return own ? movedBy(own, dx, dy) : copy;
      }),
    );
    setMoved(new Set([...moved, ...next.keys()]));
  };
  const done = (by: (copy: Copy, index: number) => Copy) => {
    keep(copies);
    change(copies, by);
  };

  return {
    copies,
    chosen,
    clashes,
    outlines,
    touched: copies !== first,
    choose: (of, more) => setChosen(more ? toggled(chosen, of) : new Set(of)),
    begin: () => keep(copies),
    drag: (dx, dy) => change(steps.at(-1) ?? copies, (copy) => movedBy(copy, dx, dy)),
    nudge: (dx, dy) => done((copy) => movedBy(copy, dx, dy)),
    turn: (degrees) => {
      const [x0, y0, x1, y1] = union(boxes(chosen));
      done((copy) => turnedAbout(copy, [(x0 + x1) / 2, (y0 + y1) / 2], degrees));
    },
    align: (side) => {
      const by = alignment(boxes(chosen), side);
      done((copy, n) => movedBy(copy, ...(by[n] ?? [0, 0])));
    },
    spread: (across) => {
      const by = equalGaps(boxes(chosen), across);
      done((copy, n) => movedBy(copy, ...(by[n] ?? [0, 0])));
    },
    box: chosen.size ? union(boxes(chosen)) : null,
    room,
    place: (x, y) => {
      const [x0, y0] = union(boxes(chosen));
      done((copy) => movedBy(copy, x - x0, y - y0));
    },
    back: () => {
      const last = steps.at(-1);
      if (!last) return;
      setCopies(last);
      setSteps(steps.slice(0, -1));
    },
    canGoBack: steps.length > 0,
  };
}

function toggled(chosen: Set<number>, of: Iterable<number>): Set<number> {
  const out = new Set(chosen);
  for (const i of of)
    if (out.has(i)) out.delete(i);
    else out.add(i);
  return out;
}
