/** Cut: operations in order, each with tool, force and speed; lengths, the time, and where the blade goes. */
import { Alert, Typography } from "@mui/material";
import { useState } from "react";
import type { Job } from "../../api/client";
import { Again } from "../../cut/Again";
import { Operations } from "../../cut/Operations";
import type { Head } from "../../cut/time";
import { TimeStrip } from "../../cut/TimeStrip";
import { TurnOver } from "../../cut/TurnOver";
import { metres, minutes } from "../../ui/words";
import { Docket, Figure } from "../../ui/Docket";
import { NotYet, SheetStage } from "./SheetStage";
import { common } from "../../texts/common";
import { stations as say } from "../../texts/stations";

export function Cut({ job }: { job: Job }) {
  const { sheet } = job;
  const [shown, setShown] = useState(0);
  const [head, setHead] = useState<Head | null>(null);
  const laid = [sheet, ...job.more_sheets][shown];
  const cut = [job.cut, ...job.more_cuts][shown] ?? job.cut;
  return (
    <>
      <SheetStage job={job} label={common.cut} cut={cut ?? undefined} head={head} onShown={setShown} />
      <Docket title={say.cutInThisOrder}>
        {!cut && <NotYet job={job} />}
        {sheet?.error && <Typography>{sheet.error}</Typography>}
        {cut && <TimeStrip cut={cut} onHead={setHead} />}
        {cut?.said.map((said) => (
          <Alert key={said} severity="warning">
            {said}
          </Alert>
        ))}
        {cut && <Operations job={job} cut={cut} />}
        {laid && laid.placements.length > 1 && (
          <Again key={JSON.stringify(job.layout.cut_copies)} job={job} count={laid.placements.length} />
        )}
        {cut?.operations.some((operation) => operation.mirrored) && <TurnOver />}
        {cut && !cut.operations.length && !sheet?.error && <Typography>{say.thereIsNoLineTo}</Typography>}
        {cut && (
          <>
            <Figure words={say.cutInAll}>{metres(cut.cut_mm)}</Figure>
            <Figure words={say.travelInAll}>{metres(cut.travel_mm)}</Figure>
            <Figure words={say.timePausesIncluded}>{minutes(cut.time_s)}</Figure>
            {cut.dialect && <Figure words={say.theCuttersHpGl}>{cut.dialect}</Figure>}
          </>
        )}
        <Typography variant="body2" color="text.secondary">
          {say.innerContoursComeBeforeOuter}
        </Typography>
      </Docket>
    </>
  );
}
