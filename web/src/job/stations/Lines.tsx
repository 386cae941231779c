/** Lines: each ink with its exact name, each line with what it is made of, revisions and proofs. */
import { Row } from "../../ui/Row";
import { Box, Button, Typography } from "@mui/material";
import { useCallback, useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { Failure } from "../../help/Failure";
import { useMend, useUndo } from "../../api/changes";
import type { Finding, Job, PageSeen } from "../../api/client";
import { useBusy } from "../../api/progress";
import { RoleSign } from "../../stage/RoleLine";
import { Docket } from "../../ui/Docket";
import { lookOf, type Role } from "../../ui/roles";
import { mm } from "../../ui/words";
import { ArtStage } from "../ArtStage";
import { FindingCard } from "../findings/FindingCard";
import { History } from "../mending/History";
import { proofWords } from "../mending/proofWords";
import { TakenInAs } from "../order/TakenInAs";
import { fromLine, makeIn, rolesInFile, type Make } from "../making/make";
import { MakingPart } from "../making/MakingPart";
import type { Pointing } from "../making/OutlinePart";
import { useMaking } from "../making/useMaking";
import { useStage } from "../making/useStage";
import type { Box as Rectangle } from "../../stage/geometry";
import { InkName } from "./InkName";
import { NotYet } from "./SheetStage";
import { common } from "../../texts/common";
import { stations as say } from "../../texts/stations";

export function Lines({ job }: { job: Job }) {
  const [only, setOnly] = useState<string | null>(null);
  const [pointing, setPointing] = useState<Pointing>("inner");
  const [edited, setEdited] = useState<number | null>(null);
  const [going, setGoing] = useState<{ box: Rectangle } | null>(null);
  const mend = useMend(job.id);
  const busy = useBusy(job);
  const making = useMaking(job, pointing === "nodes");
  const inHand = useStage({ job, making, pointing, onPointing: setPointing, edited, goTo: going });
  const [params, setParams] = useSearchParams();
  // An address that asks for it begins the making as soon as there is something to make it of.
  if (params.has("make") && job.seen && !making.make) making.begin(makeIn(params.get("make") ?? ""));
  useEffect(() => {
    if (params.has("make") && making.make) setParams({}, { replace: true });
  }, [params, making.make, setParams]);
  const findings = job.findings.filter((finding) => finding.mends.length > 0 && !finding.decision);
  const go = useCallback(({ where }: Finding) => where[0] && setGoing({ box: where[0] as Rectangle }), []);
  const begin = (make?: Make) => {
    setPointing("inner");
    setEdited(null);
    making.begin(make);
  };
  const makeFrom = (role: Role) => begin(fromLine(job, role));
  if (making.make)
    return (
      <>
        <ArtStage job={job} making={inHand?.stage} />
        <Docket title={common.makeLines}>
          {inHand?.panel && (
            <Box
              sx={{
                position: "sticky",
                top: -16,
                zIndex: 1,
                bgcolor: "background.paper",
                py: 1,
                borderBottom: 1,
                borderColor: "divider",
              }}
            >
              {inHand.panel}
            </Box>
          )}
          <MakingPart
            job={job}
            settled={making.settled}
            full={making.full}
            pending={making.pending}
            error={making.error}
            findings={making.findings}
            change={making.change}
            undo={making.undo}
            redo={making.redo}
            leave={making.leave}
            canUndo={making.canUndo}
            canRedo={making.canRedo}
            pointing={pointing}
            onPointing={setPointing}
            edited={edited}
            onEdited={setEdited}
            onGo={go}
          />
        </Docket>
      </>
    );
  return (
    <>
      <ArtStage job={job} only={only} />
      <Docket title={say.inksAndLines}>
        {job.seen && (
          <Button variant="contained" disabled={busy} onClick={() => begin()}>
            {job.seen.made ? say.changeTheLinesThatWere : common.makeLines}
          </Button>
        )}
        {job.seen && (
          <Button variant="outlined" component={Link} to={`/jobs/${job.id}/stack`}>
            {job.stack ? say.theStackOfFabric : say.stackOfFabric}
          </Button>
        )}
        {job.seen ? (
          <Held job={job} seen={job.seen} only={only} onOnly={setOnly} onMakeFrom={busy ? null : makeFrom} />
        ) : (
          <NotYet job={job} />
        )}
        {findings.length > 0 && <Typography variant="h2">{say.mends}</Typography>}
        <Failure of={mend.error} />
        {findings.map((finding) => (
          <FindingCard
            key={finding.key}
            job={job.id}
            finding={finding}
            chosen
            busy={busy}
            onMend={(step) => mend.mutate(step)}
          />
        ))}
        <TakenInAs job={job} />
        <Revisions job={job} />
      </Docket>
    </>
  );
}

interface HeldProps {
  job: Job;
  seen: PageSeen;
  only: string | null;
  onOnly: (role: string | null) => void;
  /** Makes lines from one that the file has. */
  onMakeFrom: ((role: Role) => void) | null;
}

/** What the page holds: inks, layers, lines. */
function Held({ job, seen, only, onOnly, onMakeFrom }: HeldProps) {
  const [, setParams] = useSearchParams();
  const alone = (name: string) => {
    const at = job.plates?.inks.findIndex((plate) => plate.name === name) ?? -1;
    if (at >= 0) setParams({ show: "inks", inks: String(at) }, { replace: true });
  };
  const hidden = seen.layers.filter((layer) => !layer.visible).length;
  return (
    <>
      {seen.inks.map((ink) => (
        <InkName key={ink.name} job={job} ink={ink} onAlone={() => alone(ink.name)} />
      ))}
      {seen.layers.length > 0 && (
        <Typography variant="body2" color="text.secondary">
          {say.layerHidden(seen.layers.length, hidden)}
          <Button onClick={() => setParams({ show: "layers" }, { replace: true })}>
            {say.lookAtThemOneBy}
          </Button>
        </Typography>
      )}
      {seen.lines.map((line) => (
        <Box
          key={`${line.role} ${line.ink} ${line.layer}`}
          component="button"
          type="button"
          aria-pressed={only === line.role}
          onClick={() => onOnly(only === line.role ? null : line.role)}
          sx={{
            textAlign: "left",
            border: 0,
            p: 1,
            font: "inherit",
            cursor: "pointer",
            bgcolor: only === line.role ? "#DDE8E8" : "#F4F4F4",
          }}
        >
          <Row spacing={1}>
            <RoleSign role={line.role ?? "unclear"} />
            <b>{line.role ? lookOf(line.role).words : say.whichRole}</b>
          </Row>
          <Typography variant="body2">
            {say.contourClosedNodes(line.contours, line.closed_contours, line.nodes, mm(line.length_mm))}
          </Typography>
        </Box>
      ))}
      {rolesInFile(job).map((role) => (
        <Button
          key={role}
          disabled={!onMakeFrom}
          onClick={() => onMakeFrom?.(role)}
          sx={{ justifyContent: "flex-start" }}
        >
          {say.makeALineFromThe(lookOf(role).words)}
        </Button>
      ))}
      {!seen.lines.length && <Typography>{say.theFileHasNoLines}</Typography>}
    </>
  );
}

/** How the artwork came to be what it is, step by step. */
function Revisions({ job }: { job: Job }) {
  const [open, setOpen] = useState(false);
  const undo = useUndo(job.id);
  const busy = useBusy(job);
  return (
    <>
      <Typography variant="h2">{say.revisions}</Typography>
      {!job.revisions.length && <NotYet job={job} />}
      {job.revisions.map((revision) => (
        <Box
          key={revision.id}
          sx={revision.number > job.revision ? { color: "text.secondary", fontStyle: "italic" } : {}}
        >
          <Typography variant="body2" sx={{ fontWeight: revision.current ? 700 : 400 }}>
            {revision.number}. {revision.said || say.asItCameFromThe}
          </Typography>
          {revision.proof && (
            <Typography variant="mono" color="text.secondary">
              {proofWords(revision.proof)}
            </Typography>
          )}
        </Box>
      ))}
      {job.revision > 1 && (
        <Button variant="outlined" disabled={busy} onClick={() => undo.mutate(undefined)}>
          {say.undoTheLastMend}
        </Button>
      )}
      {job.revisions.length > 1 && (
        <Button variant="outlined" onClick={() => setOpen(true)}>
          {say.history}
        </Button>
      )}
      <Failure of={undo.error} />
      {open && <History job={job} onClose={() => setOpen(false)} />}
    </>
  );
}
