/** Every change that the screens make, and which questions it makes out of date. */
import { useMutation, useQueryClient, type QueryClient } from "@tanstack/react-query";
import {
  api,
  told,
  type Answers,
  type Bed,
  type Draft,
  type Job,
  type HandOverWay,
  type JobChange,
  type Laying,
  type LineFormat,
  type Mend,
  type Pattern,
  type RecipeDraft,
  type Shared,
  type SharedChange,
  type SeenOutcome,
  type Shelf,
  type Side,
  type ShopTools,
  type Tool,
  type Work,
} from "./client";
import { queries, refresh } from "./queries";

type Stale = (client: QueryClient) => void;
const at = (id: number) => ({ params: { path: { job_id: id } } });

/** A change; afterwards, whether it was made or refused, what it may have touched is asked anew. */
function useChange<Input, Output>(run: (input: Input) => Promise<Output>, stale: Stale) {
  const client = useQueryClient();
  return useMutation({ mutationFn: run, onSettled: () => stale(client) });
}

const begun: Stale = (client) => void refresh(client, queries.works());

/** A job as the screen shows it: what a change of it names, so that nothing is changed that nobody has seen. */
function seen(client: QueryClient, id: number): Pick<Job, "version" | "revision" | "found"> {
  const { version, revision, found } = client.getQueryData(queries.job(id).queryKey) ?? {
    version: 1,
    revision: 0,
    found: "",
  };
  return { version, revision, found };
}

type Seen = ReturnType<typeof seen>;

/**
 * A change of a job. One follows the other, each on what the one before has made of it; one that is refused,
 * since somebody else was first, shows the job as it is now.
 */
function useJobMutation<Input, Output>(
  id: number,
  run: (input: Input, seen: Seen) => Promise<Output>,
  answered: (client: QueryClient, output: Output) => void | Promise<void>,
) {
  const client = useQueryClient();
  return useMutation({
    scope: { id: `job ${id}` },
    mutationFn: (input: Input) => run(input, seen(client, id)),
    onSuccess: (output) => answered(client, output),
    onError: () => void refresh(client, queries.job(id)),
    onSettled: () => {
      begun(client);
      void refresh(client, queries.lists());
    },
  });
}

/** A change that answers with the work that was begun on the job. */
const useJobWork = <Input>(id: number, run: (input: Input, seen: Seen) => Promise<Work>) =>
  useJobMutation(id, run, (client, work) => {
    client.setQueryData(queries.job(id).queryKey, (job) => job && { ...job, version: work.job_version });
    void refresh(client, queries.job(id));
  });

/** A change that answers with the job as it is now. */
const useJobAnswer = <Input>(id: number, run: (input: Input, seen: Seen) => Promise<Job>) =>
  useJobMutation(id, run, async (client, job) => {
    await client.cancelQueries({ queryKey: queries.job(id).queryKey });
    client.setQueryData(queries.job(id).queryKey, job);
  });

const everything: Stale = (client) => void client.invalidateQueries();

/** Only who is let in asks anew: who is not reads why. */
export function useLogin() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: { name: string; password: string }) => told(api.POST("/api/login", { body })),
    onSuccess: () => everything(client),
  });
}

export const useLogout = () => useChange(() => told(api.POST("/api/logout")), everything);

export const usePassword = () =>
  useChange(
    (body: { present: string; new: string }) => told(api.POST("/api/me/password", { body })),
    (client) => void refresh(client, queries.me()),
  );

/** What is named of a job is changed; `version` is the one that a form was opened on, else what is on the screen. */
export const useJobChange = (id: number) =>
  useJobAnswer(id, ({ version, ...body }: Partial<JobChange>, now) =>
    told(
      api.PATCH("/api/jobs/{job_id}", {
        ...at(id),
        body: { ...(body as Omit<JobChange, "version">), version: version ?? now.version },
      }),
    ),
  );

export const useSettle = (id: number) =>
  useJobAnswer(id, (body: { key: string; reason: string }, { version }) =>
    told(api.POST("/api/jobs/{job_id}/decisions", { ...at(id), body: { version, ...body } })),
  );

export const useUnsettle = (id: number) =>
  useJobAnswer(id, (key: string, { version }) =>
    told(
      api.DELETE("/api/jobs/{job_id}/decisions/{key}", {
        params: { path: { job_id: id, key }, query: { version } },
      }),
    ),
  );

export const useAnswers = (id: number) =>
  useJobWork(id, (body: Partial<Answers>, { version }) =>
    told(api.POST("/api/jobs/{job_id}/answers", { ...at(id), body: { each_page: false, ...body, version } })),
  );

export const useNest = (id: number) =>
  useJobWork(
    id,
    (
      body: { turn: "none" | "half" | "quarter" | "free"; gap_mm: number | null; seconds: number },
      { version },
    ) => told(api.POST("/api/jobs/{job_id}/nest", { ...at(id), body: { ...body, version } })),
  );

const sheetAt = (id: number) => ({ params: { path: { sheet_id: id } } });

/** A change of a sheet that jobs share, to the sheet as it is on the screen. */
function useSharedMutation<Input, Output>(
  id: number,
  run: (input: Input, version: number, found: string) => Promise<Output>,
  answered: (client: QueryClient, output: Output) => void | Promise<void> = () => undefined,
) {
  const client = useQueryClient();
  return useMutation({
    scope: { id: `shared ${id}` },
    mutationFn: (input: Input) => {
      const now = client.getQueryData(queries.shared(id).queryKey);
      return run(input, now?.version ?? 1, now?.found ?? "");
    },
    onSuccess: (output) => answered(client, output),
    onError: () => void refresh(client, queries.shared(id)),
    onSettled: () => {
      begun(client);
      void refresh(client, queries.sharedSheets());
      void refresh(client, queries.lists());
    },
  });
}

/** What is still under way may be older than the answer. */
async function sharedAnswer(client: QueryClient, sheet: Shared) {
  await client.cancelQueries({ queryKey: queries.shared(sheet.id).queryKey });
  client.setQueryData(queries.shared(sheet.id).queryKey, sheet);
}

export const useSharedChange = (id: number) =>
  useSharedMutation(
    id,
    (body: Partial<Omit<SharedChange, "version">>, version) =>
      told(
        api.PATCH("/api/shared-sheets/{sheet_id}", {
          ...sheetAt(id),
          body: { ...(body as Omit<SharedChange, "version">), version },
        }),
      ),
    sharedAnswer,
  );

export const useNestShared = (id: number) =>
  useSharedMutation(
    id,
    (body: { turn: "none" | "half" | "quarter" | "free"; gap_mm: number | null; seconds: number }, version) =>
      told(api.POST("/api/shared-sheets/{sheet_id}/nest", { ...sheetAt(id), body: { ...body, version } })),
    (client) => void refresh(client, queries.shared(id)),
  );

export const useReleaseShared = (id: number) =>
  useSharedMutation(
    id,
    (_: undefined, version, found) =>
      told(api.POST("/api/shared-sheets/{sheet_id}/release", { ...sheetAt(id), body: { version, found } })),
    (client) => void refresh(client, queries.shared(id)),
  );

export const useRehearseShared = (id: number) =>
  useSharedMutation(
    id,
    (_: undefined, version) =>
      told(
        api.POST("/api/shared-sheets/{sheet_id}/rehearse", {
          ...sheetAt(id),
          body: { version, loads: 200, seed: 1 },
        }),
      ),
    (client) => void refresh(client, queries.shared(id)),
  );

export const useTakeApart = (id: number) =>
  useSharedMutation(id, (_: undefined, version) =>
    told(
      api.DELETE("/api/shared-sheets/{sheet_id}", {
        params: { path: { sheet_id: id }, query: { version } },
      }),
    ),
  );

/** Begins a sheet that jobs share. */
export function useBeginShared() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (jobs: number[]) => told(api.POST("/api/shared-sheets", { body: { jobs } })),
    onSuccess: (sheet) => sharedAnswer(client, sheet),
    onSettled: () => {
      begun(client);
      void refresh(client, queries.sharedSheets());
      void client.invalidateQueries({ queryKey: ["job"] });
    },
  });
}

/** Orders a job again: a new one with its artwork, lines and layout. */
export const useRepeat = (id: number) =>
  useChange(
    (quantity: number) => told(api.POST("/api/jobs/{job_id}/repeat", { ...at(id), body: { quantity } })),
    (client) => {
      begun(client);
      void refresh(client, queries.lists());
    },
  );

/** Changes of the Shelf answer with the Shelf as it is now. */
const useShelfChange = <Input>(run: (input: Input) => Promise<Shelf>) => {
  const client = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (shelf) => {
      client.setQueryData(queries.shelf().queryKey, shelf);
      void client.invalidateQueries({ queryKey: ["job"] });
      void client.invalidateQueries({ queryKey: ["shared"] });
    },
  });
};

export const useAddMedia = () =>
  useShelfChange(
    (body: { material: string; title: string; width_mm: number; length_mm: number | null; roll: boolean }) =>
      told(api.POST("/api/shelf/media", { body })),
  );

export const useDropMedia = () =>
  useShelfChange((id: number) =>
    told(api.DELETE("/api/shelf/media/{media_id}", { params: { path: { media_id: id } } })),
  );

export const useLoadMedia = () =>
  useShelfChange((id: number) =>
    told(api.POST("/api/shelf/media/{media_id}/load", { params: { path: { media_id: id } } })),
  );

export const usePrice = () =>
  useShelfChange(({ material, price }: { material: string; price: number | null }) =>
    told(
      api.POST("/api/shelf/materials/{material_id}/price", {
        params: { path: { material_id: material } },
        body: { price_m2: price },
      }),
    ),
  );

/** Another file of the customer: lines that were made of the old one are made anew of it. */
export const useOtherFile = (id: number) =>
  useJobWork(id, (file: File, { version }) =>
    told(
      api.POST("/api/jobs/{job_id}/file", {
        ...at(id),
        body: { file: file as unknown as string, version },
        bodySerializer: (body) => {
          const form = new FormData();
          form.append("file", body.file as unknown as File);
          form.append("version", String(body.version));
          return form;
        },
      }),
    ),
  );

export const useMend = (id: number) =>
  useJobWork(id, ({ kind, settings }: Mend, { version, revision }) =>
    told(api.POST("/api/jobs/{job_id}/mends", { ...at(id), body: { kind, settings, version, revision } })),
  );

export const useMendSafely = (id: number) =>
  useJobWork(id, (_: undefined, { version, revision }) =>
    told(api.POST("/api/jobs/{job_id}/mends/safe", { ...at(id), body: { version, revision } })),
  );

export const useUndo = (id: number) =>
  useJobWork(id, (_: undefined, { version }) =>
    told(api.POST("/api/jobs/{job_id}/undo", { ...at(id), body: { version } })),
  );

/** A mend carried out to be looked at; the job stays as it is. */
export const usePreview = (id: number) =>
  useJobWork(id, ({ kind, settings }: Mend, { version, revision }) =>
    told(api.POST("/api/jobs/{job_id}/previews", { ...at(id), body: { kind, settings, version, revision } })),
  );

/** Goes to any revision. */
export const useTake = (id: number) =>
  useJobWork(id, (number: number, { version }) =>
    told(
      api.POST("/api/jobs/{job_id}/revisions/{number}/take", {
        params: { path: { job_id: id, number } },
        body: { version },
      }),
    ),
  );

const shelved: Stale = (client) => {
  void refresh(client, queries.recipes());
  void client.invalidateQueries({ queryKey: ["job"] });
};

export const useSaveRecipe = () =>
  useChange((body: RecipeDraft) => told(api.POST("/api/recipes", { body })), shelved);

export const useRemoveRecipe = () =>
  useChange(
    (recipe: number) =>
      told(api.DELETE("/api/recipes/{recipe_id}", { params: { path: { recipe_id: recipe } } })),
    shelved,
  );

/** Runs a recipe over jobs, each of the version that was seen. */
export const useRunRecipe = () =>
  useChange(
    ({ recipe, jobs }: { recipe: number; jobs: { id: number; version: number }[] }) =>
      told(
        api.POST("/api/recipes/{recipe_id}/run", { params: { path: { recipe_id: recipe } }, body: { jobs } }),
      ),
    (client) => {
      begun(client);
      void client.invalidateQueries({ queryKey: ["job"] });
      void refresh(client, queries.lists());
    },
  );

/** Writes the package; `also` are formats beside HP-GL that its lines are written in. */
export const useRelease = (id: number) =>
  useJobWork(id, (also: LineFormat[], seen) =>
    told(api.POST("/api/jobs/{job_id}/release", { ...at(id), body: { ...seen, also } })),
  );

export const useHandOver = (release: number, side: Side) =>
  useMutation({
    mutationFn: (way: HandOverWay) =>
      told(
        api.POST("/api/bench/{release_id}/hand-over", {
          params: { path: { release_id: release } },
          body: { way, side },
        }),
      ),
  });

export const useCancel = () =>
  useChange(
    (work: number) => told(api.POST("/api/works/{work_id}/cancel", { params: { path: { work_id: work } } })),
    begun,
  );

export const useRip = () =>
  useChange(
    ({ release, preset }: { release: number; preset: string }) =>
      told(
        api.POST("/api/bench/{release_id}/rip", {
          params: { path: { release_id: release } },
          body: { preset },
        }),
      ),
    begun,
  );

export const useDry = () =>
  useChange(
    (release: number) =>
      told(api.POST("/api/bench/{release_id}/dry", { params: { path: { release_id: release } } })),
    (client) => void refresh(client, queries.bench()),
  );

export const useRehearse = (id: number) =>
  useJobWork(id, (_: undefined, { version }) =>
    told(api.POST("/api/jobs/{job_id}/rehearse", { ...at(id), body: { version, loads: 200, seed: 1 } })),
  );

/** A change of what lies before the cutter: the answer is how it lies now. */
function useBedChange<Input>(run: (input: Input) => Promise<Bed>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (bed) => client.setQueryData(queries.bed(bed.release_id, bed.side).queryKey, bed),
    onSettled: () => begun(client),
  });
}

const of = (release: number) => ({ params: { path: { release_id: release } } });

export const useLoad = (release: number) =>
  useBedChange((body: Laying) => told(api.POST("/api/bench/{release_id}/load", { ...of(release), body })));

export const useScan = (release: number, side: Side) =>
  useBedChange((first: [number, number] | null) =>
    told(api.POST("/api/bench/{release_id}/scan", { ...of(release), body: { side, first } })),
  );

/** A mark is where the pointer stands, or is left out. */
export const useTakeMark = (release: number, side: Side) =>
  useBedChange(({ number, place }: { number: number; place: [number, number] | null }) =>
    told(api.POST("/api/bench/{release_id}/mark", { ...of(release), body: { side, number, place } })),
  );

export const useOrigin = (release: number, side: Side) =>
  useBedChange(({ before, moved }: { before: number; moved: [number, number] | null }) =>
    told(api.POST("/api/bench/{release_id}/origin", { ...of(release), body: { side, before, moved } })),
  );

export const useFigure = (release: number, side: Side) =>
  useMutation({
    mutationFn: (role: Tool["role"]) =>
      told(api.POST("/api/bench/{release_id}/test-cut", { ...of(release), body: { side, role } })),
  });

export const useStood = (release: number, side: Side) =>
  useBedChange((stood_s: number) =>
    told(api.POST("/api/bench/{release_id}/stood", { ...of(release), body: { side, stood_s } })),
  );

export const usePointer = (release: number) =>
  useBedChange((place: [number, number]) =>
    told(api.POST("/api/bench/{release_id}/pointer", { ...of(release), body: { place } })),
  );

export const useSaveSheet = () =>
  useChange(
    (body: Draft) => told(api.POST("/api/sheets", { body })),
    (client) => {
      begun(client);
      void refresh(client, queries.checkSheets());
    },
  );

export const useTrySheet = () =>
  useChange((body: Draft) => told(api.POST("/api/sheets/try", { body })), begun);

/** A change of the shop's tool settings: the answer is what they are now, and jobs are looked at again. */
function useToolsChange<Input>(run: (input: Input) => Promise<ShopTools>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (tools) =>
      client.setQueryData(queries.shopTools(tools.destination, tools.material).queryKey, tools),
    onSettled: () => begun(client),
  });
}

export const useKeepTool = () =>
  useToolsChange((body: { destination: string; material: string; tool: Tool; note: string }) =>
    told(api.POST("/api/shelf/tools", { body })),
  );

/** A change of the named perforations: the answer is what they are now. */
function usePatternsChange<Input>(run: (input: Input) => Promise<Pattern[]>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (patterns) => client.setQueryData(queries.patterns().queryKey, patterns),
  });
}

export const useKeepPattern = () =>
  usePatternsChange((body: { name: string; cut_mm: number; tie_mm: number; tie_force_gf: number }) =>
    told(api.POST("/api/shelf/patterns", { body })),
  );

export const useRemovePattern = () =>
  usePatternsChange((pattern: number) =>
    told(api.DELETE("/api/shelf/patterns/{pattern_id}", { params: { path: { pattern_id: pattern } } })),
  );

export const useTestCut = () =>
  useToolsChange((body: { destination: string; material: string; role: Tool["role"]; seen: SeenOutcome }) =>
    told(api.POST("/api/shelf/tools/seen", { body })),
  );
