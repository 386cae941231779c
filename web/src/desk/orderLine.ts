/** The order of a job in one line. */
import type { JobRow } from "../api/client";
import { exactSize } from "../ui/words";
import { desk as say } from "../texts/desk";

const EDGES: Record<string, string> = {
  bleed: say.colourOverTheCut,
  border: "blank border",
  either: say.anyEdge,
};

export const orderLine = (job: JobRow) => {
  const { width_mm: w, height_mm: h, quantity, edge } = job.order;
  const copies = w && h ? say.ofIt(quantity, exactSize([w, h])) : say.copySizeNotSaid(quantity);
  return `${copies} · ${job.material} · ${EDGES[edge] ?? edge}`;
};
