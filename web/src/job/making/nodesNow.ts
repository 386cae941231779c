/** The nodes of a line as a hand has left them: what the server has not answered yet is done here, so that who goes on
 * at once meets the nodes where they are. Its answer takes the place of this. */
import type { MadeLine } from "../../api/client";
import { distance, type Point } from "../../stage/geometry";
import { moved, nodesOf, type Node } from "./paths";
import type { Edit, Make } from "./make";

const NEAR_MM = 0.6;
const TRIED = 16;

/** The contours of a line of what was made, after the changes that it does not know yet. */
export function nodesNow(lines: MadeLine[], of: Make | null, wanted: Make | null, edited: number | null) {
  const own = lines.filter((line) => line.line === edited);
  const edits = (make: Make | null) => (edited !== null && make?.lines[edited]?.edits) || [];
  const [known, all] = [edits(of), edits(wanted)];
  const goesOn = known.every((edit, i) => edit === all[i]);
  return goesOn ? all.slice(known.length).reduce(after, own) : own;
}

/** Contours after one change, as far as it moves, adds or takes away nodes; else as they were. */
function after(lines: MadeLine[], edit: Edit): MadeLine[] {
  const at = edit.at as Point;
  if (edit.do === "add") {
    const place = nearestOf(lines, (nodes, closed) => betweens(nodes, closed, at));
    return changed(lines, place, (nodes, i) => [...nodes.slice(0, i + 1), flat(at), ...nodes.slice(i + 1)]);
  }
  const place = nearestOf(lines, (nodes) => nodes.map((node) => distance([node[0], node[1]], at)));
  if (!place || place.far > NEAR_MM) return lines;
  if (edit.do === "move" && edit.to)
    return changed(lines, place, (nodes, i) => moved(nodes, i, edit.to as Point));
  if (edit.do === "delete") return changed(lines, place, (nodes, i) => nodes.filter((_, j) => j !== i));
  return lines;
}

interface Place {
  contour: number;
  node: number;
  far: number;
}

function nearestOf(lines: MadeLine[], far: (nodes: Node[], closed: boolean) => number[]): Place | undefined {
  const all = lines.flatMap((line, contour) =>
    far(nodesOf(line), line.closed).map((far, node) => ({ contour, node, far })),
  );
  return all.sort((a, b) => a.far - b.far)[0];
}

const changed = (lines: MadeLine[], place: Place | undefined, change: (nodes: Node[], i: number) => Node[]) =>
  lines.map((line, i) =>
    place?.contour === i ? { ...line, nodes: change(nodesOf(line), place.node) } : line,
  );

/** How far a place lies from the cubic after each node. */
const betweens = (nodes: Node[], closed: boolean, at: Point) =>
  nodes.slice(0, closed ? nodes.length : -1).map((a, i) => {
    const b = nodes[(i + 1) % nodes.length] ?? a;
    const tried = Array.from({ length: TRIED - 1 }, (_, k) => distance(onCubic(a, b, (k + 1) / TRIED), at));
    return Math.min(...tried);
  });

const onCubic = (a: Node, b: Node, t: number): Point => {
  const [p, q, r, s] = [(1 - t) ** 3, 3 * t * (1 - t) ** 2, 3 * t * t * (1 - t), t ** 3];
  return [p * a[0] + q * a[4] + r * b[2] + s * b[0], p * a[1] + q * a[5] + r * b[3] + s * b[1]];
};

const flat = ([x, y]: Point): Node => [x, y, x, y, x, y, 0];
