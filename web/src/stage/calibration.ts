/** How many CSS pixels a millimetre is on this monitor; kept in this browser. */
import { useSyncExternalStore } from "react";
import { NOMINAL } from "./geometry";

const KEY = "horismos-pixels-per-mm";
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

export const usePixelsPerMm = () => useSyncExternalStore(listen, pixelsPerMm);
export const isCalibrated = () => localStorage.getItem(KEY) !== null;
