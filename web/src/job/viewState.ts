/** What the stage shows, kept in the address; where its pointer is; and which line lies there. */
import { useCallback, useRef } from "react";
import { useSearchParams } from "react-router";
import type { Job } from "../api/client";
import { distance, runsOf, snap, type Point } from "../stage/geometry";

/** What the stage shows stands in the address, so that it survives a reload. */
export function useViewState() {
  const [params, setParams] = useSearchParams();
  const get = useCallback((name: string) => params.get(name), [params]);
  const set = useCallback(
    (next: Record<string, string | null>) =>
      setParams(
        (before) => {
          for (const [key, value] of Object.entries(next))
            if (value === null) before.delete(key);
            else before.set(key, value);
          return before;
        },
        { replace: true },
      ),
    [setParams],
  );
  return { get, set };
}

type Listener = (at: Point | null) => void;

/** The pointer's place, told to one listener without drawing anything anew. */
export function usePointer() {
  const listener = useRef<Listener | null>(null);
  const last = useRef<Point | null>(null);
  const hear = useCallback((next: Listener | null) => {
    listener.current = next;
    next?.(last.current);
  }, []);
  const tell = useCallback((at: Point | null) => {
    last.current = at;
    listener.current?.(at);
  }, []);
  return { hear, tell };
}

/** The role of the line nearest to a place, within so many mm; null where none is that near. */
export function nearestRole(job: Job, at: Point, within: number): string | null {
  let best: [number, string] | null = null;
  for (const line of job.seen?.drawn ?? []) {
    const found = snap(runsOf(line.path), at, within);
    const far = found ? distance(found, at) : Infinity;
    if (found && (!best || far < best[0])) best = [far, line.role];
  }
  return best && best[1];
}
