/** The pen: a line from nothing, a place at a time; a place that is dragged has handles. */
import { useCallback, useState } from "react";
import type { Point } from "../../stage/geometry";

export interface PenPoint {
  at: Point;
  /** The handle that goes on; the one that comes lies opposite. */
  handle: Point | null;
}

export function penPath(points: PenPoint[], closed: boolean): string {
  const first = points[0];
  if (!first) return "";
  const f = ([x, y]: Point) => `${x.toFixed(3)} ${y.toFixed(3)}`;
  const parts = [`M ${f(first.at)}`];
  const to = (a: PenPoint, b: PenPoint) => {
    if (!a.handle && !b.handle) return `L ${f(b.at)}`;
    const comes: Point = b.handle ? [2 * b.at[0] - b.handle[0], 2 * b.at[1] - b.handle[1]] : b.at;
    return `C ${f(a.handle ?? a.at)} ${f(comes)} ${f(b.at)}`;
  };
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1], points[i]];
    if (a && b) parts.push(to(a, b));
  }
  const last = points[points.length - 1];
  if (closed && last && points.length > 2) parts.push(to(last, first), "Z");
  return parts.join(" ");
}

export function usePen(onDone: (path: string) => void) {
  const [points, setPoints] = useState<PenPoint[]>([]);
  /** Pull the curve at the last place; a hand that trembles bends nothing. */
  const pull = useCallback(
    (to: Point, least: number) =>
      setPoints((all) => {
        const last = all[all.length - 1];
        if (!last) return all;
        const far = Math.hypot(to[0] - last.at[0], to[1] - last.at[1]);
        if (!last.handle && far < least) return all;
        return [...all.slice(0, -1), { ...last, handle: far < least ? null : to }];
      }),
    [],
  );
  const add = useCallback((at: Point) => setPoints((all) => [...all, { at, handle: null }]), []);
  const back = useCallback(() => setPoints((all) => all.slice(0, -1)), []);
  const clear = useCallback(() => setPoints([]), []);
  const done = useCallback(
    (closed: boolean) => {
      if (points.length > 1) onDone(penPath(points, closed));
      setPoints([]);
    },
    [points, onDone],
  );
  return { points, add, pull, back, clear, done };
}
