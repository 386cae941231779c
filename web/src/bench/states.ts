/** Where a released sheet stands: what it waits for, in words, and at which machine. */
import type { Release } from "../api/client";
import { moment } from "../ui/words";
import { bench as say } from "../texts/bench";
import { queues } from "../texts/queues";

export type Machine = "rip" | "cutter";

const CUT_SIDES: Record<string, string> = { front: "front", back: "back" };

/** The one thing that is next for it, or that it is done. */
export function stateOf(made: Release): string {
  const cuts = made.makes !== "print";
  if (made.makes !== "cut") {
    if (made.rip_state === "refused") return say.refusedByTheRip;
    if (made.rip_state === "failed") return queues.printFailed;
    if (made.rip_state === "cancelled") return queues.cancelled;
    if (made.rip_state === "printing") return queues.printing;
    if (made.rip_state !== "done") return say.waitsForThePrinter;
    if (made.sheet?.stage === "cancelled") return queues.cutCancelled;
    if (made.sheet?.refused) return queues.cannotFollow;
    if (made.sheet?.waits_for === "laminating") return queues.toBeLaminated;
    if (!made.dry) return made.dry_at ? say.printedDriesUntil(moment(made.dry_at)) : say.printedDrying;
    if (!cuts) return say.printedAndDry;
  }
  const left = made.sides.filter((side) => !made.cut.includes(side));
  if (!left.length) return "cut";
  if (made.cut.length)
    return say.cutTheOtherSideWaits(made.cut.map((side) => CUT_SIDES[side] ?? side).join(", "));
  const stage = made.sheet?.stage;
  if (stage === "cutting") return queues.cutting;
  if (stage === "stopped") return queues.stopped(made.sheet?.done.length ?? 0, made.sheet?.pieces ?? 0);
  if (stage === "half-cut") return queues.halfCut(made.sheet?.done.length ?? 0, made.sheet?.pieces ?? 0);
  if (made.loaded.length) return say.onTheCutter;
  return made.makes === "cut" ? say.waitsForTheCutter : say.dryWaitsForTheCutter;
}

/** Which of its repeats a sheet is, behind its name; nothing where it is the only one. */
export const repeatOf = (sheet: Release["sheet"]) =>
  sheet && sheet.repeats > 1 ? queues.repeatOf(sheet.repeat, sheet.repeats) : "";

/** The machine at which it is looked at first: the one that it waits for. */
export const machineOf = (made: Release): Machine =>
  made.makes === "cut" || (made.makes === "both" && made.rip_state === "done" && made.dry) ? "cutter" : "rip";
