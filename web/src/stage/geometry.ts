/** Geometry on screen: mm with y upwards to pixels with y downwards, the ruler's steps, tiles, the tape. */
import { perUnit, type Unit } from "../ui/lengths";

export type Box = [number, number, number, number];
export type Point = [number, number];

/** pixels = k * mm + x, and y - k * mm for the vertical. */
export interface View {
  k: number;
  x: number;
  y: number;
}

export const MM_PER_INCH = 25.4;
/** CSS pixels in a millimetre when a pixel is 1/96 inch: what an uncalibrated monitor is taken for. */
export const NOMINAL = 96 / MM_PER_INCH;

export const toScreen = (view: View, [x, y]: Point): Point => [view.k * x + view.x, view.y - view.k * y];

export const toMm = (view: View, [px, py]: Point): Point => [(px - view.x) / view.k, (view.y - py) / view.k];

/** The view that shows a box whole, in the middle of so many pixels. */
export function fit([x0, y0, x1, y1]: Box, width: number, height: number, margin = 40): View {
  const w = Math.max(x1 - x0, 0.1);
  const h = Math.max(y1 - y0, 0.1);
  const k = Math.max(Math.min((width - margin) / w, (height - margin) / h), 0.001);
  return { k, x: width / 2 - (k * (x0 + x1)) / 2, y: height / 2 + (k * (y0 + y1)) / 2 };
}

/** The part of the plane that is in view, in mm. */
export function inView(view: View, [width, height]: [number, number]): Box {
  const [left, bottom] = toMm(view, [0, height]);
  const [right, top] = toMm(view, [width, 0]);
  return [left, bottom, right, top];
}

/** A step of 1, 2 or 5 times a power of ten that comes out at least so many pixels apart. */
export function rulerStep(k: number, pixels = 60): number {
  const least = pixels / k;
  const power = 10 ** Math.floor(Math.log10(least));
  return [1, 2, 5, 10].map((m) => m * power).find((step) => step >= least - 1e-9) ?? 10 * power;
}

export const grow = ([x0, y0, x1, y1]: Box, by: number): Box => [x0 - by, y0 - by, x1 + by, y1 + by];

export const common = (a: Box, b: Box): Box | null => {
  const box: Box = [Math.max(a[0], b[0]), Math.max(a[1], b[1]), Math.min(a[2], b[2]), Math.min(a[3], b[3])];
  return box[2] > box[0] && box[3] > box[1] ? box : null;
};

// -- tiles -----------------------------------------------------------------------------------------

/** Finer than 6,400 % of actual size is never asked for. */
const MOST_PPI = 9_000;

export interface Tile {
  key: string;
  box: Box;
  ppi: number;
}

/**
 * Tiles of what is in view of a page, pixel for pixel, so that nothing is drawn that is not seen. Two of
 * them, since two are made at the same time; their edges lie on whole pixels counted from the page's corner.
 */
export function tilesOf(page: Box, seen: Box, pixelsPerMm: number): Tile[] {
  const area = common(page, seen);
  if (!area) return [];
  const p = Math.min(pixelsPerMm, MOST_PPI / MM_PER_INCH);
  const across = (v: number, round: (v: number) => number) => page[0] + round((v - page[0]) * p) / p;
  const down = (v: number, round: (v: number) => number) => page[3] - round((page[3] - v) * p) / p;
  const [x0, x1] = [across(area[0], Math.floor), across(area[2], Math.ceil)];
  const [y0, y1] = [down(area[1], Math.ceil), down(area[3], Math.floor)];
  const middle = across((x0 + x1) / 2, Math.round);
  const halves: Box[] =
    middle > x0 && middle < x1
      ? [
          [x0, y0, middle, y1],
          [middle, y0, x1, y1],
        ]
      : [[x0, y0, x1, y1]];
  return halves.map((box) => ({ key: box.map((v) => v.toFixed(4)).join() + p, box, ppi: p * MM_PER_INCH }));
}

// -- lengths ---------------------------------------------------------------------------------------

/** A length in the unit that the rulers show, as exact as a pixel at this zoom. */
export function length(value: number, unit: Unit, k: number): string {
  const size = 1 / (k * perUnit(unit));
  const digits = Math.min(4, Math.max(unit === "mm" ? 1 : 2, Math.ceil(-Math.log10(size))));
  return `${(value / perUnit(unit)).toFixed(digits)} ${unit}`;
}

export const distance = ([ax, ay]: Point, [bx, by]: Point): number => Math.hypot(bx - ax, by - ay);

/** The angle of a line above the horizontal, -180 to 180 degrees, counter-clockwise. */
export const angle = ([ax, ay]: Point, [bx, by]: Point): number =>
  (Math.atan2(by - ay, bx - ax) * 180) / Math.PI;

// -- snapping --------------------------------------------------------------------------------------

const STEPS = 12;
/** Nodes nearer than this on screen are drawn as one. */
const NEAR_PX = 0.6;

/** What a path is drawn with: a canvas path, or anything that takes its strokes. */
export interface Pen {
  moveTo(x: number, y: number): void;
  lineTo(x: number, y: number): void;
  bezierCurveTo(x1: number, y1: number, x2: number, y2: number, x3: number, y3: number): void;
}

/** Path data as numbers, eight to a segment: start, two controls, end; a line's controls are its ends. */
export function segmentsOf(path: string): Float64Array {
  const out: number[] = [];
  let [x, y, sx, sy] = [0, 0, 0, 0];
  for (const [, letter, text] of path.matchAll(/([MLCZ])([^MLCZ]*)/g)) {
    const n = (text ?? "")
      .trim()
      .split(/[\s,]+/)
      .map(Number);
    if (letter === "M") [x, y, sx, sy] = [n[0] ?? 0, n[1] ?? 0, n[0] ?? 0, n[1] ?? 0];
    else if (letter === "C") {
      const [x1 = 0, y1 = 0, x2 = 0, y2 = 0, x3 = 0, y3 = 0] = n;
      out.push(x, y, x1, y1, x2, y2, x3, y3);
      [x, y] = [x3, y3];
    } else {
      const [tx, ty] = letter === "L" ? [n[0] ?? 0, n[1] ?? 0] : [sx, sy];
      if (tx !== x || ty !== y) out.push(x, y, x, y, tx, ty, tx, ty);
      [x, y] = [tx, ty];
    }
  }
  return Float64Array.from(out);
}

/** Draw those segments that are in view, nodes closer than a pixel run together. */
export function trace(pen: Pen, segments: Float64Array, k: number, within: Box) {
  const near = NEAR_PX / k;
  let [px, py, down] = [NaN, NaN, false];
  for (let i = 0; i + 7 < segments.length; i += 8) {
    const [ax, ay, bx, by] = [
      segments[i] ?? 0,
      segments[i + 1] ?? 0,
      segments[i + 2] ?? 0,
      segments[i + 3] ?? 0,
    ];
    const [cx, cy, dx, dy] = [
      segments[i + 4] ?? 0,
      segments[i + 5] ?? 0,
      segments[i + 6] ?? 0,
      segments[i + 7] ?? 0,
    ];
    const out =
      Math.max(ax, bx, cx, dx) < within[0] ||
      Math.min(ax, bx, cx, dx) > within[2] ||
      Math.max(ay, by, cy, dy) < within[1] ||
      Math.min(ay, by, cy, dy) > within[3];
    if (out) {
      down = false;
      continue;
    }
    const joins = down && Math.abs(ax - px) < near && Math.abs(ay - py) < near;
    if (!joins) {
      pen.moveTo(ax, ay);
      [px, py] = [ax, ay];
    }
    down = true;
    const next = i + 8 < segments.length && segments[i + 8] === dx && segments[i + 9] === dy;
    if (next && Math.abs(dx - px) < near && Math.abs(dy - py) < near) continue;
    if (ax === bx && ay === by && cx === dx && cy === dy) pen.lineTo(dx, dy);
    else pen.bezierCurveTo(bx, by, cx, cy, dx, dy);
    [px, py] = [dx, dy];
  }
}

/** The runs of points along path data of the kind that the server writes: absolute M, L, C and Z. */
export function runsOf(path: string): Float64Array[] {
  const runs: Float64Array[] = [];
  let run: number[] = [];
  const end = () => {
    if (run.length > 2) runs.push(Float64Array.from(run));
    run = [];
  };
  for (const [, letter, text] of path.matchAll(/([MLCZ])([^MLCZ]*)/g)) {
    const n = (text ?? "")
      .trim()
      .split(/[\s,]+/)
      .map(Number);
    if (letter === "M") {
      end();
      run = [n[0] ?? 0, n[1] ?? 0];
    } else if (letter === "L") run.push(n[0] ?? 0, n[1] ?? 0);
    else if (letter === "C") {
      const [x0 = 0, y0 = 0] = run.slice(-2);
      const [x1 = 0, y1 = 0, x2 = 0, y2 = 0, x3 = 0, y3 = 0] = n;
      for (let i = 1; i <= STEPS; i++) {
        const t = i / STEPS;
        const s = 1 - t;
        const [a, b, c, d] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t];
        run.push(a * x0 + b * x1 + c * x2 + d * x3, a * y0 + b * y1 + c * y2 + d * y3);
      }
    } else if (run.length >= 2) run.push(run[0] ?? 0, run[1] ?? 0);
  }
  end();
  return runs;
}

/** Short strokes along runs, so many pixels apart and long, on the side away from what a closed run holds. */
export function ticks(runs: Float64Array[], k: number, within: Box, apart = 14, long = 4.5): string {
  const parts: string[] = [];
  const [gap, reach] = [apart / k, long / k];
  for (const run of runs) {
    let area = 0;
    for (let i = 0; i + 3 < run.length; i += 2)
      area += (run[i] ?? 0) * (run[i + 3] ?? 0) - (run[i + 2] ?? 0) * (run[i + 1] ?? 0);
    const side = area >= 0 ? 1 : -1;
    let left = gap / 2;
    for (let i = 0; i + 3 < run.length; i += 2) {
      const [ax, ay] = [run[i] ?? 0, run[i + 1] ?? 0];
      const [dx, dy] = [(run[i + 2] ?? 0) - ax, (run[i + 3] ?? 0) - ay];
      const size = Math.hypot(dx, dy);
      if (!size) continue;
      for (; left <= size; left += gap) {
        const [x, y] = [ax + (dx * left) / size, ay + (dy * left) / size];
        if (x < within[0] || x > within[2] || y < within[1] || y > within[3]) continue;
        parts.push(
          `M${x.toFixed(3)} ${y.toFixed(3)}l${((dy / size) * side * reach).toFixed(3)} ${((-dx / size) * side * reach).toFixed(3)}`,
        );
      }
      left -= size;
    }
  }
  return parts.join("");
}

/** The place on any run nearest to a point, within a distance in mm; null where none is that near. */
export function snap(runs: Float64Array[], [px, py]: Point, within: number): Point | null {
  let best = within * within;
  let found: Point | null = null;
  for (const run of runs)
    for (let i = 0; i + 3 < run.length; i += 2) {
      const [ax, ay, bx, by] = [run[i] ?? 0, run[i + 1] ?? 0, run[i + 2] ?? 0, run[i + 3] ?? 0];
      if (Math.min(ax, bx) - px > within || px - Math.max(ax, bx) > within) continue;
      const [dx, dy] = [bx - ax, by - ay];
      const of = dx * dx + dy * dy;
      const t = of ? Math.min(1, Math.max(0, ((px - ax) * dx + (py - ay) * dy) / of)) : 0;
      const [x, y] = [ax + t * dx, ay + t * dy];
      const far = (x - px) ** 2 + (y - py) ** 2;
      if (far < best) [best, found] = [far, [x, y]];
    }
  return found;
}
