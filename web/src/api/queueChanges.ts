/** The queues of RIP and cutter, and what is changed in them: each answer is how they stand now. */
import { queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { api, told, type Queues } from "./client";
import { queries, refresh } from "./queries";

export type Which = "rip" | "cutter";

export const queueQueries = {
  queues: () =>
    queryOptions({
      queryKey: ["bench", "queues"],
      queryFn: () => told(api.GET("/api/queues")),
      refetchInterval: 15_000,
    }),
};

/** The order in which they are to stand is shown at once; the server has the last word. */
function useQueueChange<Input>(run: (input: Input) => Promise<Queues>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (now) => client.setQueryData(queueQueries.queues().queryKey, now),
    onSettled: () => {
      void refresh(client, queries.bench());
      void refresh(client, queries.works());
      void client.invalidateQueries({ queryKey: ["bed"] });
    },
  });
}

const at = (which: Which, id: number) => ({ params: { path: { which, id } } });
const one = (id: number) => ({ params: { path: { id } } });

export const useMove = (which: Which) =>
  useQueueChange(({ id, before }: { id: number; before: number | null }) =>
    told(api.POST("/api/queues/{which}/{id}/move", { ...at(which, id), body: { before } })),
  );

export const useHold = (which: Which) =>
  useQueueChange(({ id, held }: { id: number; held: boolean }) =>
    told(api.POST("/api/queues/{which}/{id}/hold", { ...at(which, id), body: { held } })),
  );

export const useCancelQueued = (which: Which) =>
  useQueueChange((id: number) => told(api.POST("/api/queues/{which}/{id}/cancel", at(which, id))));

export const usePrintAgain = () =>
  useQueueChange((id: number) => told(api.POST("/api/queues/rip/{id}/again", one(id))));

export const useEarly = () =>
  useQueueChange(({ id, reason }: { id: number; reason: string }) =>
    told(api.POST("/api/queues/cutter/{id}/early", { ...one(id), body: { reason } })),
  );

export const useLaminated = () =>
  useQueueChange((id: number) => told(api.POST("/api/queues/cutter/{id}/laminated", one(id))));
