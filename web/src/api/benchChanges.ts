/** Changes at the bench: prints, sheets before the cutter, test cuts, what is handed over. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import {
  api,
  told,
  type Bed,
  type HandOverWay,
  type Laying,
  type LineFormat,
  type RipReport,
  type Side,
  type Tool,
} from "./client";
import { begun, useChange } from "./changing";
import { queries, refresh } from "./queries";

export const useHandOver = (release: number, side: Side) =>
  useMutation({
    mutationFn: ({ way, format }: { way: HandOverWay; format: LineFormat }) =>
      told(
        api.POST("/api/bench/{release_id}/hand-over", {
          params: { path: { release_id: release } },
          body: { way, side, format },
        }),
      ),
  });

export const useRip = () =>
  useChange(
    ({ release, preset, report }: { release: number; preset: string; report: RipReport }) =>
      told(
        api.POST("/api/bench/{release_id}/rip", {
          params: { path: { release_id: release } },
          body: { preset, report },
        }),
      ),
    (client) => {
      begun(client);
      void refresh(client, queries.bench());
    },
  );

export const useDry = () =>
  useChange(
    (release: number) =>
      told(api.POST("/api/bench/{release_id}/dry", { params: { path: { release_id: release } } })),
    (client) => void refresh(client, queries.bench()),
  );

/** A change of what lies before the cutter: the answer is how it lies now. */
function useBedChange<Input>(run: (input: Input) => Promise<Bed>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (bed) => client.setQueryData(queries.bed(bed.release_id, bed.side).queryKey, bed),
    onSettled: () => {
      begun(client);
      void refresh(client, queries.bench());
    },
  });
}

const of = (release: number) => ({ params: { path: { release_id: release } } });

export const useLoad = (release: number) =>
  useBedChange((body: Laying) => told(api.POST("/api/bench/{release_id}/load", { ...of(release), body })));

/** A person has looked at what lies there, and says that it is the sheet. */
export const useKnown = (release: number, side: Side) =>
  useBedChange(() => told(api.POST("/api/bench/{release_id}/known", { ...of(release), body: { side } })));

export const useTakeOff = (release: number, side: Side) =>
  useBedChange(() => told(api.POST("/api/bench/{release_id}/off", { ...of(release), body: { side } })));

/** The cut begins, or goes on: refused while nobody knows which sheet lies there. */
export const useBegin = (release: number, side: Side) =>
  useBedChange(() => told(api.POST("/api/bench/{release_id}/begin", { ...of(release), body: { side } })));

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
