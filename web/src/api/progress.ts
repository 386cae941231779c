/**
 * How far long work is. One lean address tells what runs in the whole shop; it is asked often while something
 * does, and now and then otherwise. A job is asked for anew only when work on it has ended.
 */
import { useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import type { Job, Shared, Work } from "./client";
import { queries, refresh, rowsKnown, STAMP, WORKS } from "./queries";

const AT_FIRST_MS = 90;
const OFTEN_MS = 350;
const SELDOM_MS = 4000;
/** Small files are done in a second; so long after something new began it is looked at more often. */
const FIRST_MS = 2500;

export const isRunning = (work: Work | null | undefined) =>
  work?.state === "waiting" || work?.state === "running";

type Worked = { id: number; work?: Work | null };

/** What has come since a stamp: works that have begun or show something new, and works that have ended. */
export function newsOf(works: Work[], since: number) {
  const fresh = works.filter((work) => work.stamp > since);
  return { begun: fresh.filter(isRunning), ended: fresh.filter((work) => !isRunning(work)) };
}

/** The highest stamp that was heard of. */
export const latestStamp = (works: Work[], since: number) =>
  works.reduce((highest, work) => Math.max(highest, work.stamp), since);

/** Asks anew for all that is out of date since some works have begun or ended. */
function hear(client: QueryClient, begun: Work[], ended: Work[]) {
  for (const work of ended) void refresh(client, queries.work(work.id));
  if (ended.some((work) => work.kind === "rip" || work.kind === "release"))
    void refresh(client, queries.bench());
  if (ended.some((work) => work.kind === "release")) void refresh(client, queries.shelf());
  if (ended.some((work) => work.kind === "stack")) void refresh(client, queries.stacks());
  // A page that taking in has kept is shown while the work goes on.
  const paged = begun.filter((work) => work.kind !== "nest" && work.result);
  for (const id of new Set([...ended, ...paged].map((work) => work.job_id)))
    void refresh(client, queries.job(id));
  const sheets = new Set([...ended, ...begun].flatMap((work) => work.shared ?? []));
  for (const id of sheets) void refresh(client, queries.shared(id));
  if (ended.some((work) => work.shared)) void refresh(client, queries.sharedSheets());
  if (begun.length || ended.length) refreshLists(client);
}

/** Of a pile of files some end each second: lists are asked anew at once, then no more often than this. */
const LISTS_EVERY_MS = 900;
const asking = new WeakMap<QueryClient, { last: number; later: boolean }>();

function refreshLists(client: QueryClient) {
  const now = performance.now();
  const state = asking.get(client) ?? { last: -Infinity, later: false };
  asking.set(client, state);
  if (state.later) return;
  const wait = state.last + LISTS_EVERY_MS - now;
  if (wait <= 0) {
    state.last = now;
    void refresh(client, queries.lists());
    return;
  }
  state.later = true;
  setTimeout(() => {
    state.later = false;
    state.last = performance.now();
    void refresh(client, queries.lists());
  }, wait);
}

/** Of the works that had ended before the first look, those that something on the screen still shows as running. */
function stillShown(client: QueryClient, ended: Work[]): Work[] {
  const jobs: Worked[] = client.getQueriesData<Job>({ queryKey: ["job"] }).flatMap(([, job]) => job ?? []);
  const shown = new Set(
    [...jobs, ...rowsKnown(client)].flatMap(({ work }) => (isRunning(work) ? [work?.id] : [])),
  );
  return ended.filter((work) => shown.has(work.id));
}

/** Keeps an eye on what runs; stands once, at the top of the house. The server tells what has ended. */
export function useWatch() {
  const client = useQueryClient();
  const newest = useRef({ id: 0, since: 0 });
  useQuery({
    ...queries.works(),
    refetchInterval: (query) => {
      const last = query.state.data?.findLast(isRunning);
      if (!last) return SELDOM_MS;
      if (last.id > newest.current.id) newest.current = { id: last.id, since: performance.now() };
      return performance.now() - newest.current.since < FIRST_MS ? AT_FIRST_MS : OFTEN_MS;
    },
  });
  useEffect(
    () =>
      client.getQueryCache().subscribe((event) => {
        if (event.type !== "updated" || event.action.type !== "success") return;
        if (event.query.queryKey[0] !== WORKS) return;
        const works = event.query.state.data as Work[];
        const since = client.getQueryData<number>(STAMP) ?? 0;
        const { begun, ended } = newsOf(works, since);
        client.setQueryData(STAMP, latestStamp(works, since));
        hear(client, begun, since ? ended : stillShown(client, ended));
      }),
    [client],
  );
}

/** The work that runs on a job, or what was known of its last one. */
export function useWorkOf(job: Worked): Work | null {
  const works = useQuery({ ...queries.works(), enabled: false });
  const runs = works.data?.findLast((work) => isRunning(work) && work.job_id === job.id && !work.shared);
  return runs ?? job.work ?? null;
}

/** The work that runs on a sheet that jobs share, or what was known of its last one. */
export function useWorkOfShared(sheet: Shared): Work | null {
  const works = useQuery({ ...queries.works(), enabled: false });
  return works.data?.findLast((work) => isRunning(work) && work.shared === sheet.id) ?? sheet.work ?? null;
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
