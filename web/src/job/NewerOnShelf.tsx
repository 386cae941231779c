/** A released job goes by the Shelf as it was then: what is newer since, and the way to go by that. */
import { Alert, Button } from "@mui/material";
import { Link } from "react-router";
import { useTakeNewer } from "../api/changes";
import type { Job, Newer } from "../api/client";
import { Failure } from "../help/Failure";
import { job as say } from "../texts/job";

export function NewerOnShelf({ job }: { job: Job }) {
  const take = useTakeNewer(job.id);
  if (!job.newer.length) return null;
  return (
    <Alert
      severity="info"
      action={
        <Button
          color="inherit"
          variant="outlined"
          disabled={take.isPending}
          onClick={() => take.mutate(undefined)}
        >
          {say.goByTheNewer}
        </Button>
      }
    >
      {say.theJobGoesByThe}
      {job.newer.map((one, i) => (
        <span key={one.id}>
          {i > 0 && ", "}
          {one.one} <Link to={`/shelf/${one.kind}/${one.id}`}>{one.title}</Link> ({versionsOf(one)})
        </span>
      ))}
      .
      <Failure of={take.error} />
    </Alert>
  );
}

/** From which version to which. */
export function versionsOf({ kept, now }: Newer): string {
  if (kept === 0) return say.thereWasNone;
  return now === 0 ? say.thereIsNoneAnyMore : say.versionNow(kept, now);
}
