/** Pointing: what lies under a place, and what can be done with just that. */
import { useQuery } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { queries } from "../../api/queries";
import { Art, artOf } from "../../stage/Art";
import type { Point, View } from "../../stage/geometry";
import { ACCENT } from "../../ui/theme";
import { currentSha, type ModeInput, type ModeView } from "./mode";
import { PointPanel } from "./PointPanel";

export function usePoint({ job, media, active }: ModeInput): ModeView {
  const [pressed, setPressed] = useState<{ at: Point; within: number; revision: number } | null>(null);
  const [looked, setLooked] = useState(0);
  const here = pressed && pressed.revision === job.revision ? pressed : null;
  const lies = useQuery(queries.lies(job, active && here ? here.at : null, here?.within ?? 0.5));
  const things = here ? (lies.data ?? []) : [];
  const shown = things[looked];
  const sha = currentSha(job);
  const revision = job.revision;
  const pick = useCallback(
    (at: Point, within: number) => {
      setPressed({ at, within, revision });
      setLooked(0);
    },
    [revision],
  );
  const draw = useCallback(
    (view: View, size: [number, number]) => (
      <>
        <Art source={artOf(job.id, sha)} media={media} view={view} size={size} />
        {here && (
          <path
            d={`M${here.at[0] - 7 / view.k} ${here.at[1]}h${14 / view.k}M${here.at[0]} ${here.at[1] - 7 / view.k}v${14 / view.k}`}
            stroke="#1A1A1A"
            strokeWidth={1.5}
            vectorEffect="non-scaling-stroke"
          />
        )}
        {shown &&
          ["#fff", ACCENT].map((colour, i) => (
            <path
              key={colour}
              data-testid="pointed"
              d={shown.outline || boxPath(shown.box)}
              fill="none"
              stroke={colour}
              strokeWidth={5 - 2.5 * i}
              vectorEffect="non-scaling-stroke"
            />
          ))}
      </>
    ),
    [job.id, sha, media, here, shown],
  );
  const aside = (
    <PointPanel
      job={job}
      things={things}
      pressed={here !== null}
      pending={lies.isFetching}
      error={lies.error?.message ?? ""}
      looked={looked}
      onLook={setLooked}
    />
  );
  return { draw, aside, pick };
}

const boxPath = (box: number[]) => {
  const [x0, y0, x1, y1] = box;
  return `M${x0} ${y0}L${x1} ${y0}L${x1} ${y1}L${x0} ${y1}Z`;
};
