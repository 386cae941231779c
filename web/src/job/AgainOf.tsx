/** A job that is ordered again: of which, and what has changed in the shop since that was made. */
import { Alert, Button } from "@mui/material";
import { Link } from "react-router";
import type { Job } from "../api/client";
import { moment } from "../ui/words";
import { versionsOf } from "./NewerOnShelf";
import { pile as say } from "../texts/pile";

export function AgainOf({ job }: { job: Job }) {
  const { again } = job;
  if (!again) return null;
  return (
    <Alert
      severity={again.gone.length ? "warning" : "info"}
      sx={{ py: 0 }}
      data-testid="again"
      action={
        <Button color="inherit" component={Link} to={`/jobs/${again.job_id}`}>
          {say.openTheOld}
        </Button>
      }
    >
      {say.orderedAgain(again.name, again.quantity)}
      {again.released ? say.releasedThen(moment(again.released)) : say.neverReleased}. {again.gone.join(" ")}{" "}
      {again.released && !again.newer.length && !again.gone.length && say.nothingNewer}
      {again.newer.length > 0 && say.newerNow}
      {again.newer.map((one, i) => (
        <span key={one.id}>
          {i > 0 && ", "}
          {one.one} <Link to={`/shelf/${one.kind}/${one.id}`}>{one.title}</Link> ({versionsOf(one)})
        </span>
      ))}
    </Alert>
  );
}
