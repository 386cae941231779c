/** The making of lines: what is wanted with its history, what the server makes of it, soon while a hand drags. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { makingDraft, queries } from "../../api/queries";
import type { Finding, Job, Making } from "../../api/client";
import { firstMake, type Make } from "./make";

interface History {
  past: Make[];
  now: Make | null;
  future: Make[];
}

const NOTHING: History = { past: [], now: null, future: [] };
const CHECK_AFTER_MS = 700;

export interface MakingState {
  /** What is wanted at this moment, and what comes of it, soon while a hand drags. */
  make: Make | null;
  made: Making | null;
  /** The same when the hand lets go: what the docket shows. */
  settled: Make | null;
  full: Making | null;
  pending: boolean;
  error: string;
  findings: Finding[] | null;
  canUndo: boolean;
  canRedo: boolean;
  begin: (make?: Make) => void;
  change: (make: Make) => void;
  drag: (make: Make) => void;
  drop: () => void;
  undo: () => void;
  redo: () => void;
  leave: () => void;
}

export function useMaking(job: Job, nodes: boolean): MakingState {
  const [history, setHistory] = useState<History>(NOTHING);
  const [live, setLive] = useState<Make | null>(null);
  const [draft, setDraft] = useState<Making | null>(null);
  const { now } = history;
  const shown = useQuery({ ...queries.making(job, now, nodes), placeholderData: keepPreviousData });
  const settled = useSettled(live ? null : now, CHECK_AFTER_MS);
  const checked = useQuery(queries.makingCheck(job, settled));
  const wanted = useRef<Make | null>(null);
  const running = useRef(false);

  const begin = useCallback((make?: Make) => setHistory({ ...NOTHING, now: make ?? firstMake(job) }), [job]);
  const change = useCallback(
    (make: Make) =>
      setHistory(({ past, now: before }) => ({
        past: before ? [...past, before] : past,
        now: make,
        future: [],
      })),
    [],
  );
  const drag = useCallback(
    (make: Make) => {
      wanted.current = make;
      setLive(make);
      if (running.current) return;
      running.current = true;
      void (async () => {
        let sent: Make | null = null;
        while (wanted.current && wanted.current !== sent) {
          sent = wanted.current;
          try {
            const answer = await makingDraft(job, sent);
            if (wanted.current) setDraft(answer);
          } catch {
            break; // what is wrong is said when the hand lets go
          }
        }
        running.current = false;
      })();
    },
    [job],
  );
  const drop = useCallback(() => {
    const last = wanted.current;
    wanted.current = null;
    setLive(null);
    if (last) change(last);
  }, [change]);
  const arrived = shown.data && !shown.isPlaceholderData ? shown.data : null;
  useEffect(() => {
    if (arrived && !wanted.current) setDraft(null);
  }, [arrived]);

  return {
    make: live ?? now,
    made: now ? (draft ?? shown.data ?? null) : null,
    settled: now,
    full: now ? (shown.data ?? null) : null,
    pending: now !== null && shown.isFetching,
    error: now && shown.error ? shown.error.message : "",
    findings: settled && checked.data && settled === now ? checked.data : null,
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
    begin,
    change,
    drag,
    drop,
    undo: useCallback(
      () =>
        setHistory(({ past, now: before, future }) =>
          past.length && before
            ? { past: past.slice(0, -1), now: past[past.length - 1] ?? null, future: [before, ...future] }
            : { past, now: before, future },
        ),
      [],
    ),
    redo: useCallback(
      () =>
        setHistory(({ past, now: before, future }) =>
          future.length && before
            ? { past: [...past, before], now: future[0] ?? null, future: future.slice(1) }
            : { past, now: before, future },
        ),
      [],
    ),
    leave: useCallback(() => {
      wanted.current = null;
      setLive(null);
      setDraft(null);
      setHistory(NOTHING);
    }, []),
  };
}

/** A value once it has stayed the same for a while. */
function useSettled<T>(value: T | null, after: number): T | null {
  const [settled, setSettled] = useState<T | null>(null);
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(value), value === null ? 0 : after);
    return () => window.clearTimeout(timer);
  }, [value, after]);
  return settled;
}
