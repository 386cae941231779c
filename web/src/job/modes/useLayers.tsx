/** One layer at a time, hidden ones too. */
import { useCallback } from "react";
import { Art, artOf } from "../../stage/Art";
import type { View } from "../../stage/geometry";
import { LayerPanel } from "./LayerPanel";
import { currentSha, type ModeInput, type ModeView } from "./mode";

export function useLayers({ job, media, get, set }: ModeInput): ModeView {
  const layer = get("layer") ?? "whole";
  const sha = currentSha(job);
  const draw = useCallback(
    (view: View, size: [number, number]) => (
      <Art key={layer} source={artOf(job.id, sha, layer)} media={media} view={view} size={size} />
    ),
    [job.id, sha, layer, media],
  );
  const aside = <LayerPanel job={job} chosen={layer} onChoose={(view) => set({ layer: view })} />;
  return { draw, aside, ownLines: true };
}
