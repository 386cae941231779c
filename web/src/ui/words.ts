/** Figures and counts in words, alike everywhere. */
export const mm = (value: number, digits = 1): string => `${value.toFixed(digits)} mm`;

export const metres = (length_mm: number): string => `${(length_mm / 1000).toFixed(2)} m`;

export const minutes = (seconds: number): string => {
  const whole = Math.round(seconds);
  return whole < 60 ? `${whole} s` : `${Math.floor(whole / 60)} min ${whole % 60} s`;
};

export const bytes = (count: number): string =>
  count < 1e6 ? `${(count / 1000).toFixed(1)} kB` : `${(count / 1e6).toFixed(1)} MB`;

const two = (count: number) => String(count).padStart(2, "0");

/** A time as it is said in the shop: day, month, year, and the clock of this place. */
export const moment = (iso: string): string => {
  const at = new Date(iso);
  const day = `${two(at.getDate())}.${two(at.getMonth() + 1)}.${at.getFullYear()}`;
  return `${day}, ${two(at.getHours())}:${two(at.getMinutes())}`;
};

export const plural = (count: number, word: string, many = `${word}s`): string =>
  `${count} ${count === 1 ? word : many}`;

/** The kinds of files, as people call them. */
const KINDS: Record<string, string> = { postscript: "PostScript", hpgl: "HP-GL" };
export const kindWords = (kind: string): string => KINDS[kind] ?? kind.toUpperCase();

/** A number that somebody typed, with a comma or a point; null for nothing. */
export const typed = (text: string): number | null =>
  text.trim() === "" ? null : Number(text.replace(",", ".").replace("−", "-"));

/** A figure without needless noughts. */
export const plain = (value: number) => String(Number(value.toFixed(3)));

/** What long work does, as it is told of. */
export const WORK_WORDS: Record<string, string> = {
  "take-in": "Taking in",
  analyse: "Checking",
  mend: "Mending",
  nest: "Nesting",
  preview: "Looking ahead",
  rehearse: "Rehearsing",
  release: "Releasing",
  rip: "Making plates",
  scan: "Looking for marks",
  sheet: "Laying out",
  stack: "Writing the stack",
  "try-sheet": "Trying a check sheet",
};
