/** Changes of sheets that jobs share. */
import { useMutation, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { api, told, type Shared, type SharedChange, type LineFormat } from "./client";
import { begun } from "./changing";
import { queries, refresh } from "./queries";

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
    (also: LineFormat[], version, found) =>
      told(
        api.POST("/api/shared-sheets/{sheet_id}/release", {
          ...sheetAt(id),
          body: { version, found, also },
        }),
      ),
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
