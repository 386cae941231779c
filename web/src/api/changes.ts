/** Every change that the screens make, and which questions it makes out of date. */
import { useMutation, useQueryClient, type QueryClient } from "@tanstack/react-query";
import {
  api,
  told,
  type Answers,
  type Job,
  type JobChange,
  type LineFormat,
  type MendAsked,
  type Work,
} from "./client";
import { at, begun, useChange, type Stale } from "./changing";
import { queries, refresh } from "./queries";

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
    mutationFn: (body: { name: string; password: string; code: string }) =>
      told(api.POST("/api/login", { body })),
    onSuccess: () => everything(client),
  });
}

/** Joins by a link, and is let in; `then` leads on, before what is asked anew takes the page away. */
export function useJoin(then: () => void) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: { token: string; name: string; password: string }) =>
      told(api.POST("/api/join", { body })),
    onSuccess: () => {
      then();
      everything(client);
    },
  });
}

const meAnew: Stale = (client) => void refresh(client, queries.me());

export const useBeginSecondStep = () => useChange(() => told(api.POST("/api/me/second-step")), meAnew);

export const useConfirmSecondStep = () =>
  useChange((code: string) => told(api.POST("/api/me/second-step/confirm", { body: { code } })), meAnew);

export const useEndSecondStep = () =>
  useChange((password: string) => told(api.POST("/api/me/second-step/off", { body: { password } })), meAnew);

/** A released job goes by the Shelf as it is now. */
export const useTakeNewer = (id: number) =>
  useJobAnswer(id, (_: undefined, { version }) =>
    told(api.POST("/api/jobs/{job_id}/shelf", { ...at(id), body: { version } })),
  );

export const useLogout = () => useChange(() => told(api.POST("/api/logout")), everything);

export const usePassword = () =>
  useChange(
    (body: { present: string; new: string }) => told(api.POST("/api/me/password", { body })),
    (client) => {
      void refresh(client, queries.me());
      void refresh(client, queries.logIns());
    },
  );

/** One of one's own log-ins is ended; the answer is what is left. */
export const useEndLogIn = () =>
  useChange(
    (log_in_id: number) =>
      told(api.DELETE("/api/me/log-ins/{log_in_id}", { params: { path: { log_in_id } } })),
    (client) => void refresh(client, queries.logIns()),
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

/** Orders a job again: a new one with its artwork, lines and layout. */
export const useRepeat = (id: number) =>
  useChange(
    (quantity: number) => told(api.POST("/api/jobs/{job_id}/repeat", { ...at(id), body: { quantity } })),
    (client) => {
      begun(client);
      void refresh(client, queries.lists());
    },
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
  useJobWork(id, ({ kind, settings, then = [] }: MendAsked, { version, revision }) =>
    told(
      api.POST("/api/jobs/{job_id}/mends", { ...at(id), body: { kind, settings, then, version, revision } }),
    ),
  );

export const useMendSafely = (id: number) =>
  useJobWork(id, (_: undefined, { version, revision }) =>
    told(api.POST("/api/jobs/{job_id}/mends/safe", { ...at(id), body: { version, revision } })),
  );

/** Let what was done alike to several files of a job's customer be done always, or never be offered again. */
export const useAlways = (id: number) =>
  useJobAnswer(id, (take: boolean) =>
    told(api.POST("/api/jobs/{job_id}/always", { ...at(id), body: { take } })),
  );

/** What the customer's files were given before, as far as this one wants it. */
export const useMendAsBefore = (id: number) =>
  useJobWork(id, (_: undefined, { version, revision }) =>
    told(api.POST("/api/jobs/{job_id}/mends/as-before", { ...at(id), body: { version, revision } })),
  );

/** What was done by hand on the file before, done on the corrected one; each step is proved. */
export const useRedo = (id: number) =>
  useJobWork(id, (steps: number[], { version, revision }) =>
    told(api.POST("/api/jobs/{job_id}/redo", { ...at(id), body: { version, revision, steps } })),
  );

export const useUndo = (id: number) =>
  useJobWork(id, (_: undefined, { version }) =>
    told(api.POST("/api/jobs/{job_id}/undo", { ...at(id), body: { version } })),
  );

/** The same of a job in a list, of which no more is known than its row. */
export const useTakeBack = () =>
  useChange(
    ({ id, version }: Pick<Job, "id" | "version">) =>
      told(api.POST("/api/jobs/{job_id}/undo", { ...at(id), body: { version } })),
    (client) => {
      begun(client);
      void refresh(client, queries.lists());
    },
  );

/** A mend carried out to be looked at; the job stays as it is. */
export const usePreview = (id: number) =>
  useJobWork(id, ({ kind, settings, then = [] }: MendAsked, { version, revision }) =>
    told(
      api.POST("/api/jobs/{job_id}/previews", {
        ...at(id),
        body: { kind, settings, then, version, revision },
      }),
    ),
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

/** Writes the package; `also` are formats beside HP-GL that its lines are written in. */
export const useRelease = (id: number) =>
  useJobWork(id, (also: LineFormat[], seen) =>
    told(api.POST("/api/jobs/{job_id}/release", { ...at(id), body: { ...seen, also } })),
  );

export const useCancel = () =>
  useChange(
    (work: number) => told(api.POST("/api/works/{work_id}/cancel", { params: { path: { work_id: work } } })),
    begun,
  );

export const useRehearse = (id: number) =>
  useJobWork(id, (_: undefined, { version }) =>
    told(api.POST("/api/jobs/{job_id}/rehearse", { ...at(id), body: { version, loads: 200, seed: 1 } })),
  );
