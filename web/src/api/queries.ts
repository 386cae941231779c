/** Every question that is asked of the server: its key and how it is asked, in one place. */
import { unitNow } from "../ui/unit";
import {
  infiniteQueryOptions,
  keepPreviousData,
  queryOptions,
  type InfiniteData,
  type QueryClient,
  type QueryKey,
} from "@tanstack/react-query";
import {
  api,
  exact,
  told,
  type Bed,
  type Job,
  type JobRow,
  type KindId,
  type LogTopic,
  type MakeWanted,
  type Shared,
  type Side,
} from "./client";

export type Line = [[number, number], [number, number]];
export interface Misregistration {
  dx: number;
  dy: number;
  turn: number;
  stretch_x: number;
  stretch_y: number;
}

const PAGE_ROWS = 60;
export const LOG_ROWS = 60;
/** Which entries of the log are wanted: what is left out is any. */
export interface LogWanted {
  topic?: LogTopic;
  who?: string;
  search?: string;
  since?: string;
  until?: string;
}
export const WORKS = "works";
/** Where the highest stamp of works is kept that was heard of. */
export const STAMP = ["stamp"];
const at = (id: number) => ({ params: { path: { job_id: id } } });

/** What a check gave is known by what it found: with another finding it is another one. */
const checked = (job: Job) => [job.id, job.revision, job.art_sha256, job.findings.map((f) => f.key).join()];

export const queries = {
  me: () => queryOptions({ queryKey: ["me"], queryFn: () => told(api.GET("/api/me")), retry: false }),

  /** Where this person is logged in. */
  logIns: () => queryOptions({ queryKey: ["log-ins"], queryFn: () => told(api.GET("/api/me/log-ins")) }),

  /** Who works here, and who may do what. */
  people: () => queryOptions({ queryKey: ["people"], queryFn: () => told(api.GET("/api/people")) }),

  /** Everything that lists jobs, to be asked anew. */
  lists: () => ({ queryKey: ["jobs"] }),

  /** Everything about stacks at the machines, to be asked anew. */
  stacks: () => ({ queryKey: ["stacks"] }),

  /** The first jobs that are due, to choose one of. */
  jobs: () => queryOptions({ queryKey: ["jobs", "first"], queryFn: () => told(api.GET("/api/jobs")) }),

  /** The jobs of a group whose name or customer holds a text, a page at a time. */
  desk: (group: string, search: string) =>
    infiniteQueryOptions({
      queryKey: ["jobs", "desk", group, search],
      queryFn: ({ pageParam }) =>
        told(
          api.GET("/api/jobs", { params: { query: { group, search, offset: pageParam, limit: PAGE_ROWS } } }),
        ),
      initialPageParam: 0,
      getNextPageParam: (last: JobRow[], pages: JobRow[][]) =>
        last.length === PAGE_ROWS ? pages.length * PAGE_ROWS : undefined,
      placeholderData: keepPreviousData,
    }),

  counts: (search: string) =>
    queryOptions({
      queryKey: ["jobs", "counts", search],
      queryFn: () => told(api.GET("/api/jobs/counts", { params: { query: { search } } })),
      placeholderData: keepPreviousData,
    }),

  customers: () =>
    queryOptions({ queryKey: ["jobs", "customers"], queryFn: () => told(api.GET("/api/customers")) }),

  /** What several open jobs ask alike. */
  alike: () => queryOptions({ queryKey: ["jobs", "alike"], queryFn: () => told(api.GET("/api/alike")) }),

  job: (id: number) =>
    queryOptions({ queryKey: ["job", id], queryFn: () => told(api.GET("/api/jobs/{job_id}", at(id))) }),

  /** Who else is at a job, and its version now: said and asked every few seconds. */
  here: (id: number, station: string) =>
    queryOptions({
      queryKey: ["here", id, station],
      refetchInterval: 4000,
      retry: false,
      queryFn: () => told(api.POST("/api/jobs/{job_id}/here", { ...at(id), body: { station } })),
    }),

  /** The things that ship, and which of them lie on the Shelf. */
  examples: () =>
    queryOptions({ queryKey: ["shelf", "examples"], queryFn: () => exact(api.GET("/api/shelf/examples")) }),

  /** The threads that the shop has. */
  threads: () =>
    queryOptions({
      queryKey: ["shelf", "threads"],
      staleTime: 60_000,
      queryFn: () => told(api.GET("/api/threads")),
    }),

  /** Where a link leads by which somebody joins. */
  welcome: (token: string) =>
    queryOptions({
      queryKey: ["welcome", token],
      retry: false,
      queryFn: () => told(api.GET("/api/join", { params: { query: { token } } })),
    }),

  /** The kinds of things that lie on the Shelf, with what their data may be. */
  kinds: () =>
    queryOptions({
      queryKey: ["shelf", "kinds"],
      staleTime: Infinity,
      queryFn: () => exact(api.GET("/api/shelf/kinds")),
    }),

  /** All things of a kind. */
  things: (kind: KindId) =>
    queryOptions({
      queryKey: ["shelf", "things", kind],
      staleTime: 60_000,
      queryFn: () => exact(api.GET("/api/shelf/things", { params: { query: { kind } } })),
    }),

  /** A thing with its versions, and where it is in use. */
  thing: (id: string) =>
    queryOptions({
      queryKey: ["shelf", "thing", id],
      queryFn: () => exact(api.GET("/api/shelf/things/{thing_id}", { params: { path: { thing_id: id } } })),
    }),

  /** The shop: its name, unit and currency, and whether its guide is done. */
  shop: () => queryOptions({ queryKey: ["shop"], queryFn: () => exact(api.GET("/api/shop")) }),

  /** Everybody with their roles, and who is invited: for whoever manages people. */
  staff: () => queryOptions({ queryKey: ["staff"], queryFn: () => told(api.GET("/api/staff")) }),

  /** The log of the shop, a page at a time. */
  log: (by: LogWanted, offset: number) =>
    queryOptions({
      queryKey: ["log", by, offset],
      queryFn: () => told(api.GET("/api/log", { params: { query: { ...by, offset, limit: LOG_ROWS } } })),
      placeholderData: keepPreviousData,
    }),

  /** Who works, what waits, what was set aside. */
  running: () =>
    queryOptions({
      queryKey: ["running"],
      queryFn: () => told(api.GET("/api/running")),
      refetchInterval: 3_000,
    }),

  /** The shop's tool settings on a material at a destination's cutter. */
  shopTools: (destination: string, material: string) =>
    queryOptions({
      queryKey: ["shelf", "tools", destination, material],
      queryFn: () => told(api.GET("/api/shelf/tools", { params: { query: { destination, material } } })),
      placeholderData: keepPreviousData,
    }),

  /** The sheets that several jobs share. */
  sharedSheets: () =>
    queryOptions({ queryKey: ["shared", "list"], queryFn: () => told(api.GET("/api/shared-sheets")) }),

  shared: (id: number) =>
    queryOptions({
      queryKey: ["shared", id],
      queryFn: () => told(api.GET("/api/shared-sheets/{sheet_id}", { params: { path: { sheet_id: id } } })),
    }),

  /** What waits or runs now, in the whole shop, and what has ended since it was asked last: lean, asked often. */
  works: () =>
    queryOptions({
      queryKey: [WORKS],
      queryFn: ({ client }) =>
        told(
          api.GET("/api/works", { params: { query: { since: client.getQueryData<number>(STAMP) ?? 0 } } }),
        ),
    }),

  work: (id: number) =>
    queryOptions({
      queryKey: ["work", id],
      queryFn: () => told(api.GET("/api/works/{work_id}", { params: { path: { work_id: id } } })),
    }),

  shelf: () =>
    queryOptions({ queryKey: ["shelf"], staleTime: Infinity, queryFn: () => told(api.GET("/api/shelf")) }),

  checkSheets: () => queryOptions({ queryKey: ["sheets"], queryFn: () => told(api.GET("/api/sheets")) }),

  /** The recipes on the Shelf, and the mends that there are with their settings. */
  recipes: () => queryOptions({ queryKey: ["recipes"], queryFn: () => told(api.GET("/api/recipes")) }),

  /** What lies at a place of a page. */
  lies: (job: Job, point: [number, number] | null, within: number) =>
    queryOptions({
      queryKey: ["lies", job.id, job.revision, point, within],
      enabled: point !== null,
      staleTime: Infinity,
      retry: false,
      queryFn: () =>
        told(
          api.GET("/api/jobs/{job_id}/at", {
            params: { path: { job_id: job.id }, query: { x: point?.[0] ?? 0, y: point?.[1] ?? 0, within } },
          }),
        ),
    }),

  bench: () => queryOptions({ queryKey: ["bench"], queryFn: () => told(api.GET("/api/bench")) }),

  /** What lies before the cutter with a side up. */
  bed: (release: number, side: Side) =>
    queryOptions({
      queryKey: ["bed", release, side],
      queryFn: () =>
        told(
          api.GET("/api/bench/{release_id}/bed", {
            params: { path: { release_id: release }, query: { side } },
          }),
        ),
    }),

  /** The run of a cut file as it lands on the sheet that lies there: another loading lands otherwise. */
  playback: (release: number, side: Side, bed: Bed | undefined) =>
    queryOptions({
      queryKey: ["play", release, side, bed?.loading, bed?.aligned?.marks, bed?.shifts],
      staleTime: Infinity,
      queryFn: () =>
        told(
          api.GET("/api/bench/{release_id}/play", {
            params: { path: { release_id: release }, query: { side } },
          }),
        ),
    }),

  section: (job: Job, [[x0, y0], [x1, y1]]: Line) =>
    queryOptions({
      queryKey: [
        "section",
        job.id,
        job.revision,
        job.material_id,
        job.plates?.sha256,
        [job.layout.inks, job.layout.mirror],
        x0,
        y0,
        x1,
        y1,
      ],
      staleTime: Infinity,
      retry: false,
      queryFn: () =>
        told(
          api.GET("/api/jobs/{job_id}/section", {
            params: { path: { job_id: job.id }, query: { x0, y0, x1, y1 } },
          }),
        ),
    }),

  /** By which changes a shared sheet would hold its jobs. */
  fitsShared: (shared: Shared) =>
    queryOptions({
      queryKey: ["fits-shared", shared.id, shared.version, shared.error],
      enabled: !!shared.error,
      staleTime: Infinity,
      queryFn: () =>
        told(api.GET("/api/shared-sheets/{sheet_id}/fits", { params: { path: { sheet_id: shared.id } } })),
    }),

  /** By which changes a job that fits nowhere would fit. */
  fits: (job: Job) =>
    queryOptions({
      queryKey: ["fits", job.id, job.version, job.sheet?.error ?? ""],
      enabled: !!job.sheet?.error && job.current,
      staleTime: Infinity,
      queryFn: () => told(api.GET("/api/jobs/{job_id}/fits", at(job.id))),
    }),

  edges: (job: Job, wanted: boolean) =>
    queryOptions({
      queryKey: ["edges", ...checked(job)],
      enabled: wanted && job.has_edges,
      staleTime: Infinity,
      queryFn: () => told(api.GET("/api/jobs/{job_id}/edges", at(job.id))),
    }),

  landing: (job: Job, offset: Misregistration, wanted: boolean) =>
    queryOptions({
      queryKey: ["landing", ...checked(job), offset],
      enabled: wanted && job.has_edges,
      staleTime: Infinity,
      queryFn: () =>
        told(
          api.GET("/api/jobs/{job_id}/landing", {
            params: { path: { job_id: job.id }, query: { ...offset } },
          }),
        ),
    }),

  /** Lines as they would be made; with the nodes that a hand may move. */
  making: (job: Job, make: MakeWanted | null, nodes: boolean) =>
    queryOptions({
      queryKey: ["making", job.id, job.revision, make, nodes],
      enabled: make !== null && job.seen !== null,
      staleTime: Infinity,
      gcTime: 60_000,
      retry: false,
      queryFn: ({ signal }) => makingOf(job, make ?? NO_LINES, false, nodes, signal),
    }),

  /** The same by straight pieces, soon after a change. */
  makingSoon: (job: Job, make: MakeWanted | null) =>
    queryOptions({
      queryKey: ["making soon", job.id, job.revision, make],
      enabled: make !== null && job.seen !== null,
      staleTime: Infinity,
      gcTime: 60_000,
      retry: false,
      queryFn: ({ signal }) => makingOf(job, make ?? NO_LINES, true, false, signal),
    }),

  /** What the check would say of them. */
  makingCheck: (job: Job, make: MakeWanted | null) =>
    queryOptions({
      queryKey: ["making check", job.id, job.revision, job.found, make],
      enabled: make !== null && job.seen !== null,
      staleTime: Infinity,
      gcTime: 60_000,
      retry: false,
      queryFn: ({ signal }) =>
        told(
          api.POST("/api/jobs/{job_id}/making/check", {
            ...at(job.id),
            body: { make: make ?? NO_LINES, revision: job.revision, tab: TAB },
            signal,
          }),
        ),
    }),

  /** The material cut open with the lines as they would be. */
  makingSection: (job: Job, make: MakeWanted, [[x0, y0], [x1, y1]]: Line) =>
    queryOptions({
      queryKey: ["section", job.id, job.revision, job.material_id, job.plates?.sha256, x0, y0, x1, y1, make],
      staleTime: Infinity,
      gcTime: 60_000,
      retry: false,
      placeholderData: keepPreviousData,
      queryFn: ({ signal }) =>
        told(
          api.POST("/api/jobs/{job_id}/making/section", {
            ...at(job.id),
            body: {
              make,
              revision: job.revision,
              line: [x0, y0, x1, y1],
              tab: TAB,
            },
            signal,
          }),
        ),
    }),

  letter: (id: number, keys: string[]) =>
    queryOptions({
      queryKey: ["letter", id, keys.join(), unitNow()],
      enabled: keys.length > 0,
      queryFn: () =>
        told(api.POST("/api/jobs/{job_id}/letter", { ...at(id), body: { keys, unit: unitNow() } })),
    }),
};

const NO_LINES: MakeWanted = { lines: [] };

/** Names this page to the server, which leaves off what the page asked about before it asked about another make. */
const TAB = Math.random().toString(36).slice(2);

const makingOf = (job: Job, make: MakeWanted, draft: boolean, nodes: boolean, signal?: AbortSignal) =>
  told(
    api.POST("/api/jobs/{job_id}/making", {
      ...at(job.id),
      body: { make, revision: job.revision, draft, nodes, tab: TAB },
      signal,
    }),
  );

/** The lines by straight pieces, as soon as that can be, while a hand drags. */
export const makingDraft = (job: Job, make: MakeWanted) => makingOf(job, make, true, false);

/** The rows of the Desk that are known, of whatever group. */
export const rowsKnown = (client: QueryClient): JobRow[] =>
  client
    .getQueriesData<InfiniteData<JobRow[]>>({ queryKey: ["jobs", "desk"] })
    .flatMap(([, data]) => data?.pages.flat() ?? []);

/**
 * Ask anew what may be out of date. An answer that is still under way is dropped first: it may be older than
 * the change, and the first answer of all is otherwise waited for and believed.
 */
export async function refresh(client: QueryClient, query: { queryKey: QueryKey }): Promise<void> {
  await client.cancelQueries({ queryKey: query.queryKey });
  await client.invalidateQueries({ queryKey: query.queryKey });
}

/** The tint of every ink at a place, 0 to 255. */
export const inkAmounts = (job: number, [x, y]: [number, number]) =>
  told(api.GET("/api/jobs/{job_id}/amounts", { params: { path: { job_id: job }, query: { x, y } } }));
