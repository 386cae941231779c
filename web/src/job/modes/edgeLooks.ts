/** How the kinds of edge look, by tone and pattern and not by colour alone. */
import { looks } from "../../api/looks";
import type { Kind } from "../../stage/edges";

export interface EdgeLook {
  colour: string;
  ground: string;
  opacity: number;
  stroke: string;
  lines?: number;
}

export const EDGE_LOOKS: Record<Kind, EdgeLook> = {
  over: { colour: "#0B5C63", ground: "#0B5C63", opacity: 0.45, stroke: "#0B5C63" },
  border: { colour: "#FFFFFF", ground: "#FFFFFF", opacity: 0.75, stroke: "#0B5C63" },
  short: { colour: "#8A6A00", ground: "#F3DFA0", opacity: 0.9, stroke: "#6B5300", lines: 45 },
  narrow: { colour: "#8A6A00", ground: "#FFFFFF", opacity: 0.9, stroke: "#6B5300", lines: -45 },
  risk: { colour: looks.stop, ground: "#FFFFFF", opacity: 0.95, stroke: looks.stop, lines: 90 },
};
