/** Changes of who works here: people, roles, invitations; each answers with everybody as they are now. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, told, type Right, type Staff } from "./client";
import { queries, refresh } from "./queries";

function useStaffChange<Input>(run: (input: Input) => Promise<Staff>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (staff) => {
      client.setQueryData(queries.staff().queryKey, staff);
      void refresh(client, queries.me());
      void refresh(client, queries.people());
    },
  });
}

const person = (id: number) => ({ params: { path: { person_id: id } } });
const role = (id: number) => ({ params: { path: { role_id: id } } });

export const useChangePerson = () =>
  useStaffChange(({ id, ...body }: { id: number; roles?: number[]; active?: boolean }) =>
    told(api.PATCH("/api/staff/{person_id}", { ...person(id), body })),
  );

export const useLogOutPerson = () =>
  useStaffChange((id: number) => told(api.DELETE("/api/staff/{person_id}/log-ins", person(id))));

export const usePutOffSecondStep = () =>
  useStaffChange((id: number) => told(api.DELETE("/api/staff/{person_id}/second-step", person(id))));

export const useKeepRole = () =>
  useStaffChange(({ id, ...body }: { id: number | null; name: string; rights: Right[] }) =>
    id === null
      ? told(api.POST("/api/roles", { body }))
      : told(api.PUT("/api/roles/{role_id}", { ...role(id), body })),
  );

export const useRemoveRole = () =>
  useStaffChange((id: number) => told(api.DELETE("/api/roles/{role_id}", role(id))));

export const useWithdraw = () =>
  useStaffChange((id: number) =>
    told(api.DELETE("/api/invites/{invite_id}", { params: { path: { invite_id: id } } })),
  );

/** An invitation: its link is told this once. */
export function useInvite() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: { roles: number[]; note: string }) => told(api.POST("/api/invites", { body })),
    onSuccess: ({ staff }) => client.setQueryData(queries.staff().queryKey, staff),
  });
}
