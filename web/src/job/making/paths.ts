/** Small geometry of the making: what holds a point, where a grip stands, a contour with one node elsewhere. */
import type { MadeLine } from "../../api/client";
import { runsOf, type Point } from "../../stage/geometry";

export type Node = [number, number, number, number, number, number, number];

/** Whether closed path data goes round a point, by the odd-even rule. */
export function holds(path: string, [px, py]: Point): boolean {
  let odd = false;
  for (const run of runsOf(path))
    for (let i = 0; i + 3 < run.length; i += 2) {
      const [ax = 0, ay = 0, bx = 0, by = 0] = [run[i], run[i + 1], run[i + 2], run[i + 3]];
      if (ay > py !== by > py && px < ax + ((py - ay) / (by - ay)) * (bx - ax)) odd = !odd;
    }
  return odd;
}

/** The place on a path that lies furthest to the right, and so has room for a grip beside it. */
export function rightmost(path: string): Point | null {
  let best: Point | null = null;
  for (const run of runsOf(path))
    for (let i = 0; i + 1 < run.length; i += 2) {
      const [x, y] = [run[i] ?? 0, run[i + 1] ?? 0];
      if (!best || x > best[0]) best = [x, y];
    }
  return best;
}

/** How far a point lies from a closed outline: outside above 0, inside below. */
export function signedDistance(path: string, at: Point): number {
  let best = Infinity;
  for (const run of runsOf(path))
    for (let i = 0; i + 3 < run.length; i += 2) {
      const [ax, ay] = [run[i] ?? 0, run[i + 1] ?? 0];
      const [dx, dy] = [(run[i + 2] ?? 0) - ax, (run[i + 3] ?? 0) - ay];
      const of = dx * dx + dy * dy;
      const t = of ? Math.min(1, Math.max(0, ((at[0] - ax) * dx + (at[1] - ay) * dy) / of)) : 0;
      best = Math.min(best, Math.hypot(ax + t * dx - at[0], ay + t * dy - at[1]));
    }
  return holds(path, at) ? -best : best;
}

export const nodesOf = (line: MadeLine) => line.nodes as unknown as Node[];

/** Path data through nodes with their handles. */
export function pathThrough(nodes: Node[], closed: boolean): string {
  const first = nodes[0];
  if (!first) return "";
  const parts = [`M${first[0]} ${first[1]}`];
  const pairs = closed ? nodes.length : nodes.length - 1;
  for (let i = 0; i < pairs; i++) {
    const [a, b] = [nodes[i], nodes[(i + 1) % nodes.length]];
    if (a && b) parts.push(`C${a[4]} ${a[5]} ${b[2]} ${b[3]} ${b[0]} ${b[1]}`);
  }
  return parts.join("") + (closed ? "Z" : "");
}

/** Nodes with one of them somewhere else, its handles with it. */
export function moved(nodes: Node[], index: number, [x, y]: Point): Node[] {
  return nodes.map((node, i) => {
    if (i !== index) return node;
    const [dx, dy] = [x - node[0], y - node[1]];
    return [x, y, node[2] + dx, node[3] + dy, node[4] + dx, node[5] + dy, node[6]];
  });
}
