import { mm } from "../../ui/words";
import { mending as say } from "../../texts/mending";
/** What the comparison of two revisions came to; revisions of before kept other figures. */
export function proofWords(proof: Record<string, unknown>): string {
  const moved = say.linesMoved(mm(Number(proof.lines_moved_mm), 3));
  if (proof.plates_same) return say.artUntouched(moved);
  if (proof.art_max_delta_e === undefined) return moved;
  const mean = Number(proof.art_mean_delta_e ?? 0).toFixed(2);
  return say.artDiffersByEAt(Number(proof.art_max_delta_e).toFixed(1), mean, moved);
}
