/** What every change has: what it may have touched is asked anew. */
import { useMutation, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { queries, refresh } from "./queries";

export type Stale = (client: QueryClient) => void;
export const at = (id: number) => ({ params: { path: { job_id: id } } });

/** A change; afterwards, whether it was made or refused, what it may have touched is asked anew. */
export function useChange<Input, Output>(run: (input: Input) => Promise<Output>, stale: Stale) {
  const client = useQueryClient();
  return useMutation({ mutationFn: run, onSettled: () => stale(client) });
}

export const begun: Stale = (client) => void refresh(client, queries.works());
