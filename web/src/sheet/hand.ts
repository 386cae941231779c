/** Copies moved by hand: where they lie, what they snap to, how they are lined up, which lie too near. */
import type { Sheet } from "../api/client";
import type { Box, Point } from "../stage/geometry";

/** Outlines are straight pieces a little too large: so much less than the gap is none; the server measures exactly. */
const MEASURED_MM = 0.15;

export type Matrix = [number, number, number, number, number, number];

/** A copy on a sheet: of which item, by which matrix. */
export interface Copy {
  item: number;
  matrix: Matrix;
}

export const copiesOf = (sheet: Sheet): Copy[] =>
  sheet.placements.map((m, i) => ({ item: sheet.item_of[i] ?? 0, matrix: m as Matrix }));

export const at = ([a, b, c, d, e, f]: Matrix, [x, y]: Point): Point => [
  a * x + c * y + e,
  b * x + d * y + f,
];

export const movedBy = (copy: Copy, dx: number, dy: number): Copy => {
  const [a, b, c, d, e, f] = copy.matrix;
  return { ...copy, matrix: [a, b, c, d, e + dx, f + dy] };
};

const QUARTERS: Point[] = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1],
];

/** Cosine and sine; exact for quarters. */
function turnOf(degrees: number): Point {
  const quarter = Math.round(degrees / 90);
  const exact = Math.abs(degrees - 90 * quarter) < 1e-9 ? QUARTERS[((quarter % 4) + 4) % 4] : undefined;
  return exact ?? [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
}

/** A copy turned about a place, counter-clockwise. */
export function turnedAbout(copy: Copy, [px, py]: Point, degrees: number): Copy {
  const [cos, sin] = turnOf(degrees);
  const [a, b, c, d, e, f] = copy.matrix;
  const turn = (x: number, y: number): Point => [cos * x - sin * y + 0, sin * x + cos * y + 0];
  const [[na, nb], [nc, nd], [ne, nf]] = [turn(a, b), turn(c, d), turn(e - px, f - py)];
  return { ...copy, matrix: [na, nb, nc, nd, ne + px, nf + py] };
}

/** The outline of a copy on the sheet. */
export const outlineOf = (copy: Copy, outlines: Point[][]): Point[] =>
  (outlines[copy.item] ?? []).map((point) => at(copy.matrix, point));

export function boxOf(points: Point[]): Box {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of points) {
    x0 = Math.min(x0, x);
    y0 = Math.min(y0, y);
    x1 = Math.max(x1, x);
    y1 = Math.max(y1, y);
  }
  return [x0, y0, x1, y1];
}

/** The bounds of a box under a matrix. */
export const movedBox = (matrix: Matrix, [x0, y0, x1, y1]: Box): Box =>
  boxOf(
    (
      [
        [x0, y0],
        [x1, y0],
        [x1, y1],
        [x0, y1],
      ] as Point[]
    ).map((point) => at(matrix, point)),
  );

/** So many copies are drawn one by one; more are laid down as pictures. */
const MOST_DRAWN = 500;
export const areMany = (sheet: Sheet) => sheet.placements.length > MOST_DRAWN;

export const union = (boxes: Box[]): Box =>
  boxOf(
    boxes.flatMap(([a, b, c, d]): Point[] => [
      [a, b],
      [c, d],
    ]),
  );

/** How far a box has to move to lie in the room; on a roll that has no end upwards. */
export function intoRoom([x0, y0, x1, y1]: Box, [rx0, ry0, rx1, ry1]: Box, endless: boolean): Point {
  const push = (low: number, high: number, least: number, most: number) =>
    low < least ? least - low : high > most ? Math.max(most - high, least - low) : 0;
  return [push(x0, x1, rx0, rx1), push(y0, y1, ry0, endless ? Infinity : ry1)];
}

export interface Snapped {
  dx: number;
  dy: number;
  /** Lines to be shown: x or y in mm. */
  x: number | null;
  y: number | null;
}

/** The least move within reach that brings an edge or middle of a box to one of others, or so far beside one. */
export function snapped(box: Box, others: Box[], room: Box, gap: number, reach: number): Snapped {
  const [x, dx] = nearest(
    [box[0], box[2]],
    others.map((o) => [o[0], o[2]] as Point),
    [room[0], room[2]],
    gap,
    reach,
  );
  const [y, dy] = nearest(
    [box[1], box[3]],
    others.map((o) => [o[1], o[3]] as Point),
    [room[1], room[3]],
    gap,
    reach,
  );
  return { dx, dy, x, y };
}

function nearest(
  [low, high]: Point,
  others: Point[],
  [first, last]: Point,
  gap: number,
  reach: number,
): [number | null, number] {
  const middle = (low + high) / 2;
  let [line, by]: [number | null, number] = [null, reach];
  const offer = (from: number, to: number) => {
    if (Math.abs(to - from) < Math.abs(by)) [line, by] = [to, to - from];
  };
  offer(low, first);
  offer(high, last);
  offer(middle, (first + last) / 2);
  for (const [a, b] of others) {
    offer(low, a);
    offer(high, b);
    offer(low, b + gap);
    offer(high, a - gap);
    offer(middle, (a + b) / 2);
  }
  return line === null ? [null, 0] : [line, by];
}

export type Side = "left" | "middle" | "right" | "bottom" | "centre" | "top";

/** How far each box moves so that all have one side, or their middles, in a line. */
export function alignment(boxes: Box[], side: Side): Point[] {
  const all = union(boxes);
  const mid = (a: number, b: number) => (a + b) / 2;
  return boxes.map((box): Point => {
    switch (side) {
      case "left":
        return [all[0] - box[0], 0];
      case "right":
        return [all[2] - box[2], 0];
      case "middle":
        return [mid(all[0], all[2]) - mid(box[0], box[2]), 0];
      case "bottom":
        return [0, all[1] - box[1]];
      case "top":
        return [0, all[3] - box[3]];
      case "centre":
        return [0, mid(all[1], all[3]) - mid(box[1], box[3])];
    }
  });
}

/** How far each box moves so that the gaps between them are equal, the first and the last staying where they are. */
export function equalGaps(boxes: Box[], across: boolean): Point[] {
  const [low, high] = across ? ([0, 2] as const) : ([1, 3] as const);
  const rows = boxes.map((box, i) => ({ i, at: box[low], size: box[high] - box[low] }));
  rows.sort((a, b) => a.at - b.at);
  const [first, last] = [rows[0], rows.at(-1)];
  const out: Point[] = boxes.map(() => [0, 0]);
  if (!first || !last || rows.length < 2) return out;
  const taken = rows.reduce((sum, { size }) => sum + size, 0);
  const gap = (last.at + last.size - first.at - taken) / (rows.length - 1);
  let place = first.at;
  for (const { i, at: was, size } of rows) {
    out[i] = across ? [place - was, 0] : [0, place - was];
    place += size + gap;
  }
  return out;
}

/** The sides of an outline: each point with the next. */
const sidesOf = (outline: Point[]): [Point, Point][] =>
  outline.map((point, i) => [point, outline[(i + 1) % outline.length] ?? point]);

/** Whether a place lies inside an outline. */
export function inside(outline: Point[], [x, y]: Point): boolean {
  let odd = false;
  for (const [[ax, ay], [bx, by]] of sidesOf(outline))
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) odd = !odd;
  return odd;
}

const apart = (a: Box, b: Box) => Math.max(a[0] - b[2], b[0] - a[2], a[1] - b[3], b[1] - a[3]);

function toSegment([px, py]: Point, [ax, ay]: Point, [bx, by]: Point): number {
  const [dx, dy] = [bx - ax, by - ay];
  const of = dx * dx + dy * dy;
  const t = of ? Math.min(1, Math.max(0, ((px - ax) * dx + (py - ay) * dy) / of)) : 0;
  return Math.hypot(ax + t * dx - px, ay + t * dy - py);
}

/** Whether two outlines lie nearer to each other than a gap, or in each other. */
export function tooNear(a: Point[], b: Point[], gap: number): boolean {
  const within = gap - MEASURED_MM;
  const [ofA, ofB] = [sidesOf(a), sidesOf(b)];
  const deepIn = (outline: Point[], sides: [Point, Point][]) => (point: Point) =>
    inside(outline, point) && sides.every(([from, to]) => toSegment(point, from, to) > MEASURED_MM);
  return (
    b.some(deepIn(a, ofA)) ||
    a.some(deepIn(b, ofB)) ||
    a.some((point) => ofB.some(([from, to]) => toSegment(point, from, to) < within)) ||
    b.some((point) => ofA.some(([from, to]) => toSegment(point, from, to) < within)) ||
    ofA.some(([p, q]) => ofB.some(([r, s]) => crossing(p, q, r, s)))
  );
}

/** Whether two pieces of line cross each other; touching ones do not. */
function crossing(p: Point, q: Point, r: Point, s: Point): boolean {
  const side = ([ax, ay]: Point, [bx, by]: Point, [x, y]: Point) =>
    Math.sign((bx - ax) * (y - ay) - (by - ay) * (x - ax));
  return side(p, q, r) * side(p, q, s) < 0 && side(r, s, p) * side(r, s, q) < 0;
}

/** The copies that lie too near to one of those that were moved, and these with them. */
export function clashing(
  copies: Copy[],
  outlines: Point[][],
  moved: Iterable<number>,
  gap: number,
): Set<number> {
  const all = copies.map((copy, i) => {
    const shape = outlineOf(copy, outlines);
    return { i, shape, box: boxOf(shape) };
  });
  const out = new Set<number>();
  for (const i of moved) {
    const own = all[i];
    if (!own) continue;
    for (const other of all) {
      if (other.i === i || apart(own.box, other.box) >= gap) continue;
      if (tooNear(own.shape, other.shape, gap)) out.add(i).add(other.i);
    }
  }
  return out;
}
