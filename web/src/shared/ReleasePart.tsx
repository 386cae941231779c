/** The release of a sheet that jobs share, its rehearsal, and what was done to it. */
import { Alert, Button, Link as Anchor, Stack, Typography } from "@mui/material";
import { Link, useNavigate } from "react-router";
import type { Shared } from "../api/client";
import { useRehearseShared, useReleaseShared, useTakeApart } from "../api/sharedChanges";
import { Failure } from "../help/Failure";
import { useAlso } from "../job/release/useAlso";
import { AlsoAs } from "../job/release/AlsoAs";
import { Rehearsal } from "../job/release/Rehearsal";
import { moment } from "../ui/words";
import { shared as say } from "../texts/shared";

export function ReleasePart({ shared }: { shared: Shared }) {
  const release = useReleaseShared(shared.id);
  const [also, setAlso] = useAlso(shared.destination);
  const apart = useTakeApart(shared.id);
  const rehearse = useRehearseShared(shared.id);
  const go = useNavigate();
  const unchecked = shared.shares.some(({ job }) => job.stops === null);
  const ready =
    shared.current && !shared.error && !shared.busy && !shared.stops && !unchecked && !shared.released;
  return (
    <Stack spacing={0.5} role="group" aria-label={say.releaseOfTheSheet}>
      <Typography variant="h2">{say.release}</Typography>
      {shared.stops > 0 && <Alert severity="error">{say.stopIsOpenOnThe(shared.stops)}</Alert>}
      {shared.layout.makes !== "print" && <AlsoAs formats={also} onFormats={setAlso} />}
      <Button variant="contained" disabled={!ready || release.isPending} onClick={() => release.mutate(also)}>
        {say.releaseTheSheet}
      </Button>
      <Rehearsal
        found={shared.rehearsal}
        can={
          shared.current && !shared.error && !shared.busy && !rehearse.isPending && shared.sheets.length > 0
        }
        stop={shared.rehearsal_stop}
        picture={`/api/shared-sheets/${shared.id}/rehearsal/worst`}
        onRehearse={() => rehearse.mutate(undefined)}
        failed={rehearse.error}
      />
      {shared.released && (
        <Alert severity="success">
          {say.justThisWasReleased}
          <Anchor component={Link} to={`/bench?release=${shared.release_ids[0]}`}>
            {say.itLiesOnTheBench}
          </Anchor>
        </Alert>
      )}
      <Failure of={release.error} />
      <Button
        disabled={shared.release_ids.length > 0 || apart.isPending}
        onClick={() => apart.mutate(undefined, { onSuccess: () => void go("/") })}
      >
        {say.takeTheSheetApart}
      </Button>
      <Failure of={apart.error} />
      {shared.log.slice(0, 8).map((entry, i) => (
        <Typography key={i} variant="body2" color="text.secondary">
          {moment(entry.when)} {entry.who}: {entry.what}
        </Typography>
      ))}
    </Stack>
  );
}
