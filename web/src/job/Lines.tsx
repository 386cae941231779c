/** Lines: each ink with its exact name, each line with what it is made of, revisions and proofs. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Job } from "../api/client";
import { useMend, useUndo } from "../api/hooks";
import { RoleSign } from "../stage/RoleLine";
import { mm } from "../stage/geometry";
import { lookOf } from "../roles";
import { MONO } from "../theme";
import { ArtStage } from "./ArtStage";
import { isBusy } from "./Check";
import { Docket } from "./Docket";
import { FindingCard } from "./FindingCard";
import { InkName } from "./InkName";
import { TakenInAs } from "./TakenInAs";

export function Lines({ job }: { job: Job }) {
  const [only, setOnly] = useState<string | null>(null);
  const [, setParams] = useSearchParams();
  const mend = useMend(job.id);
  const undo = useUndo(job.id);
  const findings = job.findings.filter((finding) => finding.mends.length > 0 && !finding.decision);
  return (
    <>
      <ArtStage job={job} only={only} />
      <Docket title="Inks and lines">
        {(job.seen?.inks ?? []).map((ink) => (
          <InkName key={ink.name} job={job} ink={ink} onAlone={() => {
            const at = job.plates?.inks.findIndex((plate) => plate.name === ink.name) ?? -1;
            if (at >= 0) setParams({ show: "inks", inks: String(at) }, { replace: true });
          }} />
        ))}
        {(job.seen?.layers.length ?? 0) > 0 && (
          <Typography variant="body2" color="text.secondary">
            {job.seen?.layers.length} layers, {job.seen?.layers.filter((layer) => !layer.visible).length} hidden.{" "}
            <Button onClick={() => setParams({ show: "layers" }, { replace: true })}>Look at them one by one</Button>
          </Typography>
        )}
        {(job.seen?.lines ?? []).map((line) => (
          <Box key={`${line.role} ${line.ink}`} component="button" type="button" aria-pressed={only === line.role}
            onClick={() => setOnly(only === line.role ? null : line.role)}
            sx={{ textAlign: "left", border: 0, p: 1, font: "inherit", cursor: "pointer", bgcolor: only === line.role ? "#DDE8E8" : "#F4F4F4" }}>
            <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
              <RoleSign role={line.role ?? "unclear"} />
              <b>{line.role ? lookOf(line.role).words : "which role?"}</b>
            </Stack>
            <Typography variant="body2">
              {line.contours} contour{line.contours === 1 ? "" : "s"}, {line.closed_contours} closed · {line.nodes} nodes · {mm(line.length_mm)}
            </Typography>
          </Box>
        ))}
        {!job.seen?.lines.length && <Typography>The file has no lines.</Typography>}
        {findings.length > 0 && <Typography variant="h2">Mends</Typography>}
        {findings.map((finding) => (
          <FindingCard key={finding.key} job={job.id} finding={finding} chosen busy={isBusy(job)} onMend={(step) => mend.mutate(step)} />
        ))}
        <TakenInAs job={job} />
        <Typography variant="h2">Revisions</Typography>
        {job.revisions.map((revision) => (
          <Box key={revision.id} sx={{ opacity: revision.number > job.revision ? 0.5 : 1 }}>
            <Typography variant="body2" sx={{ fontWeight: revision.current ? 700 : 400 }}>
              {revision.number}. {revision.said || "As it came from the customer, untouched."}
            </Typography>
            {revision.proof && (
              <Typography variant="body2" color="text.secondary" sx={{ fontFamily: MONO }}>
                art differs by {String(revision.proof.art_difference)} of 255, lines moved {Number(revision.proof.lines_moved_mm).toFixed(3)} mm
              </Typography>
            )}
          </Box>
        ))}
        {job.revision > 1 && <Button variant="outlined" disabled={isBusy(job)} onClick={() => undo.mutate(undefined)}>Undo the last mend</Button>}
      </Docket>
    </>
  );
}
