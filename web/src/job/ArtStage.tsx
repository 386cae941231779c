/** The artwork on the stage: colour, inks, load, layers, before and after; its lines, boxes, findings and section. */
import { Button, MenuItem, Stack, TextField, ToggleButton, ToggleButtonGroup } from "@mui/material";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { useSearchParams } from "react-router";
import type { Finding, Job } from "../api/client";
import { useEdges, useLanding } from "../api/hooks";
import { ROLES } from "../roles";
import { Art, artOf, Picture } from "../stage/Art";
import { Boxes } from "../stage/Boxes";
import { NOWHERE, type Offset } from "../stage/edges";
import { distance, grow, runsOf, snap, type Box, type Point, type View } from "../stage/geometry";
import { Stage } from "../stage/Stage";
import { LOOK, STOP } from "../theme";
import { ComparedArt, CompareBar } from "./Compare";
import { EdgeLayer, LandedCut } from "./EdgeLayer";
import { EdgePanel } from "./EdgePanel";
import { InkPanel } from "./InkPanel";
import { LayerPanel } from "./LayerPanel";
import { SectionStrip } from "./SectionStrip";

const MODES = [["colour", "Colour"], ["inks", "Inks"], ["load", "Ink load"], ["layers", "Layers"], ["compare", "Compare"], ["edges", "Edge"]] as const;
type Mode = (typeof MODES)[number][0];
const PLACE_MM = 4;

interface Props {
  job: Job;
  chosen?: Finding | null;
  only?: string | null;
  /** Hears of a line or a place that was pressed on the stage: its role, and where. */
  onPick?: (role: string | null, at: Point) => void;
}

export function ArtStage({ job, chosen, only, onPick }: Props) {
  const [params, setParams] = useSearchParams();
  const mode = (params.get("show") ?? "colour") as Mode;
  const lines = only ?? params.get("lines") ?? "all";
  const layer = params.get("layer") ?? "whole";
  const inks = useMemo(() => params.get("inks")?.split(",").map(Number) ?? null, [params]);
  const [boxes, setBoxes] = useState(false);
  const [section, setSection] = useState<[Point, Point] | null>(null);
  const [going, setGoing] = useState<{ box: Box; beside?: Finding | null } | null>(null);
  const [offset, setOffset] = useState<Offset>(NOWHERE);
  const [edgeOf, setEdgeOf] = useState("colour");
  const edges = useEdges(job, mode === "edges");
  const moved = Object.values(offset).some((value) => value !== 0);
  const landing = useLanding(job, offset, mode === "edges" && moved);
  const [compared, setCompared] = useState({ before: 1, after: 0, share: 0.5 });
  const listener = useRef<((at: Point | null) => void) | null>(null);
  const last = useRef<Point | null>(null);
  const hear = useCallback((next: ((at: Point | null) => void) | null) => { listener.current = next; next?.(last.current); }, []);
  const tell = useCallback((at: Point | null) => { last.current = at; listener.current?.(at); }, []);
  const seen = job.seen;
  const media = useMemo(() => (seen?.media_box_mm ?? [0, 0, 100, 100]) as Box, [seen]);
  const drawn = useMemo(
    () => (mode === "compare" || mode === "layers" || lines === "none" ? [] : (seen?.drawn ?? []))
      .filter((line) => lines === "all" || lines === "alone" || line.role === lines),
    [seen, mode, lines],
  );
  const set = useCallback((next: Record<string, string | null>) =>
    setParams((before) => {
      for (const [key, value] of Object.entries(next)) if (value === null) before.delete(key); else before.set(key, value);
      return before;
    }, { replace: true }), [setParams]);
  const place = chosen?.where[0] as Box | undefined;
  const found = useMemo(() => (place ? { box: place } : null), [place]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      const next = MODES[Number(event.key) - 1];
      if (next && !["INPUT", "TEXTAREA"].includes(target.tagName) && !event.ctrlKey && !event.metaKey && !event.altKey) set({ show: next[0] === "colour" ? null : next[0] });
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [set]);
  const after = compared.after || job.revision;
  const pick = useCallback((at: Point, within: number) => {
    let best: [number, string] | null = null;
    for (const line of seen?.drawn ?? []) {
      const found = snap(runsOf(line.path), at, within);
      const far = found ? distance(found, at) : Infinity;
      if (found && (!best || far < best[0])) best = [far, line.role];
    }
    onPick?.(best ? best[1] : null, at);
  }, [seen, onPick]);
  const edgeMap = edges.data;
  const slivers = moved ? landing.data : undefined;

  const draw = useCallback((view: View, size: [number, number]) => {
    if (!seen) return null;
    const sha = job.revisions.find((r) => r.current)?.sha256 ?? job.art_sha256;
    const plates = job.plates;
    return (
      <>
        <rect x={media[0]} y={media[1]} width={media[2] - media[0]} height={media[3] - media[1]} fill="#fff" />
        {(mode === "colour" || mode === "edges") && lines !== "alone" && <Art source={artOf(job.id, sha)} media={media} view={view} size={size} />}
        {mode === "layers" && <Art key={layer} source={artOf(job.id, sha, layer)} media={media} view={view} size={size} />}
        {(mode === "inks" || mode === "load") && plates && (
          <Picture key={plates.sha256} box={plates.box as Box} sharp={view.k * 25.4 > plates.ppi * 2}
            href={`/api/jobs/${job.id}/plates?mode=${mode === "load" ? "heat" : "ink"}&inks=${(mode === "inks" && inks ? inks : []).join(",")}&of=${plates.sha256.slice(0, 12)}`} />
        )}
        {mode === "compare" && <ComparedArt job={job} before={compared.before} after={after} share={compared.share} media={media} view={view} size={size} />}
        {mode === "edges" && edgeMap && <EdgeLayer edges={edgeMap} layer={edgeOf in edgeMap.layers ? edgeOf : "colour"} k={view.k} />}
        {mode === "edges" && edgeMap && moved && <LandedCut edges={edgeMap} offset={offset} landing={slivers} />}
        <Boxes k={view.k} all={boxes} boxes={{ media, crop: seen.crop_box_mm as Box, bleed: seen.bleed_box_mm as Box, trim: seen.trim_box_mm as Box }} />
        {chosen?.where.map((where, i) => {
          const [x0, y0, x1, y1] = grow(where as Box, 6 / view.k);
          return (
            <g key={i} data-testid="place">
              {["#fff", chosen.severity === "stop" ? STOP : LOOK].map((colour, n) => (
                <rect key={colour} x={x0} y={y0} width={x1 - x0} height={y1 - y0} fill="none" stroke={colour}
                  strokeWidth={(i === 0 ? 5 : 3.5) - 2.5 * n} vectorEffect="non-scaling-stroke" />
              ))}
            </g>
          );
        })}
      </>
    );
  }, [seen, job, media, mode, lines, layer, inks, boxes, chosen, compared, after, edgeMap, edgeOf, moved, offset, slivers]);

  if (!seen) return <Stage bounds={media} label="No artwork yet">{nothing}</Stage>;
  const roles = [...new Set(seen.drawn.map((line) => line.role))];
  return (
    <Stack sx={{ flex: 1, minWidth: 0, minHeight: 0 }}>
      <Stage
        bounds={media}
        goTo={going && going.beside === chosen ? going : found}
        label={`Artwork ${job.name}`}
        lines={drawn}
        onPoint={tell}
        onSection={setSection}
        onPick={onPick && pick}
        over={
          mode === "inks" || mode === "load" ? (
            <InkPanel job={job} chosen={inks} heat={mode === "load"} hear={hear}
              onChoose={(next) => set({ inks: next ? next.join(",") : null })}
              onGo={([x, y]) => setGoing({ box: [x - PLACE_MM, y - PLACE_MM, x + PLACE_MM, y + PLACE_MM], beside: chosen })} />
          ) : mode === "layers" ? <LayerPanel job={job} chosen={layer} onChoose={(view) => set({ layer: view })} />
          : mode === "edges" ? <EdgePanel job={job} edges={edgeMap} error={edges.error?.message ?? ""} layer={edgeMap && edgeOf in edgeMap.layers ? edgeOf : "colour"} onLayer={setEdgeOf} offset={offset} onOffset={setOffset} landing={slivers}
              onGo={([x, y]) => setGoing({ box: [x - PLACE_MM, y - PLACE_MM, x + PLACE_MM, y + PLACE_MM], beside: chosen })} />
          : mode === "compare" ? <CompareBar job={job} before={compared.before} after={after} share={compared.share} onChange={(next) => setCompared((old) => ({ ...old, ...next }))} />
          : undefined
        }
        tools={
          <>
            <ToggleButtonGroup size="small" exclusive value={mode} onChange={(_, next) => next && set({ show: next === "colour" ? null : next })} aria-label="what the stage shows">
              {MODES.map(([value, words], i) => <ToggleButton key={value} value={value} title={`key ${i + 1}`} sx={{ whiteSpace: "nowrap", py: 0.25 }}>{words}</ToggleButton>)}
            </ToggleButtonGroup>
            <TextField select value={lines} onChange={(e) => set({ lines: e.target.value === "all" ? null : e.target.value })} disabled={mode === "compare" || mode === "layers" || !!only}
              slotProps={{ htmlInput: { "aria-label": "which lines" }, select: { sx: { fontSize: 13 } } }} sx={{ width: 138, "& .MuiSelect-select": { py: 0.5 } }}>
              <MenuItem value="all">Art and lines</MenuItem>
              <MenuItem value="none">Art alone</MenuItem>
              <MenuItem value="alone">Lines alone</MenuItem>
              {roles.map((role) => <MenuItem key={role} value={role}>with {ROLES[role]?.words ?? role}</MenuItem>)}
            </TextField>
            <Button variant={boxes ? "contained" : "outlined"} aria-pressed={boxes} onClick={() => setBoxes(!boxes)}>Boxes</Button>
          </>
        }
      >
        {draw}
      </Stage>
      {section && <SectionStrip job={job} line={section} onClose={() => setSection(null)} />}
    </Stack>
  );
}

const nothing = () => null;
