/** The jobs of the Desk, a page at a time. While somebody reaches for one, none takes another's place. */
import { Button, LinearProgress, Snackbar, Stack, Typography } from "@mui/material";
import { useInfiniteQuery } from "@tanstack/react-query";
import type { HTMLAttributes } from "react";
import type { JobRow } from "../api/client";
import { queries } from "../api/queries";
import { Failure } from "../help/Failure";
import { useHeld } from "../ui/still";
import { common } from "../texts/common";
import { desk as say } from "../texts/desk";
import { Row } from "./Row";

interface Props {
  group: string;
  wanted: string;
  /** Whether somebody reaches for one of them, and what tells of that. */
  held: boolean;
  reaching: HTMLAttributes<HTMLElement>;
}

/** The rows where they were, with no line more or less, and with what is known of them now. */
function inPlace(kept: JobRow[], now: JobRow[]) {
  const latest = new Map(now.map((job) => [job.id, job]));
  return kept.map((job) => ({ ...(latest.get(job.id) ?? job), did: job.did, like: job.like }));
}

export function JobList({ group, wanted, held, reaching }: Props) {
  const jobs = useInfiniteQuery(queries.desk(group, wanted));
  const kept = useHeld(jobs.data, held)?.pages.flat();
  const now = jobs.data?.pages.flat();
  const listed = kept && now && held ? inPlace(kept, now) : now;
  const shown = new Set(listed?.map((job) => job.id));
  const more = now?.filter((job) => !shown.has(job.id)).length ?? 0;
  return (
    <>
      {jobs.isPending && <LinearProgress aria-label={common.loadingLabel} />}
      <Failure of={jobs.error} />
      {listed?.length === 0 && (
        <Typography color="text.secondary" sx={{ py: 8, textAlign: "center" }}>
          {group !== "all" || wanted ? say.noJobFitsTheFilter : say.noJobsYetDropA}
        </Typography>
      )}
      <Stack
        component="ul"
        aria-label={say.jobsLabel}
        spacing={0.5}
        sx={{ listStyle: "none", p: 0, m: 0 }}
        {...reaching}
      >
        {listed?.map((job) => (
          <Row key={job.id} job={job} />
        ))}
      </Stack>
      <Snackbar open={more > 0} message={say.moreHaveComeIn(more)} sx={{ pointerEvents: "none" }} />
      {jobs.hasNextPage && (
        <Button
          variant="outlined"
          disabled={jobs.isFetchingNextPage}
          onClick={() => void jobs.fetchNextPage()}
          sx={{ mt: 1 }}
        >
          {say.showMore}
        </Button>
      )}
    </>
  );
}
