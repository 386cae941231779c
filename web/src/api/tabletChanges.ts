/** What the tablet beside the cutter asks and says. */
import { queryOptions, useMutation, useQueryClient } from "@tanstack/react-query";
import { api, told, type AtCutter, type Side } from "./client";

export const tabletQueries = {
  atTheCutter: (code: string) =>
    queryOptions({
      queryKey: ["bench", "tablet", code],
      retry: false,
      queryFn: (): Promise<AtCutter> =>
        /^\d+$/.test(code)
          ? told(
              api.GET("/api/at-the-cutter/package/{release_id}", {
                params: { path: { release_id: Number(code) } },
              }),
            )
          : told(api.GET("/api/at-the-cutter/{code}", { params: { path: { code } } })),
    }),
};

/** Whatever is said, the sheet and its bed are asked for anew. */
function useSaid<Input, Output>(run: (input: Input) => Promise<Output>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSettled: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: ["bench"] }),
        client.invalidateQueries({ queryKey: ["bed"] }),
        client.invalidateQueries({ queryKey: ["works"] }),
      ]),
  });
}

const of = (release: number) => ({ params: { path: { release_id: release } } });

export const useMarksSaid = (release: number) =>
  useSaid((marks: "found" | "lost") =>
    told(api.POST("/api/bench/{release_id}/marks-said", { ...of(release), body: { marks } })),
  );

export const useLoadHere = (release: number) =>
  useSaid((side: Side) =>
    told(
      api.POST("/api/bench/{release_id}/load", { ...of(release), body: { side, seed: 1, turned: false } }),
    ),
  );

export const useScanAgain = (release: number) =>
  useSaid((side: Side) =>
    told(api.POST("/api/bench/{release_id}/scan", { ...of(release), body: { side, first: null } })),
  );

export const useKnownHere = (release: number) =>
  useSaid((side: Side) =>
    told(api.POST("/api/bench/{release_id}/known", { ...of(release), body: { side } })),
  );

export const useBeginHere = (release: number) =>
  useSaid((side: Side) =>
    told(api.POST("/api/bench/{release_id}/begin", { ...of(release), body: { side } })),
  );

export const useOffHere = (release: number) =>
  useSaid((side: Side) => told(api.POST("/api/bench/{release_id}/off", { ...of(release), body: { side } })));

export const useStoodHere = (release: number) =>
  useSaid(({ side, stood_s }: { side: Side; stood_s: number }) =>
    told(api.POST("/api/bench/{release_id}/stood", { ...of(release), body: { side, stood_s } })),
  );

export const useSpoiltHere = () =>
  useSaid(({ sheet, pieces }: { sheet: number; pieces: number[] }) =>
    told(api.POST("/api/queues/cutter/{id}/spoilt", { params: { path: { id: sheet } }, body: { pieces } })),
  );

export const useCutAgain = () =>
  useSaid((sheet: number) =>
    told(api.POST("/api/queues/cutter/{id}/cut-again", { params: { path: { id: sheet } } })),
  );
