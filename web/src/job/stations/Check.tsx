/** Check: findings grouped by stop, look, note; choosing one moves the stage to the place. */
import { Alert, Button, Divider, Stack, Typography } from "@mui/material";
import { useCallback, useMemo, useState } from "react";
import { Failure } from "../../help/Failure";
import { useAnswers, useUndo } from "../../api/changes";
import type { FileChange, Job } from "../../api/client";
import { useBusy } from "../../api/progress";
import type { Point } from "../../stage/geometry";
import { Docket } from "../../ui/Docket";
import { useKeys } from "../../ui/useKeys";
import { ArtStage } from "../ArtStage";
import { Corrected } from "../Corrected";
import { FilterBar } from "../findings/FilterBar";
import { FindingList } from "../findings/FindingList";
import { ALL, neighbour, pressed, shownOf } from "../findings/groups";
import { LetterDialog } from "../findings/LetterDialog";
import { LettersPart } from "../letters/LettersPart";
import { History } from "../mending/History";
import { AnotherFile } from "../order/AnotherFile";
import { OrderForm } from "../order/OrderForm";
import { order } from "../../texts/order";
import { stations as say } from "../../texts/stations";

const KEYS = say.keysOfTheCheck;

function titleOf(job: Job, busy: boolean): string {
  if (!job.verdict) return busy ? say.lookingAtIt : job.error ? say.couldNotBeRead : say.notCheckedYet;
  if (job.stops) return say.thisCannotBeReleasedYet;
  if (job.looks) return say.noStops;
  return job.findings.some((f) => f.decision) ? say.nothingIsLeftOpen : say.clean;
}

export function Check({ job }: { job: Job }) {
  const [key, setKey] = useState<string | null>(null);
  const [filter, setFilter] = useState(ALL);
  const [ordering, setOrdering] = useState(false);
  const [writing, setWriting] = useState(false);
  const [history, setHistory] = useState(false);
  const [change, setChange] = useState<FileChange | null>(null);
  const changed = useMemo(() => change && { where: change.where, severity: "look" }, [change]);
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
      <ArtStage job={job} chosen={changed ?? chosen} onPick={pick} />
      <Docket title={titleOf(job, busy)}>
        {!job.verdict && <NothingYet job={job} busy={busy} />}
        <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: "wrap" }}>
          <Button variant="outlined" onClick={() => setOrdering(!ordering)}>
            {ordering ? say.hideTheOrder : say.order}
          </Button>
          {job.verdict && (
            <>
              <Button variant="outlined" disabled={!job.findings.length} onClick={() => setWriting(true)}>
                {say.letter}
              </Button>
              <Button variant="outlined" href={`/api/jobs/${job.id}/report.pdf`}>
                {say.reportPdf}
              </Button>
            </>
          )}
          <AnotherFile job={job} words={order.anotherFile} label={order.anotherFileLabel} />
          {job.revision > 1 && (
            <Button variant="outlined" disabled={busy} onClick={() => undo.mutate(undefined)}>
              {say.undoTheLastMend}
            </Button>
          )}
          {job.revisions.length > 1 && (
            <Button variant="outlined" onClick={() => setHistory(true)}>
              {say.history}
            </Button>
          )}
        </Stack>
        <Failure of={undo.error} />
        {!ordering && <OrderWarnings job={job} onOrder={() => setOrdering(true)} />}
        {ordering && <OrderForm key={job.id} job={job} onDone={() => setOrdering(false)} />}
        {history && <History job={job} onClose={() => setHistory(false)} />}
        {writing && <LetterDialog job={job} onClose={() => setWriting(false)} />}
        {job.findings.length > 0 && <FilterBar job={job} filter={filter} onFilter={setFilter} />}
        {job.corrected && (
          <Corrected
            job={job}
            corrected={job.corrected}
            busy={busy}
            chosen={change}
            onChoose={(next) => {
              setChange(next);
              setKey(null);
            }}
          />
        )}
        <FindingList
          job={job}
          findings={findings}
          chosen={chosen}
          onChoose={(next) => {
            setChange(null);
            setKey(next);
          }}
        />
        {!findings.length && job.findings.length > 0 && (
          <Typography variant="body2">
            {say.nothingOfThatKind}
            <Button onClick={() => setFilter(ALL)}>{say.showAll}</Button>
          </Typography>
        )}
        {job.verdict && !job.findings.length && !busy && (
          <Typography>{say.everythingThatWasMeasuredIs}</Typography>
        )}
        <LettersPart job={job} />
        <Divider />
        {job.verdict && (
          <Typography variant="body2" color="text.secondary">
            {say.checksMeasuredCheckSheet(
              job.checks_run,
              job.checks_carried ? say.carriedOver(job.checks_carried) : "",
              job.check_sheet,
            )}
          </Typography>
        )}
        <Typography variant="body2" color="text.secondary">
          {KEYS}
        </Typography>
      </Docket>
    </>
  );
}

/** What did not fit when the order was read out of the file. */
function OrderWarnings({ job, onOrder }: { job: Job; onOrder: () => void }) {
  return job.intake.order_warnings.map((words) => (
    <Alert key={words} severity="warning" action={<Button onClick={onOrder}>{say.changeIt}</Button>}>
      {words}
    </Alert>
  ));
}

/** What stands in place of findings while there are none to show, and what can be done about it. */
function NothingYet({ job, busy }: { job: Job; busy: boolean }) {
  const answers = useAnswers(job.id);
  if (busy)
    return (
      <Typography variant="body2" color="text.secondary">
        {say.whatIsFoundWillStand}
      </Typography>
    );
  const nothing = job.seen ? say.itCouldNotBeChecked : say.nothingOfItCouldBe;
  const why = job.error
    ? say.askTheCustomerForAnother(nothing)
    : say.wasStoppedSoNothingWas(Boolean(job.seen));
  return (
    <>
      <Typography variant="body2">{say.isKeptAsItCame(job.intake.file_name || say.theFile, why)}</Typography>
      <Button variant="outlined" onClick={() => answers.mutate({})}>
        {say.takeTheFileInAgain}
      </Button>
      <Failure of={answers.error} />
    </>
  );
}
