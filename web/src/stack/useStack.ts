/** A stack while it is made: what is wanted, with its history, beside what is kept with the job. */
import { useCallback } from "react";
import type { Job, StackWanted } from "../api/client";
import { useHistory } from "../ui/useHistory";

export function useStack(job: Job) {
  const kept = job.stack;
  const { now, begin, ...history } = useHistory<StackWanted>(kept);
  return {
    ...history,
    begin,
    stack: now,
    isKept: now !== null && kept !== null && same(now, kept),
    leave: useCallback(() => begin(null), [begin]),
  };
}

/** Whether two stacks say the same; the server may give the keys back in another order. */
export function same(one: unknown, other: unknown): boolean {
  if (typeof one !== "object" || typeof other !== "object" || one === null || other === null)
    return one === other;
  const [mine, its] = [Object.entries(one), other as Record<string, unknown>];
  return mine.length === Object.keys(its).length && mine.every(([key, value]) => same(value, its[key]));
}
