/** Where a released sheet stands: what it waits for, in words, and at which machine. */
import type { Release } from "../api/client";
import { moment } from "../ui/words";

export type Machine = "rip" | "cutter";

const CUT_SIDES: Record<string, string> = { front: "front", back: "back" };

/** The one thing that is next for it, or that it is done. */
export function stateOf(made: Release): string {
  const cuts = made.makes !== "print";
  if (made.makes !== "cut") {
    if (made.rip_state === "refused") return "refused by the RIP";
    if (made.rip_state !== "done") return "waits for the printer";
    if (!made.dry) return made.dry_at ? `printed, dries until ${moment(made.dry_at)}` : "printed, drying";
    if (!cuts) return "printed and dry";
  }
  const left = made.sides.filter((side) => !made.cut.includes(side));
  if (!left.length) return "cut";
  if (made.cut.length)
    return `${made.cut.map((side) => CUT_SIDES[side] ?? side).join(", ")} cut, the other side waits`;
  if (made.loaded.length) return "on the cutter";
  return made.makes === "cut" ? "waits for the cutter" : "dry, waits for the cutter";
}

/** The machine at which it is looked at first: the one that it waits for. */
export const machineOf = (made: Release): Machine =>
  made.makes === "cut" || (made.makes === "both" && made.rip_state === "done" && made.dry) ? "cutter" : "rip";
