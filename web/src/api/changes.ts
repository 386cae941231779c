/** Every change that the screens make, and which questions it makes out of date. */
import { useMutation, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { api, told, type Answers, type Draft, type Job, type JobChange, type Mend } from "./client";
import { queries, refresh } from "./queries";

type Stale = (client: QueryClient) => void;
const at = (id: number) => ({ params: { path: { job_id: id } } });

/** A change; afterwards, whether it was made or refused, what it may have touched is asked anew. */
function useChange<Input, Output>(run: (input: Input) => Promise<Output>, stale: Stale) {
  const client = useQueryClient();
  return useMutation({ mutationFn: run, onSettled: () => stale(client) });
}

const begun: Stale = (client) => void refresh(client, queries.works());

/** A job and the work that was begun on it. */
const ofJob =
  (id: number): Stale =>
  (client) => {
    begun(client);
    void refresh(client, queries.job(id));
    void refresh(client, queries.jobs());
  };

/** A change that answers with the job as it is now. */
function useJobAnswer<Input>(id: number, run: (input: Input) => Promise<Job>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: async (job) => {
      await client.cancelQueries({ queryKey: queries.job(id).queryKey });
      client.setQueryData(queries.job(id).queryKey, job);
    },
    onSettled: () => {
      begun(client);
      void refresh(client, queries.jobs());
    },
  });
}

const everything: Stale = (client) => void client.invalidateQueries();

export const useLogin = () =>
  useChange((body: { name: string; password: string }) => told(api.POST("/api/login", { body })), everything);

export const useLogout = () => useChange(() => told(api.POST("/api/logout")), everything);

export const useJobChange = (id: number) =>
  useJobAnswer(id, (body: JobChange) => told(api.PATCH("/api/jobs/{job_id}", { ...at(id), body })));

export const useSettle = (id: number) =>
  useJobAnswer(id, (body: { key: string; reason: string }) =>
    told(api.POST("/api/jobs/{job_id}/decisions", { ...at(id), body })),
  );

export const useUnsettle = (id: number) =>
  useJobAnswer(id, (key: string) =>
    told(api.DELETE("/api/jobs/{job_id}/decisions/{key}", { params: { path: { job_id: id, key } } })),
  );

export const useAnswers = (id: number) =>
  useChange(
    (body: Partial<Answers>) =>
      told(api.POST("/api/jobs/{job_id}/answers", { ...at(id), body: { each_page: false, ...body } })),
    ofJob(id),
  );

export const useMend = (id: number) =>
  useChange(
    ({ kind, settings }: Mend) =>
      told(api.POST("/api/jobs/{job_id}/mends", { ...at(id), body: { kind, settings } })),
    ofJob(id),
  );

export const useUndo = (id: number) =>
  useChange(() => told(api.POST("/api/jobs/{job_id}/undo", at(id))), ofJob(id));

export const useRelease = (id: number) =>
  useChange(() => told(api.POST("/api/jobs/{job_id}/release", at(id))), ofJob(id));

export const useCancel = () =>
  useChange(
    (work: number) => told(api.POST("/api/works/{work_id}/cancel", { params: { path: { work_id: work } } })),
    begun,
  );

export const useRip = () =>
  useChange(
    (release: number) =>
      told(api.POST("/api/bench/{release_id}/rip", { params: { path: { release_id: release } } })),
    begun,
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
