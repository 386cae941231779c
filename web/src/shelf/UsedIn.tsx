/** Where a thing is in use: by what is made of it, and by jobs. */
import { Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { ShelfThingWhole } from "../api/client";
import { shelf as say } from "../texts/shelf";

const SHOWN = 12;

export function UsedIn({ whole }: { whole: ShelfThingWhole }) {
  const { things, jobs, job_count, released } = whole;
  const nowhere = !things.length && !job_count && !released;
  return (
    <Stack spacing={0.5} component="section" aria-label={say.inUseLabel}>
      <Typography variant="h2">{say.inUse}</Typography>
      {nowhere && <Typography variant="body2">{say.nowhereYetItCanBe}</Typography>}
      {things.map((one) => (
        <Typography key={one.id} variant="body2">
          {one.one} <Link to={`/shelf/${one.kind}/${one.id}`}>{one.title}</Link>
        </Typography>
      ))}
      {job_count > 0 && <Typography variant="subtitle2">{say.job2(job_count)}</Typography>}
      {jobs.slice(0, SHOWN).map((job) => (
        <Typography key={job.id} variant="body2" sx={{ overflowWrap: "anywhere" }}>
          <Link to={`/jobs/${job.id}`}>{job.name}</Link>
        </Typography>
      ))}
      {job_count > SHOWN && <Typography variant="body2">{say.andMore(job_count - SHOWN)}</Typography>}
      {released > 0 && (
        <Typography variant="body2" color="text.secondary">
          {say.jobWasReleasedWithA(released, released > 1)}
        </Typography>
      )}
    </Stack>
  );
}
