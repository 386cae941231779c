/** Cut: operations in order, each with tool, force and speed; lengths, the time, and where the blade goes. */
import { Alert, Typography } from "@mui/material";
import { useState } from "react";
import type { Job } from "../../api/client";
import { Operations } from "../../cut/Operations";
import { TimeStrip } from "../../cut/TimeStrip";
import { metres, minutes } from "../../ui/words";
import { Docket, Figure } from "../../ui/Docket";
import { NotYet, SheetStage } from "./SheetStage";

export function Cut({ job }: { job: Job }) {
  const { sheet } = job;
  const [shown, setShown] = useState(0);
  const cut = [job.cut, ...job.more_cuts][shown] ?? job.cut;
  return (
    <>
      <SheetStage job={job} label="Cut" cut={cut ?? undefined} onShown={setShown} />
      <Docket title="Cut, in this order">
        {!cut && <NotYet job={job} />}
        {sheet?.error && <Typography>{sheet.error}</Typography>}
        {cut && <TimeStrip cut={cut} />}
        {cut?.said.map((said) => (
          <Alert key={said} severity="warning">
            {said}
          </Alert>
        ))}
        {cut && <Operations job={job} cut={cut} />}
        {cut && !cut.operations.length && !sheet?.error && <Typography>There is no line to cut.</Typography>}
        {cut && (
          <>
            <Figure words="Cut in all">{metres(cut.cut_mm)}</Figure>
            <Figure words="Travel in all">{metres(cut.travel_mm)}</Figure>
            <Figure words="Time, pauses included">{minutes(cut.time_s)}</Figure>
            {cut.dialect && <Figure words="The cutter’s HP-GL">{cut.dialect}</Figure>}
          </>
        )}
        <Typography variant="body2" color="text.secondary">
          Inner contours come before outer ones; what falls out is cut last. One origin for all passes. Always
          test-cut.
        </Typography>
      </Docket>
    </>
  );
}
