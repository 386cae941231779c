/** A stack while it is made: what is wanted, with its history, beside what is kept with the job. */
import { useCallback, useState } from "react";
import type { Job, StackWanted } from "../api/client";

interface History {
  past: StackWanted[];
  now: StackWanted | null;
  future: StackWanted[];
}

export function useStack(job: Job) {
  const kept = job.stack as unknown as StackWanted | null;
  const [{ past, now, future }, setHistory] = useState<History>({ past: [], now: kept, future: [] });
  const change = useCallback(
    (next: StackWanted) =>
      setHistory(({ past, now: before }) => ({
        past: before ? [...past, before] : past,
        now: next,
        future: [],
      })),
    [],
  );
  return {
    stack: now,
    isKept: now !== null && kept !== null && same(now, kept),
    canUndo: past.length > 0,
    canRedo: future.length > 0,
    begin: useCallback((stack: StackWanted) => setHistory({ past: [], now: stack, future: [] }), []),
    change,
    undo: useCallback(
      () =>
        setHistory((all) => {
          const last = all.past.at(-1);
          return last && all.now
            ? { past: all.past.slice(0, -1), now: last, future: [all.now, ...all.future] }
            : all;
        }),
      [],
    ),
    redo: useCallback(
      () =>
        setHistory((all) => {
          const [next, ...rest] = all.future;
          return next && all.now ? { past: [...all.past, all.now], now: next, future: rest } : all;
        }),
      [],
    ),
    leave: useCallback(() => setHistory({ past: [], now: null, future: [] }), []),
  };
}

/** Whether two stacks say the same; the server may give the keys back in another order. */
export function same(one: unknown, other: unknown): boolean {
  if (typeof one !== "object" || typeof other !== "object" || one === null || other === null)
    return one === other;
  const [mine, its] = [Object.entries(one), other as Record<string, unknown>];
  return mine.length === Object.keys(its).length && mine.every(([key, value]) => same(value, its[key]));
}
