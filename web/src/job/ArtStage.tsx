/** The artwork on the stage: what a mode shows, with its lines, boxes, findings and section over it. */
import { Button, MenuItem, Stack, TextField, ToggleButton, ToggleButtonGroup } from "@mui/material";
import { useCallback, useMemo, useRef, useState, type ReactNode } from "react";
import { useSearchParams } from "react-router";
import type { DrawnLine, Finding, Job } from "../api/client";
import { Boxes } from "../stage/Boxes";
import { distance, grow, runsOf, snap, type Box, type Point, type View } from "../stage/geometry";
import type { Line } from "../stage/LineCanvas";
import { Stage, type Drawing } from "../stage/Stage";
import { ROLES } from "../ui/roles";
import { LOOK, STOP } from "../ui/theme";
import { InDocket } from "../ui/Docket";
import { useKeys } from "../ui/useKeys";
import { useBusy } from "../api/progress";
import { PreviewPanel } from "./mending/PreviewPanel";
import { usePreviewing } from "./mending/previewing";
import { MODES, modeOf, useModes } from "./modes/useModes";
import { SizePanel } from "./SizePanel";
import { SectionStrip } from "./SectionStrip";

const PLACE_MM = 4;
const NO_PAGE: Box = [0, 0, 100, 100];

interface Props {
  job: Job;
  chosen?: Finding | null;
  only?: string | null;
  /** What is being made: drawn instead of the lines of its roles, with what a hand can take. */
  making?: StageMaking | null;
  /** Hears of a line or a place that was pressed on the stage: its role, and where. */
  onPick?: (role: string | null, at: Point) => void;
}

export interface StageMaking {
  lines: Line[];
  /** Which lines of the file are not drawn, since others take their place. */
  instead: (line: DrawnLine) => boolean;
  onTop: (view: View, size: [number, number]) => ReactNode;
  pick: (at: Point, within: number) => void;
  draw: Drawing | null;
  /** Keys that mean something else while this is in hand. */
  keys?: Record<string, () => void>;
  /** Null where nothing is to be made yet. */
  make: object | null;
  goTo: { box: Box } | null;
}

export function ArtStage({ job, chosen, only, making, onPick }: Props) {
  const { get, set } = useViewState();
  const previewing = usePreviewing();
  const mode = previewing?.looked ? "compare" : modeOf(get("show"));
  const lines = only ?? get("lines") ?? "all";
  const [boxes, setBoxes] = useState(false);
  const [sizing, setSizing] = useState(false);
  const [section, setSection] = useState<[Point, Point] | null>(null);
  const [going, setGoing] = useState<{ box: Box; beside?: Finding | null } | null>(null);
  const pointer = usePointer();
  const seen = job.seen;
  const media = useMemo(() => (seen?.media_box_mm as Box | undefined) ?? NO_PAGE, [seen]);
  // Lines that are made may lie beyond the page.
  const isMaking = !!making;
  const room = useMemo(
    () => (isMaking ? grow(media, 0.12 * Math.max(media[2] - media[0], media[3] - media[1])) : media),
    [media, isMaking],
  );
  const go = useCallback(
    ([x, y]: Point) =>
      setGoing({ box: [x - PLACE_MM, y - PLACE_MM, x + PLACE_MM, y + PLACE_MM], beside: chosen }),
    [chosen],
  );
  const busy = useBusy(job);
  const ahead = useMemo(() => {
    const looked = previewing?.looked?.places[0] as Box | undefined;
    const small = looked && looked[2] - looked[0] < (media[2] - media[0]) / 2;
    const place = small ? looked : (chosen?.where[0] as Box | undefined);
    return previewing?.looked && place ? { box: place } : null;
    // Only a preview that has just come is a reason to go there.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [previewing?.looked]);
  const shown = useModes(mode, { job, media, alone: lines === "alone", get, set, go, hear: pointer.hear });
  useKeys(
    useCallback(
      (key: string) => {
        const next = MODES[Number(key) - 1];
        if (next) set({ show: next[0] === "colour" ? null : next[0] });
      },
      [set],
    ),
  );
  const instead = making?.instead;
  const made = making?.lines;
  const drawn = useMemo(() => {
    if (shown.ownLines || lines === "none") return [];
    const kept = (seen?.drawn ?? []).filter((line) => !instead?.(line));
    return [...kept, ...(made ?? [])].filter(
      (line) => lines === "all" || lines === "alone" || line.role === lines,
    );
  }, [seen, shown.ownLines, lines, instead, made]);
  const place = chosen?.where[0] as Box | undefined;
  const found = useMemo(() => (place ? { box: place } : null), [place]);
  const pick = useCallback(
    (at: Point, within: number) => onPick?.(nearestRole(job, at, within), at),
    [job, onPick],
  );
  const drawMode = shown.draw;
  const draw = useCallback(
    (view: View, size: [number, number]) =>
      seen && (
        <>
          <rect
            x={media[0]}
            y={media[1]}
            width={media[2] - media[0]}
            height={media[3] - media[1]}
            fill="#fff"
          />
          {drawMode(view, size)}
          <Boxes
            k={view.k}
            all={boxes}
            boxes={{
              media,
              crop: seen.crop_box_mm as Box,
              bleed: seen.bleed_box_mm as Box,
              trim: seen.trim_box_mm as Box,
            }}
          />
          {chosen && <Places finding={chosen} k={view.k} />}
        </>
      ),
    [seen, media, drawMode, boxes, chosen],
  );
  if (!seen)
    return (
      <Stage bounds={media} label="No artwork yet">
        {nothing}
      </Stage>
    );
  // While lines are made the section stays open, across the middle unless it is laid elsewhere.
  const middle = (media[1] + media[3]) / 2;
  const beside = (media[2] - media[0]) * 0.12;
  const laid: [Point, Point] | null =
    section ??
    (making
      ? [
          [media[0] - beside, middle],
          [media[2] + beside, middle],
        ]
      : null);
  const roles = [...new Set(seen.drawn.map((line) => line.role))];
  return (
    <Stack sx={{ flex: 1, minWidth: 0, minHeight: 0 }}>
      <Stage
        bounds={room}
        onTop={making?.onTop}
        goTo={making?.goTo ?? ahead ?? (going && going.beside === chosen ? going : found)}
        label={`Artwork ${job.name}`}
        lines={drawn}
        onPoint={pointer.tell}
        onSection={setSection}
        onDraw={making?.draw}
        moreKeys={making?.keys}
        onPick={making?.pick ?? shown.pick ?? (onPick && pick)}
        over={
          <>
            {!making && (sizing ? <SizePanel job={job} onClose={() => setSizing(false)} /> : shown.panel)}
            {previewing && <PreviewPanel previewing={previewing} busy={busy} />}
          </>
        }
        tools={
          <>
            <ToggleButtonGroup
              size="small"
              exclusive
              value={mode}
              onChange={(_, next) => next && set({ show: next === "colour" ? null : next })}
              aria-label="what the stage shows"
            >
              {MODES.map(([value, words], i) => (
                <ToggleButton
                  key={value}
                  value={value}
                  title={`key ${i + 1}`}
                  sx={{ whiteSpace: "nowrap", py: 0.25, px: 0.6 }}
                >
                  {words}
                </ToggleButton>
              ))}
            </ToggleButtonGroup>
            <WhichLines
              value={lines}
              roles={roles}
              disabled={!!shown.ownLines || !!only}
              onChoose={(next) => set({ lines: next === "all" ? null : next })}
            />
            <Button
              variant={boxes ? "contained" : "outlined"}
              aria-pressed={boxes}
              onClick={() => setBoxes(!boxes)}
              sx={{ px: 0.75, minWidth: 0 }}
            >
              Boxes
            </Button>
            {!making && (
              <Button
                variant={sizing ? "contained" : "outlined"}
                aria-pressed={sizing}
                onClick={() => setSizing(!sizing)}
                sx={{ px: 0.75, minWidth: 0 }}
              >
                Size
              </Button>
            )}
          </>
        }
      >
        {draw}
      </Stage>
      {!making && shown.aside && <InDocket>{shown.aside}</InDocket>}
      {laid && (
        <SectionStrip job={job} line={laid} make={making?.make ?? null} onClose={() => setSection(null)} />
      )}
    </Stack>
  );
}

/** What the stage shows stands in the address, so that it survives a reload. */
function useViewState() {
  const [params, setParams] = useSearchParams();
  const get = useCallback((name: string) => params.get(name), [params]);
  const set = useCallback(
    (next: Record<string, string | null>) =>
      setParams(
        (before) => {
          for (const [key, value] of Object.entries(next))
            if (value === null) before.delete(key);
            else before.set(key, value);
          return before;
        },
        { replace: true },
      ),
    [setParams],
  );
  return { get, set };
}

type Listener = (at: Point | null) => void;

/** The pointer's place, told to one listener without drawing anything anew. */
function usePointer() {
  const listener = useRef<Listener | null>(null);
  const last = useRef<Point | null>(null);
  const hear = useCallback((next: Listener | null) => {
    listener.current = next;
    next?.(last.current);
  }, []);
  const tell = useCallback((at: Point | null) => {
    last.current = at;
    listener.current?.(at);
  }, []);
  return { hear, tell };
}

/** The role of the line nearest to a place, within so many mm; null where none is that near. */
function nearestRole(job: Job, at: Point, within: number): string | null {
  let best: [number, string] | null = null;
  for (const line of job.seen?.drawn ?? []) {
    const found = snap(runsOf(line.path), at, within);
    const far = found ? distance(found, at) : Infinity;
    if (found && (!best || far < best[0])) best = [far, line.role];
  }
  return best && best[1];
}

function Places({ finding, k }: { finding: Finding; k: number }) {
  const colours = ["#fff", finding.severity === "stop" ? STOP : LOOK];
  return finding.where.map((where, i) => {
    const [x0, y0, x1, y1] = grow(where as Box, 6 / k);
    return (
      <g key={i} data-testid="place">
        {colours.map((colour, n) => (
          <rect
            key={colour}
            x={x0}
            y={y0}
            width={x1 - x0}
            height={y1 - y0}
            fill="none"
            stroke={colour}
            strokeWidth={(i === 0 ? 5 : 3.5) - 2.5 * n}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </g>
    );
  });
}

interface WhichProps {
  value: string;
  roles: string[];
  disabled: boolean;
  onChoose: (lines: string) => void;
}

function WhichLines({ value, roles, disabled, onChoose }: WhichProps) {
  return (
    <TextField
      select
      value={value}
      onChange={(e) => onChoose(e.target.value)}
      disabled={disabled}
      slotProps={{ htmlInput: { "aria-label": "which lines" }, select: { sx: { fontSize: 13 } } }}
      sx={{ width: 122, "& .MuiSelect-select": { py: 0.5 } }}
    >
      <MenuItem value="all">Art and lines</MenuItem>
      <MenuItem value="none">Art alone</MenuItem>
      <MenuItem value="alone">Lines alone</MenuItem>
      {roles.map((role) => (
        <MenuItem key={role} value={role}>
          with {ROLES[role]?.words ?? role}
        </MenuItem>
      ))}
    </TextField>
  );
}

const nothing = () => null;
