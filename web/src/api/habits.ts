/** How a person likes to see things: known here at once, and kept by the server for every screen. */
import type { Unit } from "../ui/lengths";
import { learnUnit } from "../ui/unit";
import { api } from "./client";

/** Lengths are to be seen in a unit from now on. */
export function chooseUnit(unit: Unit) {
  learnUnit(unit);
  void api.PATCH("/api/me", { body: { unit } });
}
