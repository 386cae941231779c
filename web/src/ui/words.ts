/** Figures and counts in words, alike everywhere. */
import type { Work } from "../api/client";
import { digits, inUnit, MM_PER_INCH, plain } from "./lengths";
import { unitNow } from "./unit";
import { ui as say } from "../texts/ui";

export { plain };
export { plural } from "../texts/plural";

/** A length in mm in the unit of the person, so exact: a tenth of a mm is four thousandths of an inch. */
export const mm = (value: number, digits = 1): string =>
  unitNow() === "mm"
    ? `${value.toFixed(digits)} mm`
    : `${(value / MM_PER_INCH).toFixed(Math.min(digits + 2, 4))} in`;

/** The same without needless noughts. */
export const length = (value: number): string => inUnit(value, unitNow());

/** A place on the stage. */
export const place = ([x, y]: [number, number]): string =>
  unitNow() === "mm"
    ? `${x.toFixed(2)}, ${y.toFixed(2)} mm`
    : `${(x / MM_PER_INCH).toFixed(3)}, ${(y / MM_PER_INCH).toFixed(3)} in`;

/** A width and a height, to the whole mm. */
export const size = (sides: readonly number[]): string =>
  unitNow() === "mm"
    ? `${sides.map((side) => Math.round(side)).join(" × ")} mm`
    : `${sides.map((side) => (side / MM_PER_INCH).toFixed(2)).join(" × ")} in`;

/** The same to the last digit that there is in mm, and to a thousandth of an inch. */
export const exactSize = (sides: readonly number[]): string =>
  `${sides
    .map((side) => Number(digits(side, unitNow())).toFixed(3))
    .map(Number)
    .join(" × ")} ${unitNow()}`;

export const metres = (length_mm: number): string =>
  unitNow() === "mm"
    ? `${(length_mm / 1000).toFixed(2)} m`
    : say.ft((length_mm / MM_PER_INCH / 12).toFixed(2));

export const minutes = (seconds: number): string => {
  const whole = Math.round(seconds);
  return whole < 60 ? `${whole} s` : `${Math.floor(whole / 60)} min ${whole % 60} s`;
};

export const bytes = (count: number): string =>
  count < 1e6
    ? `${(count / 1000).toFixed(1)} kB`
    : count < 1e9
      ? `${(count / 1e6).toFixed(1)} MB`
      : `${(count / 1e9).toFixed(1)} GB`;

/** A share as per cent, as exact as three digits are. */
export const percent = (share: number): string => `${Number((share * 100).toPrecision(3))} %`;

const two = (count: number) => String(count).padStart(2, "0");

/** A day as it is said in the shop. */
export const day = (iso: string): string => iso.slice(0, 10).split("-").reverse().join(".");

/** A time as it is said in the shop: day, month, year, and the clock of this place. */
export const moment = (iso: string): string => {
  const at = new Date(iso);
  const day = `${two(at.getDate())}.${two(at.getMonth() + 1)}.${at.getFullYear()}`;
  return `${day}, ${two(at.getHours())}:${two(at.getMinutes())}`;
};

/** The kinds of files, as people call them. */
const KINDS: Record<string, string> = { postscript: "PostScript", hpgl: "HP-GL" };
export const kindWords = (kind: string): string => KINDS[kind] ?? kind.toUpperCase();

/** What long work does, as it is told of. */
export const WORK_WORDS: Record<Work["kind"], string> = {
  "take-in": say.takingIn,
  analyse: say.checking,
  mend: say.mending,
  nest: say.nesting,
  preview: say.lookingAhead,
  rehearse: say.rehearsing,
  release: say.releasing,
  rip: say.printing,
  scan: say.lookingForMarks,
  sheet: say.layingOut,
  stack: say.writingTheStack,
  "try-sheet": say.tryingACheckSheet,
  "try-shelf": say.tryingItOnAJob,
};
