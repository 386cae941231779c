/** A file that looks like the corrected one of another job: a person says whether it is. */
import { Alert, Button, Typography } from "@mui/material";
import { useNavigate } from "react-router";
import type { JobRow } from "../api/client";
import { useMay } from "../api/may";
import { useSayLike } from "../api/pileChanges";
import { Failure } from "../help/Failure";
import { Row } from "../ui/Row";
import { pile as say } from "../texts/pile";

type Asked = Pick<JobRow, "id" | "version" | "name" | "like">;

/** The two answers, where a person may give them. */
function LikeButtons({ job }: { job: Asked }) {
  const like = useSayLike();
  const go = useNavigate();
  const may = useMay("take-in");
  if (!may) return null;
  return (
    <>
      <Button
        variant="outlined"
        disabled={like.isPending}
        aria-label={say.layOverOf(job.name)}
        onClick={() =>
          like.mutate({ job, take: true }, { onSuccess: (left) => void go(`/jobs/${left.id}/check`) })
        }
      >
        {say.layItOver}
      </Button>
      <Button
        disabled={like.isPending}
        aria-label={say.ownOf(job.name)}
        onClick={() => like.mutate({ job, take: false })}
      >
        {say.aJobOfItsOwn}
      </Button>
      <Failure of={like.error} />
    </>
  );
}

/** The same in a line below a row of the Desk. */
export function LikeLine({ job }: { job: Asked }) {
  return (
    <Row spacing={1} sx={{ bgcolor: "background.paper", pl: 12, pr: 1, pb: 0.5, mt: -1 }}>
      <Typography variant="body2">{job.like && say.looksLikeCorrected(job.like.name)}</Typography>
      <LikeButtons job={job} />
    </Row>
  );
}

export function LooksLike({ job }: { job: Asked }) {
  if (!job.like) return null;
  return (
    <Alert severity="info" sx={{ py: 0 }} action={<LikeButtons job={job} />}>
      {say.looksLikeCorrected(job.like.name)}
    </Alert>
  );
}
