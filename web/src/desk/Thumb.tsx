/** The artwork with its lines, small. */
import { Box } from "@mui/material";
import type { JobRow } from "../api/client";
import { Art, artOf } from "../stage/Art";
import { RoleLine } from "../stage/RoleLine";
import { fit, type Box as Bounds } from "../stage/geometry";

const SIDE = 72;
const WHOLE: [number, number] = [SIDE, SIDE];

export function Thumb({ job }: { job: JobRow }) {
  const media = job.media_box_mm as Bounds;
  if (media.length !== 4 || !job.art_sha256)
    return <Box sx={{ width: SIDE, height: SIDE, bgcolor: "#EEE" }} />;
  const view = fit(media, SIDE, SIDE, 2);
  return (
    <svg width={SIDE} height={SIDE} style={{ background: "#EEE", flex: "none" }} aria-hidden>
      <g transform={`matrix(${view.k} 0 0 ${-view.k} ${view.x} ${view.y})`}>
        <Art source={artOf(job.id, job.art_sha256)} media={media} />
        {job.drawn.map((line) => (
          <RoleLine
            key={line.role + line.ink + line.hidden}
            role={line.role}
            path={line.path}
            view={view}
            size={WHOLE}
          />
        ))}
      </g>
    </svg>
  );
}
