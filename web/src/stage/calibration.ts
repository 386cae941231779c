/** How many CSS pixels a millimetre is on this monitor, and which unit the rulers show; kept in this browser. */
import { useSyncExternalStore } from "react";
import { NOMINAL, type Unit } from "./geometry";

const KEY = "horismos-pixels-per-mm";
const UNIT = "horismos-unit";
const heard = new Set<() => void>();

const listen = (tell: () => void) => {
  heard.add(tell);
  return () => heard.delete(tell);
};

export function pixelsPerMm(): number {
  const kept = Number(localStorage.getItem(KEY));
  return kept > 0.5 && kept < 50 ? kept : NOMINAL;
}

export function calibrate(value: number | null) {
  if (value === null) localStorage.removeItem(KEY);
  else localStorage.setItem(KEY, String(value));
  heard.forEach((tell) => tell());
}

export const unitNow = (): Unit => (localStorage.getItem(UNIT) === "in" ? "in" : "mm");

export function chooseUnit(unit: Unit) {
  localStorage.setItem(UNIT, unit);
  heard.forEach((tell) => tell());
}

export const usePixelsPerMm = () => useSyncExternalStore(listen, pixelsPerMm);
export const useUnit = () => useSyncExternalStore(listen, unitNow);
export const isCalibrated = () => localStorage.getItem(KEY) !== null;
