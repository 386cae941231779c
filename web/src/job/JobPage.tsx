/** One job: the tape of stations along the top, the stage on the left, the docket on the right. */
import { Spacer } from "../ui/Row";
import { Failure, WhyRefused } from "../help/Failure";
import { Alert, Box, Button, LinearProgress, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { ComponentType } from "react";
import { Link, Navigate, useParams } from "react-router";
import type { Job } from "../api/client";
import { useMend } from "../api/changes";
import { useWorkOf } from "../api/progress";
import { useMay } from "../api/may";
import { queries } from "../api/queries";
import { orderLine } from "../desk/orderLine";
import { AgainOf } from "./AgainOf";
import { DropOver } from "./DropOver";
import { LooksLike } from "./LooksLike";
import { NewerOnShelf } from "./NewerOnShelf";
import { Others } from "./Others";
import { PreviewProvider } from "./mending/PreviewProvider";
import { Questions } from "./order/Questions";
import { Check } from "./stations/Check";
import { Cut } from "./stations/Cut";
import { Lines } from "./stations/Lines";
import { Release } from "./stations/Release";
import { SheetStation } from "./stations/SheetStation";
import { DocketSlot } from "../ui/Docket";
import { WorkProgress } from "../ui/WorkProgress";
import { WORK_WORDS } from "../ui/words";
import { soon } from "../ui/soon";
import { stationAt, type Station } from "./stations/names";
import { Tape } from "./Tape";
import { common } from "../texts/common";
import { job as say } from "../texts/job";

const StackStation = soon(() => import("../stack/StackStation").then((room) => room.StackStation));

const SCREENS: Record<Station, ComponentType<{ job: Job }>> = {
  check: Check,
  lines: Lines,
  sheet: SheetStation,
  cut: Cut,
  release: Release,
  stack: StackStation,
};

/** A job that is not there yet has no work. */
const NO_JOB = { id: 0 };

export function JobPage() {
  const params = useParams();
  const job = useQuery(queries.job(Number(params.id)));
  const station = stationAt(params.station ?? "check");
  const work = useWorkOf(job.data ?? NO_JOB);
  const mayWork = useMay("work");
  if (job.isPending) return <LinearProgress aria-label={common.loadingLabel} />;
  if (job.isError)
    return (
      <Failure of={job.error} alone>
        <Link to="/">{say.backToTheDesk}</Link>
      </Failure>
    );
  if (!station) return <Navigate to={`/jobs/${job.data.id}/check`} replace />;
  const Screen = SCREENS[station];
  const { questions } = job.data;
  return (
    <DropOver job={job.data}>
      <Stack
        direction="row"
        spacing={2}
        sx={{ px: 2, pt: 0.5, minHeight: 34, alignItems: "baseline", bgcolor: "background.paper" }}
      >
        <Typography variant="h1" noWrap>
          {job.data.name}
        </Typography>
        <Typography variant="body2" color="text.secondary" noWrap>
          {job.data.customer && `${job.data.customer} · `}
          {orderLine(job.data)}
          {job.data.revision > 0 && say.revision(job.data.revision)}
        </Typography>
        <Spacer />
        <Others job={job.data} station={station} />
        <WorkProgress work={work} />
      </Stack>
      <Tape job={job.data} station={station} />
      <Outcome job={job.data} />
      <NewerOnShelf job={job.data} />
      <LooksLike job={job.data} />
      <AgainOf job={job.data} />
      {job.data.customer_note && (
        <Alert severity="info" sx={{ py: 0 }}>
          {job.data.customer}: {job.data.customer_note}
        </Alert>
      )}
      {!mayWork && (
        <Alert severity="info" sx={{ py: 0 }}>
          {say.youMayLookAtThis}
        </Alert>
      )}
      {job.data.error && (
        <Alert severity="error" action={<WhyRefused code={work?.code} />}>
          {job.data.error}
        </Alert>
      )}
      <Box sx={{ flex: 1, minHeight: 0, display: "flex" }}>
        {questions.length > 0 ? (
          <Questions key={questions.map((q) => q.id + q.words).join()} job={job.data} />
        ) : (
          <PreviewProvider job={job.data}>
            <DocketSlot>
              <Screen job={job.data} />
            </DocketSlot>
          </PreviewProvider>
        )}
      </Box>
    </DropOver>
  );
}

const lower = (words: string) => words.charAt(0).toLowerCase() + words.slice(1);

/** What became of the last work where that is not what was wanted. */
function Outcome({ job }: { job: Job }) {
  const work = useWorkOf(job);
  const mend = useMend(job.id);
  if (work?.state === "failed" && work.kind === "nest")
    return (
      <Alert severity="info" role="status">
        {work.error}
      </Alert>
    );
  if (work?.state === "failed" && !job.error)
    return (
      <Alert
        severity="error"
        role="alert"
        action={
          <>
            <WhyRefused code={work.code} />
            {work.instead && (
              <Button
                color="inherit"
                variant="outlined"
                disabled={mend.isPending}
                onClick={() => work.instead && mend.mutate(work.instead)}
              >
                {[work.instead, ...(work.instead.then ?? [])]
                  .map((one, i) => (i ? lower(one.label) : one.label))
                  .join(say.then)}
              </Button>
            )}
          </>
        }
      >
        {say.didNotFinish(WORK_WORDS[work.kind], work.error)}
        {work.instead && say.itCanBeDoneTogether}
      </Alert>
    );
  if (work?.state === "cancelled" && job.verdict && !job.current)
    return (
      <Alert severity="warning" role="status">
        {say.wasStoppedWhatStandsHere(WORK_WORDS[work.kind])}
      </Alert>
    );
  return null;
}
