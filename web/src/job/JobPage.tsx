/** One job: the tape of stations along the top, the stage on the left, the docket on the right. */
import { Alert, Box, Button, LinearProgress, Stack, Typography } from "@mui/material";
import { Link, useParams } from "react-router";
import { useCancel, useJob } from "../api/hooks";
import type { Job } from "../api/client";
import { orderLine } from "../desk/Row";
import { Check } from "./Check";
import { Cut } from "./Cut";
import { Lines } from "./Lines";
import { Questions } from "./Questions";
import { Release } from "./Release";
import { SheetStation } from "./SheetStation";
import { Tape, type Station } from "./Tape";

const SCREENS: Record<Station, (props: { job: Job }) => React.ReactNode> = {
  check: Check, lines: Lines, sheet: SheetStation, cut: Cut, release: Release,
};

export function JobPage() {
  const params = useParams();
  const job = useJob(Number(params.id));
  const station = (params.station ?? "check") as Station;
  if (job.isPending) return <LinearProgress aria-label="loading" />;
  if (job.isError) return <Alert severity="error" sx={{ m: 3 }}>{job.error.message} <Link to="/">Back to the Desk</Link></Alert>;
  const Screen = SCREENS[station] ?? Check;
  return (
    <Stack sx={{ height: "100%" }}>
      <Stack direction="row" spacing={2} sx={{ px: 2, pt: 0.5, alignItems: "baseline", bgcolor: "background.paper" }}>
        <Typography variant="h1" noWrap>{job.data.name}</Typography>
        <Typography variant="body2" color="text.secondary" noWrap>
          {job.data.customer && `${job.data.customer} · `}{orderLine(job.data)} · revision {job.data.revision}
        </Typography>
        <Box sx={{ flex: 1 }} />
        <Progress job={job.data} />
      </Stack>
      <Tape job={job.data} station={station} />
      <Failed job={job.data} />
      {job.data.error && <Alert severity="error">{job.data.error}</Alert>}
      <Box sx={{ flex: 1, minHeight: 0, display: "flex" }}>
        {job.data.questions.length > 0 ? <Questions key={job.data.questions.map((q) => q.id + q.words).join()} job={job.data} /> : <Screen job={job.data} />}
      </Box>
    </Stack>
  );
}

const KINDS: Record<string, string> = { "take-in": "Taking in", analyse: "Checking", mend: "Mending", release: "Releasing", rip: "Making plates", "try-sheet": "Trying a check sheet" };

function Progress({ job }: { job: Job }) {
  const cancel = useCancel();
  const work = job.work;
  if (work?.state !== "running" && work?.state !== "waiting") return null;
  return (
    <Stack direction="row" spacing={1.5} sx={{ alignItems: "center", flex: "none", height: 28 }} role="status">
      <Typography variant="body2" sx={{ width: 230, textAlign: "right" }} noWrap>{KINDS[work.kind]}: {work.what}</Typography>
      <LinearProgress variant="determinate" value={work.share * 100} sx={{ width: 150 }} aria-label="progress" />
      <Button onClick={() => cancel.mutate(work.id)} sx={{ py: 0 }}>Stop</Button>
    </Stack>
  );
}

function Failed({ job }: { job: Job }) {
  if (job.work?.state !== "failed" || job.error) return null;
  return <Alert severity="error" role="alert">{KINDS[job.work.kind]} did not finish. {job.work.error}</Alert>;
}
