/** The unit in which a person sees lengths: theirs on every screen, as the server keeps it, known here at once. */
import { useSyncExternalStore } from "react";
import type { Unit } from "./lengths";

const KEY = "horismos-unit";
const heard = new Set<() => void>();

const listen = (tell: () => void) => {
  heard.add(tell);
  return () => heard.delete(tell);
};

export const unitNow = (): Unit =>
  typeof localStorage !== "undefined" && localStorage.getItem(KEY) === "in" ? "in" : "mm";

/** The unit as the server knows it. */
export function learnUnit(unit: Unit) {
  if (unit === unitNow()) return;
  localStorage.setItem(KEY, unit);
  heard.forEach((tell) => tell());
}

export const useUnit = () => useSyncExternalStore(listen, unitNow);
