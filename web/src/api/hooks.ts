/** Server state: every question and every change that the screens make. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, told, type Answers, type Draft, type Job, type JobChange, type JobRow, type Mend, type Work } from "./client";

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

const at = (id: number) => ({ params: { path: { job_id: id } } });

export const useJobChange = (id: number) =>
  useChange((body: JobChange) => told(api.PATCH("/api/jobs/{job_id}", { ...at(id), body })));

export const useAnswers = (id: number) =>
  useChange((body: Partial<Answers>) => told(api.POST("/api/jobs/{job_id}/answers", { ...at(id), body: { each_page: false, ...body } })));

export const useSection = (job: Job, [[x0, y0], [x1, y1]]: [[number, number], [number, number]]) =>
  useQuery({
    queryKey: ["section", job.id, job.revision, job.material_id, job.plates?.sha256, x0, y0, x1, y1],
    staleTime: Infinity,
    retry: false,
    queryFn: () => told(api.GET("/api/jobs/{job_id}/section", { params: { path: { job_id: job.id }, query: { x0, y0, x1, y1 } } })),
  });

/** The tint of every ink at a place, 0 to 255. */
export const inkAmounts = (job: number, [x, y]: [number, number]) =>
  told(api.GET("/api/jobs/{job_id}/amounts", { params: { path: { job_id: job }, query: { x, y } } }));

export const useMend = (id: number) =>
  useChange((body: Mend) => told(api.POST("/api/jobs/{job_id}/mends", { ...at(id), body })));

export const useUndo = (id: number) => useChange(() => told(api.POST("/api/jobs/{job_id}/undo", at(id))));

export const useSettle = (id: number) =>
  useChange((body: { key: string; reason: string }) => told(api.POST("/api/jobs/{job_id}/settled", { ...at(id), body })));

export const useUnsettle = (id: number) =>
  useChange((key: string) => told(api.DELETE("/api/jobs/{job_id}/settled/{key}", { params: { path: { job_id: id, key } } })));

/** The edge map of a job as it was checked last. */
export const useEdges = (job: Job, wanted: boolean) =>
  useQuery({
    queryKey: ["edges", job.id, job.revision, job.art_sha256, job.findings.map((f) => f.key).join()],
    enabled: wanted && job.has_edges,
    staleTime: Infinity,
    queryFn: () => told(api.GET("/api/jobs/{job_id}/edges", at(job.id))),
  });

export const useLanding = (job: Job, offset: { dx: number; dy: number; turn: number; stretch_x: number; stretch_y: number }, wanted: boolean) =>
  useQuery({
    queryKey: ["landing", job.id, job.revision, job.findings.map((f) => f.key).join(), offset],
    enabled: wanted && job.has_edges,
    staleTime: Infinity,
    placeholderData: (before) => before,
    queryFn: () => told(api.GET("/api/jobs/{job_id}/landing", { params: { path: { job_id: job.id }, query: offset } })),
  });

export const useLetter = (id: number, keys: string[]) =>
  useQuery({
    queryKey: ["letter", id, keys.join()],
    enabled: keys.length > 0,
    queryFn: () => told(api.POST("/api/jobs/{job_id}/letter", { ...at(id), body: { keys } })),
  });

export const useCheckSheets = () => useQuery({ queryKey: ["sheets"], queryFn: () => told(api.GET("/api/sheets")) });

export const useSaveSheet = () => useChange((body: Draft) => told(api.POST("/api/sheets", { body })));

export const useTrySheet = () => useChange((body: Draft) => told(api.POST("/api/sheets/try", { body })));

export const useWork = (id: number | undefined) =>
  useQuery({
    queryKey: ["work", id],
    enabled: id !== undefined,
    refetchInterval: (query) => (running(query.state.data as Work | undefined) ? 300 : false),
    queryFn: () => told(api.GET("/api/works/{work_id}", { params: { path: { work_id: id ?? 0 } } })),
  });

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
