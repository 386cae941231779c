/** The time of a cut: its parts one behind the other, and where the head is at a moment. */
import type { Job } from "../api/client";

type Cut = NonNullable<Job["cut"]>;

export interface Part {
  kind: "operation" | "pause";
  /** Which operation it is, or comes before. */
  index: number;
  from: number;
  to: number;
}

/** The operations and the pauses between them, in seconds from the beginning. */
export function partsOf(cut: Cut): Part[] {
  const parts: Part[] = [];
  let now = 0;
  const add = (kind: Part["kind"], index: number, seconds: number) => {
    parts.push({ kind, index, from: now, to: now + seconds });
    now += seconds;
  };
  cut.operations.forEach((operation, index) => {
    const pause = cut.pauses.find((one) => one.before === index);
    if (pause) add("pause", index, pause.time_s);
    add("operation", index, operation.time_s);
  });
  return parts;
}

export interface Head {
  at: [number, number];
  down: boolean;
  mirrored: boolean;
  operation: number;
}

/** Where the head is at a moment of the whole cut, and whether the tool is down; null in a pause. */
export function headAt(cut: Cut, seconds: number): Head | null {
  const part = partsOf(cut).find((one) => one.from <= seconds && seconds <= one.to);
  const operation = part?.kind === "operation" ? cut.operations[part.index] : undefined;
  if (!part || !operation?.times.length) return null;
  const within = seconds - part.from;
  const { mirrored } = operation;
  const found = [...operation.times].reverse().find(([begin = 0]) => begin <= within);
  const [begin = 0, end = 0, ...ways] = found ?? operation.times[0] ?? [];
  const down = found !== undefined && within <= end;
  const count = ways.length / 2 - 1;
  const share = Math.min(1, Math.max(0, (within - begin) / (end - begin || 1))) * count;
  const i = Math.min(count - 1, Math.floor(share));
  const t = share - i;
  const along = (axis: number) => {
    const a = ways[2 * i + axis] ?? 0;
    return a + ((ways[2 * i + 2 + axis] ?? a) - a) * t;
  };
  return { at: [along(0), along(1)], down, mirrored, operation: part.index };
}

/** Copies as a person names them, "3, 7-9, 12-", as numbers from 1; null for all; a word where it is none. */
export function copiesIn(text: string, count: number): number[] | null | string {
  if (!text.trim()) return null;
  const out = new Set<number>();
  for (const part of text.split(",")) {
    const found = /^\s*(\d+)\s*(-\s*(\d+)?)?\s*$/.exec(part);
    const from = Number(found?.[1] ?? 0);
    const to = found?.[2] ? Number(found[3] ?? count) : from;
    if (!found || from < 1 || to > count || to < from) return part.trim() || ",";
    for (let n = from; n <= to; n++) out.add(n);
  }
  return [...out].sort((a, b) => a - b);
}

/** Numbers as a person names them: runs with a dash. */
export function runsWords(numbers: number[]): string {
  const runs: [number, number][] = [];
  for (const n of numbers) {
    const last = runs.at(-1);
    if (last && last[1] === n - 1) last[1] = n;
    else runs.push([n, n]);
  }
  return runs.map(([a, b]) => (a === b ? `${a}` : `${a}-${b}`)).join(", ");
}
