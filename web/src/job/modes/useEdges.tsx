/** The edge map over the colour, and what a cut that lands off would show. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { queries, type Misregistration } from "../../api/queries";
import { NOWHERE } from "../../stage/edges";
import type { View } from "../../stage/geometry";
import { EdgeLayer, LandedCut } from "./EdgeLayer";
import { EdgePanel } from "./EdgePanel";
import type { ModeInput, ModeView } from "./mode";
import { useColour } from "./useColour";

export function useEdges(input: ModeInput): ModeView {
  const { job, active, go } = input;
  const [offset, setOffset] = useState<Misregistration>(NOWHERE);
  const [of, setOf] = useState("colour");
  const edges = useQuery(queries.edges(job, active));
  const moved = Object.values(offset).some((value) => value !== 0);
  const landing = useQuery({
    ...queries.landing(job, offset, active && moved),
    placeholderData: keepPreviousData,
  });
  const colour = useColour(input).draw;
  const map = edges.data;
  const slivers = moved ? landing.data : undefined;
  const layer = map && of in map.layers ? of : "colour";
  const draw = useCallback(
    (view: View, size: [number, number]) => (
      <>
        {colour(view, size)}
        {map && <EdgeLayer edges={map} layer={layer} k={view.k} />}
        {map && moved && <LandedCut edges={map} offset={offset} landing={slivers} />}
      </>
    ),
    [colour, map, layer, moved, offset, slivers],
  );
  const panel = (
    <EdgePanel
      job={job}
      edges={map}
      error={edges.error?.message ?? ""}
      layer={layer}
      onLayer={setOf}
      offset={offset}
      onOffset={setOffset}
      landing={slivers}
      onGo={go}
    />
  );
  return { draw, panel };
}
