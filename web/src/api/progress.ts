/**
 * How far long work is. One lean address tells what runs in the whole shop; it is asked often while something
 * does, and now and then otherwise. A job is asked for anew only when work on it has ended.
 */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import type { Job, Shared, Work } from "./client";
import { queries, refresh, rowsKnown } from "./queries";

const AT_FIRST_MS = 90;
const OFTEN_MS = 350;
const SELDOM_MS = 4000;
/** Small files are done in a second; so long after something new began it is looked at more often. */
const FIRST_MS = 2500;

export const isRunning = (work: Work | null | undefined) =>
  work?.state === "waiting" || work?.state === "running";

/** The works of `before` that are not there any more. */
export const ended = (before: Work[], now: Work[]): Work[] =>
  before.filter((work) => !now.some((other) => other.id === work.id));

type Worked = { id: number; work?: Work | null };

/** The jobs known with running work that does not run: it began and ended between two looks. */
export const missed = (known: Worked[], now: Work[]): number[] =>
  known
    .filter(({ work }) => work && isRunning(work) && !now.some((other) => other.id === work.id))
    .map((job) => job.id);

/** The shared sheets that wait for work that does not run: it began and ended between two looks. */
export const missedSheets = (known: Pick<Shared, "id" | "busy" | "current">[], now: Work[]): number[] =>
  known
    .filter((sheet) => (sheet.busy || !sheet.current) && !now.some((work) => work.shared === sheet.id))
    .map((sheet) => sheet.id);

/** The works that have kept a page to be looked at since `before`, though they go on. */
export const withPage = (before: Work[], now: Work[]): Work[] =>
  now.filter(
    (work) => work.kind !== "nest" && work.result && !before.find((other) => other.id === work.id)?.result,
  );

/** Keeps an eye on what runs; stands once, at the top of the house. */
export function useWatch() {
  const client = useQueryClient();
  const newest = useRef({ id: 0, since: 0 });
  const works = useQuery({
    ...queries.works(),
    refetchInterval: (query) => {
      const last = query.state.data?.at(-1);
      if (!last) return SELDOM_MS;
      if (last.id > newest.current.id) newest.current = { id: last.id, since: performance.now() };
      return performance.now() - newest.current.since < FIRST_MS ? AT_FIRST_MS : OFTEN_MS;
    },
  });
  const before = useRef<Work[]>([]);
  useEffect(() => {
    const now = works.data;
    if (!now) return;
    const over = ended(before.current, now);
    const fresh = ended(now, before.current);
    const paged = withPage(before.current, now);
    before.current = now;
    const open = client.getQueriesData<Job>({ queryKey: ["job"] }).flatMap(([, job]) => job ?? []);
    const rows = missed(rowsKnown(client), now);
    for (const work of over) {
      void refresh(client, queries.work(work.id));
      if (work.kind === "rip" || work.kind === "release") void refresh(client, queries.bench());
    }
    for (const id of new Set([...[...over, ...paged].map((work) => work.job_id), ...missed(open, now)]))
      void refresh(client, queries.job(id));
    const sheets = client
      .getQueriesData<Shared | unknown[]>({ queryKey: ["shared"] })
      .flatMap(([, sheet]) => (sheet && "shares" in sheet ? sheet : []));
    for (const id of new Set([
      ...[...over, ...fresh].flatMap((work) => work.shared ?? []),
      ...missedSheets(sheets, now),
    ]))
      void refresh(client, queries.shared(id));
    if (over.some((work) => work.shared)) void refresh(client, queries.sharedSheets());
    if (over.some((work) => work.kind === "release")) void refresh(client, queries.shelf());
    if (over.length || fresh.length || paged.length || rows.length) void refresh(client, queries.lists());
  }, [works.data, works.dataUpdatedAt, client]);
}

/** The work that runs on a job, or what was known of its last one. */
export function useWorkOf(job: Worked): Work | null {
  const works = useQuery({ ...queries.works(), enabled: false });
  return works.data?.findLast((work) => work.job_id === job.id && !work.shared) ?? job.work ?? null;
}

/** The same of a sheet that jobs share. */
export function useWorkOfShared(sheet: Shared): Work | null {
  const works = useQuery({ ...queries.works(), enabled: false });
  return works.data?.findLast((work) => work.shared === sheet.id) ?? sheet.work ?? null;
}

/** Whether something is done to a job that other changes have to wait for. */
export function useBusy(job: Worked): boolean {
  const work = useWorkOf(job);
  return work?.kind !== "try-sheet" && work?.kind !== "preview" && isRunning(work);
}

/** One piece of work by itself, asked for until it has ended. */
export const useWork = (id: number | undefined) =>
  useQuery({
    ...queries.work(id ?? 0),
    enabled: id !== undefined,
    refetchInterval: (query) => (isRunning(query.state.data) ? OFTEN_MS : false),
  });
