import { mm } from "../../ui/words";
/** What the comparison of two revisions came to; revisions of before kept other figures. */
export function proofWords(proof: Record<string, unknown>): string {
  const moved = `lines moved ${mm(Number(proof.lines_moved_mm), 3)}`;
  if (proof.plates_same) return `art untouched, ${moved}`;
  if (proof.art_max_delta_e === undefined) return moved;
  const mean = Number(proof.art_mean_delta_e ?? 0).toFixed(2);
  return `art differs by ΔE ${Number(proof.art_max_delta_e).toFixed(1)} at most, ${mean} on average, ${moved}`;
}
