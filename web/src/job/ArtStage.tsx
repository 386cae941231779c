/** The artwork on the stage with its lines by role, and the places of findings. */
import { ToggleButton, ToggleButtonGroup } from "@mui/material";
import { useMemo, useState } from "react";
import type { Finding, Job } from "../api/client";
import { Art } from "../stage/Art";
import { grow, type Box } from "../stage/geometry";
import { RoleLine } from "../stage/RoleLine";
import { Stage } from "../stage/Stage";
import { LOOK, STOP } from "../theme";

export function ArtStage({ job, chosen, only }: { job: Job; chosen?: Finding | null; only?: string | null }) {
  const [shows, setShows] = useState("both");
  const seen = job.seen;
  const media = useMemo(() => (seen?.media_box_mm ?? [0, 0, 100, 100]) as Box, [seen]);
  const trim = (seen?.trim_box_mm ?? media) as Box;
  const goTo = useMemo(() => {
    const place = chosen?.where[0] as Box | undefined;
    return place ? { box: place } : null;
  }, [chosen]);
  if (!seen) return <Stage bounds={media} label="No artwork yet">{() => null}</Stage>;
  return (
    <Stage
      bounds={media}
      goTo={goTo}
      label={`Artwork ${job.name}`}
      tools={
        <ToggleButtonGroup size="small" exclusive value={shows} onChange={(_, next) => next && setShows(next)} aria-label="what the stage shows">
          <ToggleButton value="both">Art and lines</ToggleButton>
          <ToggleButton value="art">Art alone</ToggleButton>
          <ToggleButton value="lines">Lines alone</ToggleButton>
        </ToggleButtonGroup>
      }
    >
      {(view, size) => (
        <>
          <rect x={media[0]} y={media[1]} width={media[2] - media[0]} height={media[3] - media[1]} fill="#fff" />
          {shows !== "lines" && <Art job={job.id} art={job.art_sha256} media={media} view={view} size={size} />}
          <rect x={trim[0]} y={trim[1]} width={trim[2] - trim[0]} height={trim[3] - trim[1]} fill="none"
            stroke="#777" strokeDasharray="2 3" vectorEffect="non-scaling-stroke" />
          {shows !== "art" && seen.drawn
            .filter((line) => !only || line.role === only)
            .map((line) => <RoleLine key={line.role + line.ink} role={line.role} path={line.path} label={`${line.role} in ${line.ink}`} />)}
          {chosen?.where.map((place, i) => {
            const [x0, y0, x1, y1] = grow(place as Box, 6 / view.k);
            return (
              <g key={i} data-testid="place">
                {["#fff", chosen.severity === "stop" ? STOP : LOOK].map((colour, n) => (
                  <rect key={colour} x={x0} y={y0} width={x1 - x0} height={y1 - y0} fill="none" stroke={colour}
                    strokeWidth={(i === 0 ? 5 : 3.5) - 2.5 * n} vectorEffect="non-scaling-stroke" />
                ))}
              </g>
            );
          })}
        </>
      )}
    </Stage>
  );
}
