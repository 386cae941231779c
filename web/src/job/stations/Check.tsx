/** Check: findings grouped by stop, look, note; choosing one moves the stage to the place. */
import { Alert, Button, Divider, Stack, Typography } from "@mui/material";
import { useCallback, useMemo, useState } from "react";
import { Failure } from "../../help/Failure";
import { useAnswers, useUndo } from "../../api/changes";
import type { Job } from "../../api/client";
import { useBusy } from "../../api/progress";
import type { Point } from "../../stage/geometry";
import { Docket } from "../../ui/Docket";
import { useKeys } from "../../ui/useKeys";
import { ArtStage } from "../ArtStage";
import { FilterBar } from "../findings/FilterBar";
import { FindingList } from "../findings/FindingList";
import { ALL, neighbour, pressed, shownOf } from "../findings/groups";
import { LetterDialog } from "../findings/LetterDialog";
import { History } from "../mending/History";
import { OrderForm } from "../order/OrderForm";

const KEYS =
  "Keys: n next finding, p the one before; on the stage f fit, 0 actual size, t tape, c cut open, u unit; " +
  "1 to 7 what it shows. Press a line to see its findings; with Point, anything to see what can be done to it.";

function titleOf(job: Job, busy: boolean): string {
  if (!job.verdict) return busy ? "Looking at it …" : job.error ? "Could not be read" : "Not checked yet";
  if (job.stops) return "This cannot be released yet";
  if (job.looks) return "No stops";
  return job.findings.some((f) => f.decision) ? "Nothing is left open" : "Clean";
}

export function Check({ job }: { job: Job }) {
  const [key, setKey] = useState<string | null>(null);
  const [filter, setFilter] = useState(ALL);
  const [ordering, setOrdering] = useState(false);
  const [writing, setWriting] = useState(false);
  const [history, setHistory] = useState(false);
  const undo = useUndo(job.id);
  const busy = useBusy(job);
  const findings = useMemo(() => shownOf(job.findings, filter), [job.findings, filter]);
  const chosen = findings.find((finding) => finding.key === key) ?? null;
  useKeys(
    useCallback(
      (pressedKey: string) => {
        const step = pressedKey === "n" ? 1 : pressedKey === "p" ? -1 : null;
        const next = step && neighbour(findings, key, step);
        if (next) setKey(next.key);
      },
      [findings, key],
    ),
  );
  const pick = useCallback(
    (role: string | null, at: Point) => {
      const hit = pressed(job.findings, role, at);
      setFilter((before) => ({ ...before, subject: hit.subject }));
      if (hit.key !== undefined) setKey(hit.key);
    },
    [job.findings],
  );
  return (
    <>
      <ArtStage job={job} chosen={chosen} onPick={pick} />
      <Docket title={titleOf(job, busy)}>
        {!job.verdict && <NothingYet job={job} busy={busy} />}
        <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: "wrap" }}>
          <Button variant="outlined" onClick={() => setOrdering(!ordering)}>
            {ordering ? "Hide the order" : "Order…"}
          </Button>
          {job.verdict && (
            <>
              <Button variant="outlined" disabled={!job.findings.length} onClick={() => setWriting(true)}>
                Letter…
              </Button>
              <Button variant="outlined" href={`/api/jobs/${job.id}/report.pdf`}>
                Report, PDF
              </Button>
            </>
          )}
          {job.revision > 1 && (
            <Button variant="outlined" disabled={busy} onClick={() => undo.mutate(undefined)}>
              Undo the last mend
            </Button>
          )}
          {job.revisions.length > 1 && (
            <Button variant="outlined" onClick={() => setHistory(true)}>
              History…
            </Button>
          )}
        </Stack>
        <Failure of={undo.error} />
        {!ordering &&
          job.intake.order_warnings.map((words) => (
            <Alert
              key={words}
              severity="warning"
              action={<Button onClick={() => setOrdering(true)}>Change it</Button>}
            >
              {words}
            </Alert>
          ))}
        {ordering && <OrderForm key={job.id} job={job} onDone={() => setOrdering(false)} />}
        {history && <History job={job} onClose={() => setHistory(false)} />}
        {writing && <LetterDialog job={job} onClose={() => setWriting(false)} />}
        {job.findings.length > 0 && <FilterBar job={job} filter={filter} onFilter={setFilter} />}
        <FindingList job={job} findings={findings} chosen={chosen} onChoose={setKey} />
        {!findings.length && job.findings.length > 0 && (
          <Typography variant="body2">
            Nothing of that kind. <Button onClick={() => setFilter(ALL)}>Show all</Button>
          </Typography>
        )}
        {job.verdict && !job.findings.length && !busy && (
          <Typography>Everything that was measured is within its limits.</Typography>
        )}
        <Divider />
        {job.verdict && (
          <Typography variant="body2" color="text.secondary">
            {job.checks_run} checks measured{job.checks_carried ? `, ${job.checks_carried} carried over` : ""}
            . Check sheet: {job.check_sheet}.
          </Typography>
        )}
        <Typography variant="body2" color="text.secondary">
          {KEYS}
        </Typography>
      </Docket>
    </>
  );
}

/** What stands in place of findings while there are none to show, and what can be done about it. */
function NothingYet({ job, busy }: { job: Job; busy: boolean }) {
  const answers = useAnswers(job.id);
  if (busy)
    return (
      <Typography variant="body2" color="text.secondary">
        What is found will stand here.
      </Typography>
    );
  const nothing = job.seen
    ? "It could not be checked."
    : "Nothing of it could be read, so nothing was checked.";
  const why = job.error
    ? `${nothing} Ask the customer for another one and drop it on the Desk.`
    : `${job.seen ? "The check" : "Taking it in"} was stopped, so nothing was checked.`;
  return (
    <>
      <Typography variant="body2">
        {job.intake.file_name || "The file"} is kept as it came. {why}
      </Typography>
      <Button variant="outlined" onClick={() => answers.mutate({})}>
        Take the file in again
      </Button>
      <Failure of={answers.error} />
    </>
  );
}
