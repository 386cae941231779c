/** What else can be said where a file has no line: that it is printed or cut only, or that lines are to be made. */
import { Button, Stack } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { Failure } from "../../help/Failure";
import { useJobChange } from "../../api/changes";
import type { JobChange } from "../../api/client";
import { queries } from "../../api/queries";
import { common } from "../../texts/common";
import { findings as say } from "../../texts/findings";

export function NoLine({ job, busy }: { job: number; busy: boolean }) {
  const known = useQuery(queries.job(job)).data;
  const change = useJobChange(job);
  const go = useNavigate();
  return (
    <>
      <Stack direction="row" spacing={0.5} sx={{ mt: 1 }}>
        <Button variant="outlined" component={Link} to={`/jobs/${job}/lines?make=1`}>
          {common.makeLines}
        </Button>
        <Button
          variant="outlined"
          disabled={busy || !known}
          title={say.nothingIsPrintedTheOutline}
          onClick={() =>
            change.mutate({ makes: "cut" }, { onSuccess: () => void go(`/jobs/${job}/lines?make=1`) })
          }
        >
          {say.cutOnly}
        </Button>
        <Button
          variant="outlined"
          disabled={busy || !known}
          onClick={() =>
            known && change.mutate({ order: { ...known.order, roles: [] } as JobChange["order"] })
          }
        >
          {say.printOnly}
        </Button>
      </Stack>
      <Failure of={change.error} />
    </>
  );
}
