/** The order of a job in one line. */
import type { JobRow } from "../api/client";
import { exactSize, plural } from "../ui/words";

const EDGES: Record<string, string> = {
  bleed: "colour over the cut",
  border: "blank border",
  either: "any edge",
};

export const orderLine = (job: JobRow) => {
  const { width_mm: w, height_mm: h, quantity, edge } = job.order;
  const copies =
    w && h ? `${quantity} of ${exactSize([w, h])}` : `${plural(quantity, "copy", "copies")}, size not said`;
  return `${copies} · ${job.material} · ${EDGES[edge] ?? edge}`;
};
