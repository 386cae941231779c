/** In which further formats lines are written: as the destination has it, until a person says otherwise. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { LineFormat } from "../../api/client";
import { queries } from "../../api/queries";

export function useAlso(destination: string) {
  const shelf = useQuery(queries.shelf());
  const [own, setOwn] = useState<LineFormat[] | null>(null);
  const usual = shelf.data?.destinations.find((one) => one.id === destination)?.formats ?? [];
  return [own ?? (usual as LineFormat[]), setOwn] as const;
}
