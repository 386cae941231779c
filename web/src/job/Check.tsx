/** Check: findings grouped by stop, look, note; choosing one moves the stage to the place. */
import { Alert, Button, Divider, MenuItem, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import type { Finding, Job } from "../api/client";
import { useAnswers, useMend, useSettle, useUndo, useUnsettle } from "../api/hooks";
import { lookOf, ROLES } from "../roles";
import type { Point } from "../stage/geometry";
import { STOP } from "../theme";
import { ArtStage } from "./ArtStage";
import { Docket } from "./Docket";
import { FindingCard } from "./FindingCard";
import { LetterDialog } from "./LetterDialog";
import { OrderForm } from "./OrderForm";

const GROUPS = [["stop", "Stops"], ["look", "To look at"], ["note", "Notes"], ["settled", "Decided"]] as const;
const groupOf = (finding: Finding) => (finding.decision ? "settled" : finding.severity);

export const isBusy = (job: Job) => job.work?.kind !== "try-sheet" && (job.work?.state === "running" || job.work?.state === "waiting");

const titleOf = (job: Job) =>
  !job.seen ? (isBusy(job) || !job.error ? "Not checked yet" : "Could not be read")
  : job.stops ? "This cannot be released yet" : job.looks ? "No stops" : job.findings.some((f) => f.decision) ? "Nothing is left open" : "Clean";

/** The findings that the filters leave: by group, and by line role or ink. */
const left = (findings: Finding[], group: string, subject: string) =>
  findings.filter((f) => (group === "all" || groupOf(f) === group) && (subject === "all" || f.subject === subject));

const inside = ([x, y]: Point, [x0 = 0, y0 = 0, x1 = 0, y1 = 0]: number[], by: number) => x > x0 - by && x < x1 + by && y > y0 - by && y < y1 + by;

export function Check({ job }: { job: Job }) {
  const [key, setKey] = useState<string | null>(null);
  const [ordering, setOrdering] = useState(false);
  const [writing, setWriting] = useState(false);
  const [group, setGroup] = useState("all");
  const [subject, setSubject] = useState("all");
  const mend = useMend(job.id);
  const undo = useUndo(job.id);
  const settle = useSettle(job.id);
  const unsettle = useUnsettle(job.id);
  const answers = useAnswers(job.id);
  const list = useRef<HTMLDivElement>(null);
  const findings = useMemo(() => {
    const shown = left(job.findings, group, subject);
    return GROUPS.flatMap(([name]) => shown.filter((f) => groupOf(f) === name));
  }, [job.findings, group, subject]);
  const chosen = findings.find((finding) => finding.key === key) ?? null;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (!["n", "p"].includes(event.key) || ["INPUT", "TEXTAREA"].includes((event.target as HTMLElement).tagName)) return;
      const at = findings.findIndex((finding) => finding.key === key);
      const next = findings[(at + (event.key === "n" ? 1 : findings.length - 1)) % findings.length];
      if (next) setKey(next.key);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [findings, key]);
  useEffect(() => {
    list.current?.querySelector('[aria-pressed="true"]')?.closest("[data-finding]")?.scrollIntoView({ block: "nearest" });
  }, [key]);
  const pick = useCallback((role: string | null, at: Point) => {
    const there = job.findings.find((f) => f.where.some((box) => inside(at, box, 1)));
    if (role) {
      setSubject(job.findings.some((f) => f.subject === role) ? role : "all");
      setKey((there?.subject === role ? there : job.findings.find((f) => f.subject === role) ?? there)?.key ?? null);
    } else {
      setSubject("all");
      if (there) setKey(there.key);
    }
  }, [job.findings]);
  const subjects = [...new Set(job.findings.map((f) => f.subject).filter((s) => s && (s in ROLES || job.seen?.inks.some((i) => i.name === s))))];
  const counts = new Map(GROUPS.map(([name]) => [name, job.findings.filter((f) => groupOf(f) === name).length]));
  return (
    <>
      <ArtStage job={job} chosen={chosen} onPick={pick} />
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
        <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: "wrap" }}>
          <Button variant="outlined" onClick={() => setOrdering(!ordering)}>{ordering ? "Hide the order" : "Order…"}</Button>
          {job.seen && <Button variant="outlined" disabled={!job.findings.length} onClick={() => setWriting(true)}>Letter…</Button>}
          {job.seen && <Button variant="outlined" href={`/api/jobs/${job.id}/report.pdf`}>Report, PDF</Button>}
          {job.revision > 1 && (
            <Button variant="outlined" disabled={isBusy(job)} onClick={() => undo.mutate(undefined)}>Undo the last mend</Button>
          )}
        </Stack>
        {!ordering && job.intake.order_warnings.map((words) => (
          <Alert key={words} severity="warning" action={<Button onClick={() => setOrdering(true)}>Order…</Button>}>{words}</Alert>
        ))}
        {ordering && <OrderForm key={job.id} job={job} onDone={() => setOrdering(false)} />}
        {writing && <LetterDialog job={job} onClose={() => setWriting(false)} />}
        {[mend, settle, unsettle].map((change, i) => change.isError && <Typography key={i} color="error" role="alert">{change.error.message}</Typography>)}
        {job.findings.length > 0 && (
          <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
            <ToggleButtonGroup size="small" exclusive value={group} onChange={(_, next) => next && setGroup(next)} aria-label="which findings">
              <ToggleButton value="all" sx={{ py: 0.25 }}>All {job.findings.length}</ToggleButton>
              {GROUPS.filter(([name]) => counts.get(name)).map(([name, words]) => (
                <ToggleButton key={name} value={name} sx={{ py: 0.25, color: name === "stop" ? STOP : undefined }} aria-label={words}>{{ stop: "Stop", look: "Look", note: "Note", settled: "Decided" }[name]} {counts.get(name)}</ToggleButton>
              ))}
            </ToggleButtonGroup>
            {subjects.length > 1 && (
              <TextField select value={subjects.includes(subject) ? subject : "all"} onChange={(e) => setSubject(e.target.value)} sx={{ minWidth: 76, "& .MuiSelect-select": { py: 0.4, fontSize: 13 } }} slotProps={{ htmlInput: { "aria-label": "of which line or ink" } }}>
                <MenuItem value="all">any line</MenuItem>
                {subjects.map((s) => <MenuItem key={s} value={s}>{s in ROLES ? lookOf(s).words : s}</MenuItem>)}
              </TextField>
            )}
          </Stack>
        )}
        <Stack ref={list} spacing={1.5}>
          {GROUPS.map(([name, words]) => {
            const listed = findings.filter((finding) => groupOf(finding) === name);
            if (!listed.length) return null;
            return (
              <Stack key={name} spacing={1} component="section" aria-label={words}>
                <Typography sx={{ fontWeight: 700, color: name === "stop" ? STOP : "text.primary" }}>{words} · {listed.length}</Typography>
                {listed.map((finding) => (
                  <FindingCard key={finding.key} job={job.id} finding={finding} chosen={finding === chosen} busy={isBusy(job) || settle.isPending} mayWaive={job.may_waive}
                    onChoose={() => setKey(finding.key)} onMend={(step) => mend.mutate(step)}
                    onSettle={(reason) => settle.mutate({ key: finding.key, reason })} onUnsettle={() => unsettle.mutate(finding.key)} />
                ))}
              </Stack>
            );
          })}
        </Stack>
        {!findings.length && job.findings.length > 0 && <Typography variant="body2">Nothing of that kind. <Button onClick={() => { setGroup("all"); setSubject("all"); }}>Show all</Button></Typography>}
        {!job.findings.length && job.seen && !isBusy(job) && <Typography>Everything that was measured is within its limits.</Typography>}
        <Divider />
        {job.seen && (
          <Typography variant="body2" color="text.secondary">
            {job.checks_run} checks measured{job.checks_carried ? `, ${job.checks_carried} carried over` : ""}. Check sheet: {job.check_sheet}.
          </Typography>
        )}
        <Typography variant="body2" color="text.secondary">Keys: n next finding, p the one before; on the stage f fit, 0 actual size, t tape, c cut open, u unit; 1 to 6 what it shows. Press a line to see its findings.</Typography>
      </Docket>
    </>
  );
}
