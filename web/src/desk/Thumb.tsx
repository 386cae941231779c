/** The artwork with its lines, small. */
import { Box } from "@mui/material";
import { useJob } from "../api/hooks";
import type { JobRow } from "../api/client";
import { Art } from "../stage/Art";
import { RoleLine } from "../stage/RoleLine";
import { fit, type Box as Bounds } from "../stage/geometry";

const SIDE = 72;

export function Thumb({ job }: { job: JobRow }) {
  const whole = useJob(job.id);
  const seen = whole.data?.seen;
  const media = seen?.media_box_mm as Bounds | undefined;
  if (!seen || !media || !whole.data?.art_sha256)
    return <Box sx={{ width: SIDE, height: SIDE, bgcolor: "#EEE" }} />;
  const view = fit(media, SIDE, SIDE, 2);
  return (
    <svg width={SIDE} height={SIDE} style={{ background: "#EEE", flex: "none" }} aria-hidden>
      <g transform={`matrix(${view.k} 0 0 ${-view.k} ${view.x} ${view.y})`}>
        <Art job={job.id} art={whole.data.art_sha256} media={media} />
        {seen.drawn.map((line) => <RoleLine key={line.role + line.ink} role={line.role} path={line.path} />)}
      </g>
    </svg>
  );
}
