/** The making of lines: what is wanted with its history, what the server makes of it, soon while a hand drags. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { makingDraft, queries } from "../../api/queries";
import type { Finding, Job, Making } from "../../api/client";
import { useHistory } from "../../ui/useHistory";
import { firstMake, type Make } from "./make";

const CHECK_AFTER_MS = 700;

export interface MakingState {
  /** What is wanted at this moment, and what comes of it, soon while a hand drags. */
  make: Make | null;
  made: Making | null;
  /** The same when the hand lets go: what the docket shows. */
  settled: Make | null;
  full: Making | null;
  /** The last whose lines are there as they will be: what is cut open. */
  lined: Make | null;
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
  const history = useHistory<Make>();
  const [live, setLive] = useState<Make | null>(null);
  const [draft, setDraft] = useState<Making | null>(null);
  const { now, change, begin: restart } = history;
  // Without any line there is nothing to be made yet: somebody wants to draw.
  const asked = now?.lines.length ? now : null;
  // By straight pieces first, which is soon; then as it will be; then what the check says of it.
  const soon = useQuery(queries.makingSoon(job, live ? null : asked));
  const first = soon.isSuccess || soon.isError;
  const shown = useQuery({
    ...queries.making(job, first && !live ? asked : null, nodes),
    placeholderData: keepPreviousData,
  });
  const arrived = first && shown.data && !shown.isPlaceholderData ? shown.data : null;
  const settled = useSettled(live || !arrived ? null : asked, CHECK_AFTER_MS);
  const checked = useQuery(queries.makingCheck(job, settled));
  const wanted = useRef<Make | null>(null);
  const running = useRef(false);

  const begin = useCallback((make?: Make) => restart(make ?? firstMake(job)), [job, restart]);
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
  const [lined, setLined] = useState<Make | null>(null);
  if (arrived && asked && lined !== asked) setLined(asked);
  useEffect(() => {
    if (arrived && !wanted.current) setDraft(null);
  }, [arrived]);

  return {
    make: live ?? now,
    made: asked ? (draft ?? arrived ?? soon.data ?? shown.data ?? null) : null,
    settled: now,
    full: asked ? (shown.data ?? null) : null,
    lined: asked ? lined : null,
    pending: asked !== null && !arrived && !shown.isError,
    error: asked && shown.error ? shown.error.message : "",
    findings: settled && checked.data && settled === now ? checked.data : null,
    canUndo: history.canUndo,
    canRedo: history.canRedo,
    begin,
    change,
    drag,
    drop,
    undo: history.undo,
    redo: history.redo,
    leave: useCallback(() => {
      wanted.current = null;
      setLive(null);
      setDraft(null);
      restart(null);
    }, [restart]),
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
