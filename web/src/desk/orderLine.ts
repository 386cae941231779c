/** The order of a job in one line. */
import type { JobRow } from "../api/client";

const EDGES: Record<string, string> = {
  bleed: "colour over the cut",
  border: "blank border",
  either: "any edge",
};

export const orderLine = (job: JobRow) => {
  const { width_mm: w, height_mm: h, quantity, edge } = job.order;
  const size = w && h ? `${w} × ${h} mm` : "size not said";
  return `${quantity} of ${size} · ${job.material} · ${EDGES[edge] ?? edge}`;
};
