/** The carriage of the cutter, jogged by keys in steps of a chosen length; mm before the cutter. */
import { useCallback, useState } from "react";
import type { Bed, BedMark } from "../api/client";
import type { Point } from "../stage/geometry";

export const STEPS_MM = [0.02, 0.1, 0.5, 2, 10, 50] as const;

const WAYS: Record<string, Point> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};

export interface Jog {
  at: Point;
  step: number;
  go: (to: Point) => void;
  finer: () => void;
  coarser: () => void;
  keys: Record<string, () => void>;
}

export function useJog(start: Point): Jog {
  const [at, go] = useState<Point>(start);
  const [index, setIndex] = useState(3);
  const step = STEPS_MM[index] ?? 1;
  const finer = useCallback(() => setIndex((i) => Math.max(0, i - 1)), []);
  const coarser = useCallback(() => setIndex((i) => Math.min(STEPS_MM.length - 1, i + 1)), []);
  const keys: Record<string, () => void> = { "[": finer, "]": coarser };
  for (const [key, [x, y]] of Object.entries(WAYS))
    keys[key] = () => go((now) => [round(now[0] + x * step), round(now[1] + y * step)]);
  return { at, step, go, finer, coarser, keys };
}

const round = (mm: number) => Math.round(mm * 1000) / 1000;

/** The mark that is to be taken next: the first that nobody has taken. */
export const nextMark = (marks: BedMark[]): BedMark | undefined =>
  marks.find((mark) => !mark.place && mark.how !== "left out");

/** Where a mark should lie, by the nearest one that is known. */
export function expected(mark: BedMark, marks: BedMark[]): Point {
  const [x = 0, y = 0] = mark.meant;
  const known = marks.filter((one) => one.place);
  const far = (one: BedMark) => Math.hypot((one.meant[0] ?? 0) - x, (one.meant[1] ?? 0) - y);
  const [near] = [...known].sort((a, b) => far(a) - far(b));
  if (!near?.place) return [x, y];
  return [x + (near.place[0] ?? 0) - (near.meant[0] ?? 0), y + (near.place[1] ?? 0) - (near.meant[1] ?? 0)];
}

/** Where the carriage stands with its pointer on a place, as far as the calibration knows. */
export const carriageFor = ([x, y]: Point, bed: Bed): Point => [
  round(x - bed.pointer.x_mm),
  round(y - bed.pointer.y_mm),
];
