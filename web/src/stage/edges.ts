/** The measured edge on screen: a ribbon along each cut as wide as what was measured, and the cut that lands off. */
import type { EdgeProfile } from "../api/client";
import type { Misregistration } from "../api/queries";
import type { Box, Point } from "./geometry";

export const KINDS = ["over", "border", "short", "narrow", "risk"] as const;
export type Kind = (typeof KINDS)[number];

export const NOWHERE: Misregistration = { dx: 0, dy: 0, turn: 0, stretch_x: 0, stretch_y: 0 };

const at = (list: number[], i: number) => list[i] ?? 0;
const pair = (x: number, y: number) => `${x.toFixed(2)} ${y.toFixed(2)}`;

/** How far a ribbon leaves the cut at a sample, in mm: outwards along colour, inwards over a blank border. */
export const reachOf = (p: EdgeProfile, i: number): number =>
  (at(p.coloured, i) ? at(p.outside, i) : -at(p.inside, i)) / 100;

/** Path data of the ribbon of one kind; no narrower than `least` mm, so that it can be seen. */
export function ribbon(p: EdgeProfile, kind: Kind, least: number): string {
  const number = KINDS.indexOf(kind);
  const along = p.weight.map((w, i) => (w > 0 ? i : -1)).filter((i) => i >= 0);
  const parts: string[] = [];
  let inner: string[] = [];
  let outer: string[] = [];
  const end = () => {
    if (inner.length > 1) parts.push(`M${inner.join("L")}L${outer.reverse().join("L")}Z`);
    inner = [];
    outer = [];
  };
  const closed = along.length > 1 && along.every((i) => p.kinds[i] === number);
  for (const i of closed ? [...along, at(along, 0)] : along) {
    if (p.kinds[i] !== number) {
      end();
      continue;
    }
    const [x, y] = [at(p.points, 2 * i) / 100, at(p.points, 2 * i + 1) / 100];
    const own = reachOf(p, i);
    const far = Math.max(Math.abs(own), least) * (own < 0 ? -1 : 1);
    inner.push(pair(x, y));
    outer.push(pair(x + (far * at(p.normals, 2 * i)) / 1000, y + (far * at(p.normals, 2 * i + 1)) / 1000));
  }
  end();
  return parts.join("");
}

/** The middle of the box round all contours: what a cut turns and stretches about. */
export function middleOf(profiles: EdgeProfile[]): Point {
  const box: Box = [Infinity, Infinity, -Infinity, -Infinity];
  for (const p of profiles)
    for (let i = 0; i + 1 < p.points.length; i += 2) {
      const [x, y] = [at(p.points, i) / 100, at(p.points, i + 1) / 100];
      box[0] = Math.min(box[0], x);
      box[1] = Math.min(box[1], y);
      box[2] = Math.max(box[2], x);
      box[3] = Math.max(box[3], y);
    }
  return [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2];
}

/** Where a point of the cut lands. */
export function landed([x, y]: Point, [mx, my]: Point, o: Misregistration): Point {
  const angle = (o.turn * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const [ox, oy] = [(x - mx) * (1 + o.stretch_x / 100), (y - my) * (1 + o.stretch_y / 100)];
  return [mx + ox * cos - oy * sin + o.dx, my + ox * sin + oy * cos + o.dy];
}

/** The moved cut as path data. */
export function movedCut(profiles: EdgeProfile[], offset: Misregistration): string {
  const middle = middleOf(profiles);
  return profiles
    .map((p) => {
      const points: string[] = [];
      p.weight.forEach((w, i) => {
        if (w > 0)
          points.push(
            pair(...landed([at(p.points, 2 * i) / 100, at(p.points, 2 * i + 1) / 100], middle, offset)),
          );
      });
      return points.length > 1 ? `M${points.join("L")}Z` : "";
    })
    .join("");
}
