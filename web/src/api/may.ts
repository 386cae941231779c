/** What the person who is logged in may do. The server holds to it; a screen says it before it is asked. */
import { useQuery } from "@tanstack/react-query";
import type { Right } from "./client";
import { queries } from "./queries";

/** Whether the person has a right; while nobody knows who it is, nothing is held back. */
export function useMay(right: Right): boolean {
  const me = useQuery({ ...queries.me(), enabled: false });
  return me.data?.rights.includes(right) ?? true;
}
