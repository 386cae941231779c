/** Check: findings grouped by stop, look, note; choosing one moves the stage to the place. */
import { Alert, Button, Divider, Stack, Typography } from "@mui/material";
import { useEffect, useState } from "react";
import type { Finding, Job } from "../api/client";
import { useAnswers, useMend, useUndo } from "../api/hooks";
import { STOP } from "../theme";
import { ArtStage } from "./ArtStage";
import { Docket } from "./Docket";
import { FindingCard } from "./FindingCard";
import { OrderForm } from "./OrderForm";

const GROUPS = [["stop", "Stops"], ["look", "To look at"], ["note", "Notes"]] as const;
const keyOf = (finding: Finding) => `${finding.id} ${finding.message}`;

export const isBusy = (job: Job) => job.work?.state === "running" || job.work?.state === "waiting";

const titleOf = (job: Job) =>
  !job.seen ? (isBusy(job) || !job.error ? "Not checked yet" : "Could not be read")
  : job.stops ? "This cannot be released yet" : job.findings.length ? "No stops" : "Clean";

export function Check({ job }: { job: Job }) {
  const [key, setKey] = useState<string | null>(null);
  const [ordering, setOrdering] = useState(false);
  const mend = useMend(job.id);
  const undo = useUndo(job.id);
  const answers = useAnswers(job.id);
  const findings = job.findings;
  const chosen = findings.find((finding) => keyOf(finding) === key) ?? null;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!["n", "p"].includes(event.key) || (event.target as HTMLElement).tagName === "INPUT") return;
      const at = findings.findIndex((finding) => keyOf(finding) === key);
      const next = findings[(at + (event.key === "n" ? 1 : findings.length - 1)) % findings.length];
      if (next) setKey(keyOf(next));
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [findings, key]);
  return (
    <>
      <ArtStage job={job} chosen={chosen} />
      <Docket title={titleOf(job)}>
        {!job.seen && !isBusy(job) && (
          <>
            <Typography variant="body2">
              {job.intake.file_name || "The file"} is kept as it came. {job.error
                ? "Nothing of it could be read, so nothing was checked. Ask the customer for another one and drop it on the Desk."
                : "Taking it in was stopped, so nothing was checked."}
            </Typography>
            <Button variant="outlined" onClick={() => answers.mutate({})}>Take the file in again</Button>
            {answers.isError && <Typography color="error">{answers.error.message}</Typography>}
          </>
        )}
        {!job.seen && isBusy(job) && <Typography variant="body2" color="text.secondary">What is found will stand here.</Typography>}
        <Stack direction="row" spacing={1}>
          <Button variant="outlined" onClick={() => setOrdering(!ordering)}>{ordering ? "Hide the order" : "Order…"}</Button>
          {job.revision > 1 && (
            <Button variant="outlined" disabled={isBusy(job)} onClick={() => undo.mutate(undefined)}>Undo the last mend</Button>
          )}
        </Stack>
        {!ordering && job.intake.order_warnings.map((words) => (
          <Alert key={words} severity="warning" action={<Button onClick={() => setOrdering(true)}>Order…</Button>}>{words}</Alert>
        ))}
        {ordering && <OrderForm key={job.id} job={job} onDone={() => setOrdering(false)} />}
        {mend.isError && <Typography color="error">{mend.error.message}</Typography>}
        {GROUPS.map(([severity, words]) => {
          const listed = findings.filter((finding) => finding.severity === severity);
          if (!listed.length) return null;
          return (
            <Stack key={severity} spacing={1} component="section" aria-label={words}>
              <Typography sx={{ fontWeight: 700, color: severity === "stop" ? STOP : "text.primary" }}>
                {words} · {listed.length}
              </Typography>
              {listed.map((finding) => (
                <FindingCard key={keyOf(finding)} finding={finding} chosen={finding === chosen} busy={isBusy(job)}
                  onChoose={() => setKey(keyOf(finding))} onMend={(step) => mend.mutate(step)} />
              ))}
            </Stack>
          );
        })}
        {!findings.length && job.seen && !isBusy(job) && <Typography>Everything that was measured is within its limits.</Typography>}
        <Divider />
        <Typography variant="body2" color="text.secondary">Keys: n next finding, p the one before; on the stage f fit, 0 actual size, t tape, c cut open, u unit; 1 to 5 what it shows.</Typography>
      </Docket>
    </>
  );
}
