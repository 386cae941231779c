/** The docket while lines are made: the sentence that they are made by, what comes of it, and what the check says. */
import { Row, Spacer } from "../../ui/Row";
import { Alert, Box, Button, Menu, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { memo, useEffect, useState, type ReactNode } from "react";
import { Failure } from "../../help/Failure";
import { useMend } from "../../api/changes";
import { useKeepThing } from "../../api/shelfChanges";
import type { Finding, Job } from "../../api/client";
import { useBusy } from "../../api/progress";
import { queries } from "../../api/queries";
import { CUTS, lookOf, type Role } from "../../ui/roles";
import { LOOK, STOP } from "../../ui/theme";
import { mm } from "../../ui/words";
import { measure } from "../findings/FindingCard";
import { Choice } from "../../ui/fields";
import { LinePart } from "./LinePart";
import {
  asPreset,
  hasOffset,
  onItself,
  presetName,
  presetOf,
  rolesInFile,
  tidy,
  usual,
  withLineSet,
  withoutLine,
  type LineWanted,
  type Make,
  type PresetBound,
} from "./make";
import { OutlinePart, PointButton, type Pointing } from "./OutlinePart";
import type { MakingState } from "./useMaking";
import { common } from "../../texts/common";
import { making as say } from "../../texts/making";

const words = (role: string) => lookOf(role).words;

interface Props extends Pick<
  MakingState,
  | "settled"
  | "full"
  | "pending"
  | "error"
  | "findings"
  | "change"
  | "undo"
  | "redo"
  | "leave"
  | "canUndo"
  | "canRedo"
> {
  job: Job;
  pointing: Pointing;
  onPointing: (next: Pointing) => void;
  edited: number | null;
  onEdited: (line: number | null) => void;
  onGo: (finding: Finding) => void;
}

/** It is not drawn anew while a hand drags on the stage. */
export const MakingPart = memo(function MakingPart({
  job,
  settled: make,
  full: made,
  pending,
  error,
  findings,
  change,
  undo,
  redo,
  leave,
  canUndo,
  canRedo,
  pointing,
  onPointing,
  edited,
  onEdited,
  onGo,
}: Props) {
  useUndoKeys(undo, redo);
  if (!make) return null;
  const there = rolesInFile(job);
  const both = there.filter((role) => make.lines.some((line) => line.role === role));
  const nodesOf = (line: number | null) => {
    onEdited(line);
    onPointing(line === null ? "inner" : "nodes");
  };
  return (
    <Stack spacing={1.5} role="region" aria-label={say.makingLinesLabel}>
      <MakeBar job={job} make={make} made={made} pending={pending} onLeave={leave}>
        <Button disabled={!canUndo} onClick={undo} title={say.ctrlZ} sx={{ minWidth: 0 }}>
          {common.undo}
        </Button>
        <Button disabled={!canRedo} onClick={redo} title={say.ctrlShiftZ} sx={{ minWidth: 0 }}>
          {say.redo}
        </Button>
      </MakeBar>
      {error && <Alert severity="error">{error}</Alert>}
      {!pending && made?.refused && <Alert severity="warning">{made.refused}</Alert>}
      {!make.lines.length && <Typography>{say.noLineYetDrawOne}</Typography>}
      {!made && !error && make.lines.length > 0 && (
        <Typography color="text.secondary">{say.findingTheOutline}</Typography>
      )}
      <OutlinePart
        make={make}
        made={made}
        inFile={there}
        pointing={pointing}
        onPointing={onPointing}
        onChange={change}
      />
      {both.length > 0 && <WhatIsThere make={make} both={both} onChange={change} />}
      {make.lines.map((line, index) => (
        <LinePart
          key={index}
          line={line}
          made={(made?.lines ?? []).filter((one) => one.line === index)}
          editing={pointing === "nodes" && edited === index}
          onChange={(next) => change(withLineSet(make, index, next))}
          onEdit={() => nodesOf(pointing === "nodes" && edited === index ? null : index)}
          onRemove={() => {
            nodesOf(null);
            change(withoutLine(make, index));
          }}
        />
      ))}
      <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap" }}>
        <AddLine make={make} onAdd={(line) => change({ ...make, lines: [...make.lines, line] })} />
        <PointButton of="pen" now={pointing} onPoint={onPointing} words={say.drawALine} />
        <Presets job={job} make={make} onTake={change} />
      </Stack>
      {made?.notes.map((note) => (
        <Typography key={note} variant="body2">
          {note}
        </Typography>
      ))}
      {made && !made.refused && (
        <Typography variant="body2" color="text.secondary">
          {made.deviation_mm > 0 && say.linesLieAtMostFrom(mm(made.deviation_mm, 3))}
        </Typography>
      )}
      {make.lines.length > 0 && <Live findings={findings} onGo={onGo} />}
    </Stack>
  );
});

interface BarProps {
  job: Job;
  make: Make;
  made: MakingState["full"];
  pending: boolean;
  onLeave: () => void;
  children: ReactNode;
}

/** What is pressed to make the lines, or to leave them. */
function MakeBar({ job, make, made, pending, onLeave, children }: BarProps) {
  const mend = useMend(job.id);
  const busy = useBusy(job);
  const settings = { make: { ...make }, page: job.page };
  return (
    <>
      <Row spacing={0.5}>
        <Button
          variant="contained"
          disabled={busy || !make.lines.length || (!pending && (!made || !!made.refused))}
          onClick={() =>
            mend.mutate(
              { kind: "make-lines", label: common.makeLines, says: "", safe: false, settings },
              { onSuccess: onLeave },
            )
          }
        >
          {make.lines.length ? say.makeLine(make.lines.length) : common.makeLines}
        </Button>
        <Button onClick={onLeave}>{common.leaveIt}</Button>
        <Spacer />
        {children}
      </Row>
      <Failure of={mend.error} />
    </>
  );
}

interface ThereProps {
  make: Make;
  /** The roles that the file has and that are made. */
  both: Role[];
  onChange: (make: Make) => void;
}

/** Whether lines of the same roles that the file has stay. */
function WhatIsThere({ make, both, onChange }: ThereProps) {
  return (
    <Typography variant="sentence">
      {say.theThatTheFileHas(both.map(words).join(say.andThe))}
      <Choice
        label={say.whatTheFileHas}
        value={make.replaces ? "goes" : "stays"}
        options={[
          ["stays", both.length > 1 ? say.stayBesideTheNewOnes : say.staysBesideTheNewOne],
          ["goes", both.length > 1 ? say.areReplaced : say.isReplaced],
        ]}
        onChange={(next) => onChange(tidy({ ...make, replaces: next === "goes" || undefined }))}
      />
      .
    </Typography>
  );
}

/** Ctrl+Z and Ctrl+Shift+Z, but not while somebody types. */
function useUndoKeys(undo: () => void, redo: () => void) {
  useEffect(() => {
    const hear = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z") return;
      if ((event.target as HTMLElement).tagName === "INPUT") return;
      event.preventDefault();
      if (event.shiftKey) redo();
      else undo();
    };
    window.addEventListener("keydown", hear);
    return () => window.removeEventListener("keydown", hear);
  }, [undo, redo]);
}

function AddLine({ make, onAdd }: { make: Make; onAdd: (line: LineWanted) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const first = make.lines.find((line) => hasOffset(line) && line.role !== "perforation");
  const offers: [string, LineWanted][] = [
    ...CUTS.map((role): [string, LineWanted] => [`A ${words(role)}`, usual(role, make.lines)]),
    ...(first
      ? [[say.aPerforationOnTheItself(words(first.role)), onItself(first)] as [string, LineWanted]]
      : []),
    [say.aSlitThroughTheLiner, { role: "back-cut", slit_deg: 0, run_out_mm: 2 }],
    [say.aFrameToWeed, { role: "kiss-cut", frame_mm: 5 }],
    [say.cutsThroughWideWaste, { role: "kiss-cut", weed_mm: 50 }],
  ];
  return (
    <>
      <Button variant="outlined" onClick={(e) => setAnchor(e.currentTarget)}>
        {say.addALine}
      </Button>
      <Menu anchorEl={anchor} open={!!anchor} onClose={() => setAnchor(null)}>
        {offers.map(([label, line]) => (
          <MenuItem
            key={label}
            onClick={() => {
              onAdd(line);
              setAnchor(null);
            }}
          >
            {label}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}

/** The line presets of the Shelf, those of the job's material and customer first, and recipes that make lines alone. */
function Presets({ job, make, onTake }: { job: Job; make: Make; onTake: (make: Make) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const [name, setName] = useState("");
  const recipes = useQuery(queries.recipes());
  const listed = useQuery(queries.things("lines"));
  const keep = useKeepThing();
  const bound = ({ materials = [], customers = [] }: Partial<PresetBound>) =>
    Number(materials.includes(job.material_id)) + Number(customers.includes(job.customer));
  const presets = [
    ...(listed.data?.things ?? [])
      .filter((one) => !one.retired)
      .map(({ id, title, data }) => ({ id, title, ...presetOf(data) })),
    ...(recipes.data?.recipes ?? [])
      .filter((one) => one.steps.length === 1 && one.steps[0]?.kind === "make-lines")
      .map((one) => ({
        id: `recipe ${one.id}`,
        title: one.name,
        make: one.steps[0]?.settings.make as unknown as Make,
        bound: one as PresetBound,
      })),
  ].sort((a, b) => bound(b.bound) - bound(a.bound));
  const suggested = presetName(make, words);
  return (
    <>
      <Button variant="outlined" onClick={(e) => setAnchor(e.currentTarget)}>
        {say.presets}
      </Button>
      <Menu anchorEl={anchor} open={!!anchor} onClose={() => setAnchor(null)}>
        {presets.map((one) => (
          <MenuItem
            key={one.id}
            onClick={() => {
              onTake(one.make);
              setAnchor(null);
            }}
          >
            {one.title}
          </MenuItem>
        ))}
        {!presets.length && <MenuItem disabled>{say.noPresetYet}</MenuItem>}
        <Box
          component="form"
          sx={{ px: 2, py: 1, width: 340 }}
          onKeyDown={(e) => e.stopPropagation()}
          onSubmit={(e) => {
            e.preventDefault();
            const data = {
              ...asPreset(make),
              ...(job.customer ? { customers: [job.customer] } : {}),
              ...(job.material_id ? { materials: [job.material_id] } : {}),
            };
            keep.mutate(
              {
                kind: "lines",
                title: name.trim() || suggested,
                data,
                note: say.fromTheLinesOf(job.name),
                seen: 1,
              },
              { onSuccess: () => setAnchor(null) },
            );
          }}
        >
          <TextField
            fullWidth
            label={say.keepThisAs}
            placeholder={suggested}
            value={name}
            onChange={(e) => setName(e.target.value)}
            helperText={say.firstFor(
              job.customer || say.everyCustomer,
              job.material_id ? `, ${job.material_id}` : "",
            )}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          <Button type="submit">{say.keepThePreset}</Button>
          <Failure of={keep.error} />
        </Box>
      </Menu>
    </>
  );
}

/** What the check says of the lines as they would be; none of it is in the file yet. */
function Live({ findings, onGo }: { findings: Finding[] | null; onGo: (finding: Finding) => void }) {
  return (
    <Box role="group" aria-label={say.whatTheCheckWouldSay}>
      <Typography variant="h2">{say.whatTheCheckWouldSay2}</Typography>
      {findings === null && <Typography color="text.secondary">{say.checking}</Typography>}
      {findings?.length === 0 && <Typography>{say.nothingAboutLinesAndEdges}</Typography>}
      {findings?.map((finding) => (
        <Box
          key={finding.key}
          component="button"
          type="button"
          data-live={finding.id}
          onClick={() => onGo(finding)}
          sx={{
            display: "block",
            width: "100%",
            textAlign: "left",
            font: "inherit",
            fontSize: 14,
            border: 0,
            borderLeft: `4px solid ${finding.severity === "stop" ? STOP : finding.severity === "look" ? LOOK : "#6B6B6B"}`,
            bgcolor: "transparent",
            cursor: "pointer",
            my: 0.5,
          }}
        >
          <b>{measure(finding)}</b> {finding.message}
        </Box>
      ))}
    </Box>
  );
}
