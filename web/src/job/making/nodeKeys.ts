/** The keys for a node that is chosen: alike on the stage, where a press leaves the focus, and in the docket. */
import type { MadeLine } from "../../api/client";
import type { Point } from "../../stage/geometry";
import type { NodeAt } from "./Grips";
import type { Edit } from "./make";
import { nodesOf, type Node } from "./paths";

export const STEP_MM = 0.1;
const LARGE = 10;

export interface ListedNode extends NodeAt {
  at: Node;
}

/** All nodes of some contours, one after the other. */
export const nodesIn = (lines: MadeLine[]): ListedNode[] =>
  lines.flatMap((line, contour) => nodesOf(line).map((at, node) => ({ contour, node, at })));

export const indexOf = (all: ListedNode[], chosen: NodeAt | null) =>
  all.findIndex((one) => one.contour === chosen?.contour && one.node === chosen.node);

/** The node so many further on, round and round. */
export function further(all: ListedNode[], chosen: NodeAt | null, by: number): NodeAt | null {
  const next = all[(indexOf(all, chosen) + by + all.length) % all.length];
  return next ? { contour: next.contour, node: next.node } : null;
}

/** Arrows move it, ten times as far with Shift; Delete takes it away; comma and full stop go on. */
export function nodeKeys(
  lines: MadeLine[],
  chosen: NodeAt | null,
  onChoose: (at: NodeAt) => void,
  onEdit: (edit: Edit) => void,
): Record<string, () => void> {
  const all = nodesIn(lines);
  const here = all[indexOf(all, chosen)];
  const at: Point | null = here ? [here.at[0], here.at[1]] : null;
  const go = (by: number) => {
    const next = further(all, chosen, by);
    if (next) onChoose(next);
  };
  const move = (dx: number, dy: number) => () =>
    at && onEdit({ do: "move", at, to: [at[0] + dx * STEP_MM, at[1] + dy * STEP_MM] });
  const ways: [string, number, number][] = [
    ["ArrowLeft", -1, 0],
    ["ArrowRight", 1, 0],
    ["ArrowUp", 0, 1],
    ["ArrowDown", 0, -1],
  ];
  const remove = () => at && onEdit({ do: "delete", at });
  return {
    ...Object.fromEntries(
      ways.flatMap(([key, dx, dy]) => [
        [key, move(dx, dy)],
        [`Shift+${key}`, move(LARGE * dx, LARGE * dy)],
      ]),
    ),
    Delete: remove,
    Backspace: remove,
    ".": () => go(1),
    ",": () => go(-1),
  };
}
