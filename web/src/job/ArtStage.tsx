/** The artwork on the stage: what a mode shows, with its lines, boxes, findings and section over it. */
import { Stack } from "@mui/material";
import { useCallback, useMemo, useState, type ReactNode } from "react";
import type { DrawnLine, Job, MakeWanted } from "../api/client";
import { grow, type Box, type Point, type View } from "../stage/geometry";
import type { Line } from "../stage/LineCanvas";
import { Stage, type Drawing } from "../stage/Stage";
import { InDocket } from "../ui/Docket";
import { useKeys } from "../ui/useKeys";
import { useBusy } from "../api/progress";
import { ArtTools } from "./ArtTools";
import { PreviewPanel } from "./mending/PreviewPanel";
import { usePreviewing } from "./mending/previewing";
import { MODES, modeOf, useModes, type Mode } from "./modes/useModes";
import { Picture, type Marked } from "./Picture";
import { SizePanel } from "./SizePanel";
import { SectionStrip } from "./SectionStrip";
import { nearestRole, usePointer, useViewState } from "./viewState";
import { job as say } from "../texts/job";

const PLACE_MM = 4;
const NO_PAGE: Box = [0, 0, 100, 100];

interface Props {
  job: Job;
  chosen?: Marked | null;
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
  make: MakeWanted | null;
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
  const pointer = usePointer();
  const busy = useBusy(job);
  const seen = job.seen;
  const media = useMemo(() => (seen?.media_box_mm as Box | undefined) ?? NO_PAGE, [seen]);
  const room = useRoom(media, !!making);
  const { place: goingTo, go } = usePlace(media, chosen);
  const shown = useModes(mode, { job, media, alone: lines === "alone", get, set, go, hear: pointer.hear });
  const choose = useCallback(
    (next: Mode | undefined) => next && set({ show: next === "colour" ? null : next }),
    [set],
  );
  useKeys(useCallback((key: string) => choose(MODES[Number(key) - 1]?.[0]), [choose]));
  const drawn = useLines(job, shown.ownLines ? "none" : lines, making);
  const pick = useCallback(
    (at: Point, within: number) => onPick?.(nearestRole(job, at, within), at),
    [job, onPick],
  );
  const drawMode = shown.draw;
  const draw = useCallback(
    (view: View, size: [number, number]) =>
      seen && (
        <Picture seen={seen} media={media} k={view.k} boxes={boxes} chosen={chosen}>
          {drawMode(view, size)}
        </Picture>
      ),
    [seen, media, drawMode, boxes, chosen],
  );
  if (!seen)
    return (
      <Stage bounds={media} label={say.noArtworkYet}>
        {nothing}
      </Stage>
    );
  // While lines are made the section stays open, across the middle unless it is laid elsewhere.
  const laid = section ?? (making ? acrossMiddle(media) : null);
  return (
    <Stack sx={{ flex: 1, minWidth: 0, minHeight: 0 }}>
      <Stage
        bounds={room}
        onTop={making?.onTop}
        goTo={making?.goTo ?? goingTo}
        label={say.artwork(job.name)}
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
          <ArtTools
            mode={mode}
            onMode={choose}
            lines={lines}
            roles={[...new Set(seen.drawn.map((line) => line.role))]}
            fixed={!!shown.ownLines || !!only}
            onLines={(next) => set({ lines: next === "all" ? null : next })}
            boxes={boxes}
            onBoxes={setBoxes}
            sizing={making ? null : sizing}
            onSizing={setSizing}
          />
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

/** What the stage has room for: lines that are made may lie beyond the page. */
function useRoom(media: Box, isMaking: boolean): Box {
  return useMemo(
    () => (isMaking ? grow(media, 0.12 * Math.max(media[2] - media[0], media[3] - media[1])) : media),
    [media, isMaking],
  );
}

const acrossMiddle = ([x0, y0, x1, y1]: Box): [Point, Point] => {
  const [middle, beside] = [(y0 + y1) / 2, (x1 - x0) * 0.12];
  return [
    [x0 - beside, middle],
    [x1 + beside, middle],
  ];
};

/** Where the stage goes: to what a mend would change, where a person pressed, else to the finding that is chosen. */
function usePlace(media: Box, chosen?: Marked | null) {
  const previewing = usePreviewing();
  const [going, setGoing] = useState<{ box: Box; beside?: Marked | null } | null>(null);
  const go = useCallback(
    ([x, y]: Point) =>
      setGoing({ box: [x - PLACE_MM, y - PLACE_MM, x + PLACE_MM, y + PLACE_MM], beside: chosen }),
    [chosen],
  );
  const place = chosen?.where[0] as Box | undefined;
  const found = useMemo(() => (place ? { box: place } : null), [place]);
  const ahead = useMemo(() => {
    const looked = previewing?.looked?.places[0] as Box | undefined;
    const small = looked && looked[2] - looked[0] < (media[2] - media[0]) / 2;
    const box = small ? looked : place;
    return previewing?.looked && box ? { box } : null;
    // Only a preview that has just come is a reason to go there.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [previewing?.looked]);
  return { place: ahead ?? (going && going.beside === chosen ? going : found), go };
}

/** The lines that are drawn over the art: of the roles that are wanted, and what is made in place of others. */
function useLines(job: Job, which: string, making?: StageMaking | null) {
  const [instead, made, seen] = [making?.instead, making?.lines, job.seen];
  return useMemo(() => {
    if (which === "none") return [];
    const kept = (seen?.drawn ?? []).filter((line) => !instead?.(line));
    return [...kept, ...(made ?? [])].filter(
      (line) => which === "all" || which === "alone" || line.role === which,
    );
  }, [seen, which, instead, made]);
}

const nothing = () => null;
