/** What is made by hand, with its history: every change can be taken back and done again. */
import { useCallback, useState } from "react";

interface History<T> {
  past: T[];
  now: T | null;
  future: T[];
}

export function useHistory<T>(first: T | null = null) {
  const [{ past, now, future }, setHistory] = useState<History<T>>({ past: [], now: first, future: [] });
  return {
    now,
    canUndo: past.length > 0,
    canRedo: future.length > 0,
    /** Begin with something, or leave with nothing: nothing of before comes back. */
    begin: useCallback((next: T | null) => setHistory({ past: [], now: next, future: [] }), []),
    change: useCallback(
      (next: T) =>
        setHistory((all) => ({
          past: all.now === null ? all.past : [...all.past, all.now],
          now: next,
          future: [],
        })),
      [],
    ),
    undo: useCallback(
      () =>
        setHistory((all) => {
          const last = all.past.at(-1);
          return last === undefined || all.now === null
            ? all
            : { past: all.past.slice(0, -1), now: last, future: [all.now, ...all.future] };
        }),
      [],
    ),
    redo: useCallback(
      () =>
        setHistory((all) => {
          const [next, ...rest] = all.future;
          return next === undefined || all.now === null
            ? all
            : { past: [...all.past, all.now], now: next, future: rest };
        }),
      [],
    ),
  };
}
