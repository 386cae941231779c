/** Stacks of fabric: what is asked of them, and what changes them. */
import { keepPreviousData, queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { api, cookie, told, type Job, type StackBed, type StackWanted } from "./client";
import { at, begun } from "./changing";
import { queries, refresh, type Line } from "./queries";
import { api as say } from "../texts/api";

const of = (stack: number) => ({ params: { path: { stack_id: stack } } });
const given = (job: Job, stack: StackWanted) => ({
  stack,
  revision: job.revision,
});

export const stackQueries = {
  /** The stack as it would be made, with every stitch. */
  shown: (job: Job, stack: StackWanted | null) =>
    queryOptions({
      queryKey: ["stack", job.id, job.revision, stack],
      enabled: stack !== null && job.seen !== null,
      staleTime: Infinity,
      gcTime: 60_000,
      retry: false,
      placeholderData: keepPreviousData,
      queryFn: () =>
        told(
          api.POST("/api/jobs/{job_id}/stack/shown", {
            ...at(job.id),
            body: given(job, stack ?? { layers: [], formats: [], frame_mm: null, outline: "auto" }),
          }),
        ),
    }),

  /** What the file draws that a layer of fabric can be. */
  drawn: (job: Job) =>
    queryOptions({
      queryKey: ["stack drawn", job.id, job.revision],
      enabled: job.seen !== null,
      staleTime: Infinity,
      retry: false,
      queryFn: () =>
        told(
          api.GET("/api/jobs/{job_id}/stack/drawn", {
            params: { path: { job_id: job.id }, query: { revision: job.revision } },
          }),
        ),
    }),

  /** The stack cut open along a line. */
  section: (job: Job, stack: StackWanted, [[x0, y0], [x1, y1]]: Line) =>
    queryOptions({
      queryKey: ["stack section", job.id, job.revision, stack, x0, y0, x1, y1],
      staleTime: Infinity,
      gcTime: 60_000,
      retry: false,
      placeholderData: keepPreviousData,
      queryFn: () =>
        told(
          api.POST("/api/jobs/{job_id}/stack/section", {
            ...at(job.id),
            body: { ...given(job, stack), line: [x0, y0, x1, y1] },
          }),
        ),
    }),

  /** The stacks that were written, newest first. */
  packages: () => queryOptions({ queryKey: ["stacks"], queryFn: () => told(api.GET("/api/stacks")) }),

  /** A stack before the cutter. */
  bed: (stack: number) =>
    queryOptions({
      queryKey: ["stacks", stack],
      queryFn: () => told(api.GET("/api/stacks/{stack_id}", of(stack))),
    }),

  /** A stitch file as the sewing machine sews it. */
  sewn: (stack: number, format: string) =>
    queryOptions({
      queryKey: ["stacks", stack, "sewn", format],
      staleTime: Infinity,
      queryFn: () =>
        told(
          api.GET("/api/stacks/{stack_id}/sewn", {
            params: { path: { stack_id: stack }, query: { format } },
          }),
        ),
    }),
};

/** Keep a stack with the job, or take it away; the answer is the job as it is then. */
export function useKeepStack(id: number) {
  const client = useQueryClient();
  return useMutation({
    scope: { id: `job ${id}` },
    mutationFn: (stack: StackWanted | null) => {
      const version = client.getQueryData(queries.job(id).queryKey)?.version ?? 1;
      const body = { stack, version };
      return told(api.POST("/api/jobs/{job_id}/stack", { ...at(id), body }));
    },
    onSuccess: (job) => client.setQueryData(queries.job(id).queryKey, job),
    onError: () => void refresh(client, queries.job(id)),
  });
}

/** Write the files of the stack that the job has. */
export function useWriteStack(id: number) {
  const client = useQueryClient();
  return useMutation({
    scope: { id: `job ${id}` },
    mutationFn: () => {
      const version = client.getQueryData(queries.job(id).queryKey)?.version ?? 1;
      return told(api.POST("/api/jobs/{job_id}/stack/write", { ...at(id), body: { version } }));
    },
    onSettled: () => begun(client),
  });
}

export const useFabricTest = (job: Job, layer: number) =>
  useMutation({
    mutationFn: (stack: StackWanted) =>
      told(
        api.POST("/api/jobs/{job_id}/stack/test", { ...at(job.id), body: { ...given(job, stack), layer } }),
      ),
  });

/** The file of a test cut, to be put on a stick. */
export async function testFile(job: Job, stack: StackWanted, layer: number): Promise<Blob> {
  const answer = await fetch(`/api/jobs/${job.id}/stack/test/file`, {
    method: "POST",
    headers: { "Content-Type": "application/json", "X-CSRFToken": cookie("csrftoken") },
    body: JSON.stringify({ ...given(job, stack), layer }),
  });
  if (!answer.ok) throw new Error(say.theFileCouldNotBeMade);
  return answer.blob();
}

/** A change of a stack before the cutter: the answer is how it lies now. */
function useStackBed<Input>(stack: number, run: (input: Input) => Promise<StackBed>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (bed) => client.setQueryData(stackQueries.bed(stack).queryKey, bed),
    onSettled: () => void refresh(client, { queryKey: stackQueries.packages().queryKey }),
  });
}

export const useCutLayer = (stack: number) =>
  useStackBed(stack, () => told(api.POST("/api/stacks/{stack_id}/cut", of(stack))));

export const useStackAnew = (stack: number) =>
  useStackBed(stack, () => told(api.POST("/api/stacks/{stack_id}/anew", of(stack))));

export const useStackOrigin = (stack: number) =>
  useStackBed(stack, ([x_mm, y_mm]: [number, number]) =>
    told(api.POST("/api/stacks/{stack_id}/origin", { ...of(stack), body: { x_mm, y_mm } })),
  );
