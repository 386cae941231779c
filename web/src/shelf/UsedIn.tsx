/** Where a thing is in use: by what is made of it, and by jobs. */
import { Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { ShelfThingWhole } from "../api/client";
import { plural } from "../ui/words";

const SHOWN = 12;

export function UsedIn({ whole }: { whole: ShelfThingWhole }) {
  const { things, jobs, job_count, released } = whole;
  const nowhere = !things.length && !job_count && !released;
  return (
    <Stack spacing={0.5} component="section" aria-label="in use">
      <Typography variant="h2">In use</Typography>
      {nowhere && <Typography variant="body2">Nowhere yet; it can be removed.</Typography>}
      {things.map((one) => (
        <Typography key={one.id} variant="body2">
          {one.one} <Link to={`/shelf/${one.kind}/${one.id}`}>{one.title}</Link>
        </Typography>
      ))}
      {job_count > 0 && <Typography variant="subtitle2">{plural(job_count, "job")}</Typography>}
      {jobs.slice(0, SHOWN).map((job) => (
        <Typography key={job.id} variant="body2" sx={{ overflowWrap: "anywhere" }}>
          <Link to={`/jobs/${job.id}`}>{job.name}</Link>
        </Typography>
      ))}
      {job_count > SHOWN && <Typography variant="body2">and {job_count - SHOWN} more</Typography>}
      {released > 0 && (
        <Typography variant="body2" color="text.secondary">
          {plural(released, "job was", "jobs were")} released with a version of it, and{" "}
          {released > 1 ? "go" : "goes"} by that.
        </Typography>
      )}
    </Stack>
  );
}
