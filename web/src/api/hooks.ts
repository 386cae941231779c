/** Server state: every question and every change that the screens make. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, told, type Job, type JobChange, type JobRow, type Mend, type Work } from "./client";

const running = (work: Work | null | undefined) => work?.state === "waiting" || work?.state === "running";

export const useMe = () =>
  useQuery({ queryKey: ["me"], queryFn: () => told(api.GET("/api/me")), retry: false });

export const useJobs = () =>
  useQuery({
    queryKey: ["jobs"],
    queryFn: () => told(api.GET("/api/jobs")),
    refetchInterval: (query) => ((query.state.data as JobRow[] | undefined)?.some((j) => running(j.work)) ? 500 : false),
  });

export const useJob = (id: number) =>
  useQuery({
    queryKey: ["job", id],
    queryFn: () => told(api.GET("/api/jobs/{job_id}", { params: { path: { job_id: id } } })),
    refetchInterval: (query) => (running((query.state.data as Job | undefined)?.work) ? 400 : false),
  });

export const useShelf = () =>
  useQuery({ queryKey: ["shelf"], queryFn: () => told(api.GET("/api/shelf")), staleTime: Infinity });

export const useBench = (poll: boolean) =>
  useQuery({
    queryKey: ["bench"],
    queryFn: () => told(api.GET("/api/bench")),
    refetchInterval: poll ? 500 : false,
  });

export const usePlayback = (release: number | undefined) =>
  useQuery({
    queryKey: ["play", release],
    enabled: release !== undefined,
    staleTime: Infinity,
    queryFn: () =>
      told(api.GET("/api/bench/{release_id}/play", { params: { path: { release_id: release ?? 0 } } })),
  });

/** A change that makes what is shown out of date. */
function useChange<Input, Output>(run: (input: Input) => Promise<Output>) {
  const client = useQueryClient();
  return useMutation({ mutationFn: run, onSettled: () => client.invalidateQueries() });
}

export const useLogin = () =>
  useChange((body: { name: string; password: string }) => told(api.POST("/api/login", { body })));

export const useLogout = () => useChange(() => told(api.POST("/api/logout")));

export const useTakeIn = () =>
  useChange(async (files: File[]) => {
    const refused: string[] = [];
    for (const file of files) {
      const form = new FormData();
      form.append("file", file);
      try {
        await told(
          api.POST("/api/jobs", { body: { file: "" }, bodySerializer: () => form }),
        );
      } catch (error) {
        refused.push((error as Error).message);
      }
    }
    if (refused.length) throw new Error(refused.join(" "));
  });

const at = (id: number) => ({ params: { path: { job_id: id } } });

export const useJobChange = (id: number) =>
  useChange((body: JobChange) => told(api.PATCH("/api/jobs/{job_id}", { ...at(id), body })));

export const useMend = (id: number) =>
  useChange((body: Mend) => told(api.POST("/api/jobs/{job_id}/mends", { ...at(id), body })));

export const useUndo = (id: number) => useChange(() => told(api.POST("/api/jobs/{job_id}/undo", at(id))));

export const useRelease = (id: number) =>
  useChange(() => told(api.POST("/api/jobs/{job_id}/release", at(id))));

export const useCancel = () =>
  useChange((work: number) =>
    told(api.POST("/api/works/{work_id}/cancel", { params: { path: { work_id: work } } })),
  );

export const useRip = () =>
  useChange((release: number) =>
    told(api.POST("/api/bench/{release_id}/rip", { params: { path: { release_id: release } } })),
  );
