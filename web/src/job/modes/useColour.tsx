/** The colour of the art. */
import { useCallback } from "react";
import { Art, artOf } from "../../stage/Art";
import type { View } from "../../stage/geometry";
import { currentSha, type ModeInput, type ModeView } from "./mode";

export function useColour({ job, media, alone }: ModeInput): ModeView {
  const sha = currentSha(job);
  const draw = useCallback(
    (view: View, size: [number, number]) =>
      alone ? null : <Art source={artOf(job.id, sha)} media={media} view={view} size={size} />,
    [job.id, sha, media, alone],
  );
  return { draw };
}
