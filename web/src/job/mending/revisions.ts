/** The tree of a job's revisions. */
import type { Mend, Revision } from "../../api/client";
import { mending as say } from "../../texts/mending";

/** The mends that led from the customer's file to a revision, in their order. */
export function stepsTo(revisions: Revision[], number: number): Mend[] {
  const found = revisions.find((one) => one.number === number);
  return found ? [...(found.parent ? stepsTo(revisions, found.parent) : []), ...found.steps] : [];
}

/** Where a revision comes from, where that is not plainly the one before it. */
export const whereFrom = (revisions: Revision[], revision: Revision): string => {
  const before = revisions.filter((one) => one.number < revision.number).at(-1);
  return revision.parent && before && before.number !== revision.parent ? say.from2(revision.parent) : "";
};
