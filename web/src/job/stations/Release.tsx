/** Release: blocked while a stop is open; then the package, with what was measured on it. */
import { Alert, Button, Link as Anchor, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import { Failure } from "../../help/Failure";
import type { Job } from "../../api/client";
import { useRelease } from "../../api/changes";
import { MONO } from "../../ui/theme";
import { useBusy } from "../../api/progress";
import { Docket, Figure } from "../../ui/Docket";
import { useMay } from "../../api/may";
import { useAlso } from "../release/useAlso";
import { RepeatOrder } from "../order/RepeatOrder";
import { AlsoAs } from "../release/AlsoAs";
import { LettersPart, ProofPart } from "../letters/LettersPart";
import { JobRehearsal } from "../release/Rehearsal";
import { bytes, mm, moment } from "../../ui/words";
import { NotYet, SheetStage } from "./SheetStage";
import { stations as say } from "../../texts/stations";

export function Release({ job }: { job: Job }) {
  const release = useRelease(job.id);
  const busy = useBusy(job);
  const [also, setAlso] = useAlso(job.destination);
  const mayRelease = useMay("release");
  const sheet = job.sheet;
  const copies = [sheet, ...job.more_sheets].reduce((sum, one) => sum + (one?.placements.length ?? 0), 0);
  const stops = job.findings.filter((finding) => finding.severity === "stop" && !finding.decision);
  const ready = !!sheet && !sheet.error && !stops.length && !busy && job.current && !job.released;
  return (
    <>
      <SheetStage job={job} label={say.sheetToBeReleased} />
      <Docket title={stops.length || sheet?.error ? say.blocked : say.release}>
        {stops.length > 0 && (
          <Alert severity="error">
            {say.stopOpen(
              stops.length,
              stops.length > 1,
              [...new Set(stops.map((stop) => stop.id))].join(", "),
            )}
            <Anchor component={Link} to={`/jobs/${job.id}/check`}>
              {say.mendThemInCheck}
            </Anchor>
          </Alert>
        )}
        {!sheet && <NotYet job={job} />}
        {sheet?.error && <Alert severity="error">{sheet.error}</Alert>}
        <Typography variant="body2">
          {say.thenReadsThemBackMore(
            sheet && sheet.count > 1 ? say.aPackageForEachOf(sheet.count) : "",
            sheet?.makes === "cut"
              ? say.nothingIsPrintedWritesThe
              : sheet?.makes === "print"
                ? say.nothingIsCutWritesThe
                : say.writesThePrintPdfArt,
            mm(0.05, 2),
          )}
        </Typography>
        {sheet?.makes !== "print" && <AlsoAs formats={also} onFormats={setAlso} />}
        <Button
          variant="contained"
          size="medium"
          disabled={!ready || !mayRelease}
          onClick={() => release.mutate(also)}
        >
          {sheet && !sheet.error ? say.releaseCopy(copies) : say.release}
        </Button>
        {!mayRelease && <Alert severity="info">{say.releasingIsNotAmong}</Alert>}
        <Failure of={release.error} />
        {job.released && (
          <>
            <Alert severity="success">{say.justThisWasReleasedIt}</Alert>
            <RepeatOrder job={job} />
          </>
        )}
        <ProofPart job={job} />
        <LettersPart job={job} />
        <JobRehearsal job={job} />
        {job.releases.map((made) => (
          <Stack key={made.id} spacing={0.5} data-release={made.id}>
            <Typography variant="subtitle1">
              {say.package(made.id, moment(made.created))}
              {made.sheets_in_all > 1 && say.sheetOf(made.sheet_number, made.sheets_in_all)}
              {made.shared_id !== null && say.sharedWithOtherJobs}
            </Typography>
            <Figure words={say.cutAsWrittenLiesFrom}>{mm(made.worst_off_mm, 4)}</Figure>
            {made.pdf_x && <PdfX pdfX={made.pdf_x} />}
            {made.files.map((file) => (
              <Stack key={file.name} direction="row" sx={{ justifyContent: "space-between" }}>
                <Anchor
                  href={`/api/bench/${made.id}/files/${file.name}`}
                  sx={{ fontFamily: MONO, fontSize: 13, wordBreak: "break-all" }}
                >
                  {file.name}
                </Anchor>
                <Typography variant="body2">{bytes(file.bytes)}</Typography>
              </Stack>
            ))}
            <Button component={Link} to={`/bench?release=${made.id}`} variant="outlined">
              {say.goToTheBench}
            </Button>
          </Stack>
        ))}
        {job.log.length > 0 && <Typography variant="h2">{say.whatWasDone}</Typography>}
        {job.log.slice(0, 12).map((entry, i) => (
          <Typography key={i} variant="body2" color="text.secondary">
            {moment(entry.when)} {entry.who}: {entry.what}
          </Typography>
        ))}
      </Docket>
    </>
  );
}

/** Whether the print PDF follows the standard, and what keeps it from that. */
function PdfX({ pdfX }: { pdfX: NonNullable<Job["releases"][number]["pdf_x"]> }) {
  return pdfX.follows ? (
    <Figure words={say.thePrintPdfFollows}>{pdfX.standard}</Figure>
  ) : (
    <Alert severity="info">{say.thePrintPdfDoesNot(pdfX.standard, pdfX.hindered_by.join("; "))}</Alert>
  );
}
