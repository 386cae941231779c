/** The stage: something of known size in mm, with rulers, panned and zoomed by hand or keys, measured with a tape. */
import { Box as Area, Button, Stack } from "@mui/material";
import { memo, useEffect, useMemo, useState, type ReactNode } from "react";
import { GROUND, MONO } from "../ui/theme";
import { Calibrate } from "./Calibrate";
import { chooseUnit } from "../api/habits";
import { useUnit } from "../ui/unit";
import { isCalibrated, usePixelsPerMm } from "./calibration";
import { length, runsOf, snap, type Box, type Point, type View } from "./geometry";
import { Ruler } from "./Ruler";
import { LaidLine } from "./LaidLine";
import { LineCanvas, type Line } from "./LineCanvas";
import { pointAt, RULER, useView } from "./useView";

const OVERSCAN = 0.25;
const SNAP_PX = 9;
const PAN_PX = 80;
const NO_LINES: Line[] = [];
export type Tool = "hand" | "tape" | "section";

export interface Drawing {
  press: (at: Point, within: number) => void;
  pull: (to: Point, within: number) => void;
  /** The hand lets go. */
  done?: () => void;
}

interface Props {
  bounds: Box;
  /** What of it is shown first; all of it where nothing is said. */
  opens?: Box;
  /** What is drawn in mm, y upwards, inside an SVG group. */
  children: (view: View, size: [number, number]) => ReactNode;
  /** A place to go to; a new object goes there again. */
  goTo?: { box: Box } | null;
  tools?: ReactNode;
  /** What is drawn over picture and lines, in mm, and may be taken by the pointer where it says data-over. */
  onTop?: (view: View, size: [number, number]) => ReactNode;
  /** What lies over the stage and is not part of the picture. */
  over?: ReactNode;
  label: string;
  /** Lines over the picture; the tape snaps to them. */
  lines?: Line[];
  /** Hears where the pointer is, in mm; null when it leaves. */
  onPoint?: (at: Point | null) => void;
  /** Hears of a line that was laid across for the section; without it there is no section. */
  onSection?: (line: [Point, Point] | null) => void;
  /** Hears of a click with the hand: where, and how near counts, in mm. */
  onPick?: (at: Point, within: number) => void;
  /** Takes what the hand does instead of panning: a place that is pressed, and where it is pulled to. */
  onDraw?: Drawing | null;
  /** What is drawn over the picture in pixels; the third is how much more than what is seen there is room for. */
  canvas?: (view: View, size: [number, number], over: [number, number]) => ReactNode;
  /** Keys that mean something else here than on every stage; with "Shift+" before them where Shift is held. */
  moreKeys?: Record<string, () => void>;
}

export function Stage({
  bounds,
  opens,
  children,
  goTo,
  tools,
  onTop,
  over,
  label,
  lines = NO_LINES,
  onPoint,
  onSection,
  onPick,
  onDraw,
  canvas,
  moreKeys,
}: Props) {
  const actual = usePixelsPerMm();
  const unit = useUnit();
  const [tool, setTool] = useState<Tool>("hand");
  const hand = useView(bounds, 64 * actual, tool !== "hand" || !!onDraw, opens);
  const { drawn, live, size, element, moved } = hand;
  const [pointer, setPointer] = useState<Point | null>(null);
  const [laid, setLaid] = useState<[Point, Point] | null>(null);
  const [laying, setLaying] = useState(false);
  const [calibrating, setCalibrating] = useState(false);

  const choose = (next: Tool) => {
    setTool(next);
    setLaid(null);
    setLaying(false);
    if (next !== "section") onSection?.(null);
  };
  const go = hand.goTo;
  useEffect(() => {
    if (goTo) go(goTo.box);
    // Only a new place is a reason to go.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [goTo]);

  const runs = useMemo(() => lines.flatMap((line) => runsOf(line.path)), [lines]);
  const caught = (at: Point): Point => snap(runs, at, SNAP_PX / live.k) ?? at;
  const lay = (to: Point, done: boolean) => {
    const line: [Point, Point] = laid && laying ? [laid[0], to] : [to, to];
    setLaid(line);
    setLaying(!done);
    if (done && tool === "section")
      onSection?.(line[0][0] === line[1][0] && line[0][1] === line[1][1] ? null : line);
  };
  const middle = (): Point => [(size[0] / 2 - live.x) / live.k, (live.y - size[1] / 2) / live.k];
  const keys: Record<string, () => void> = {
    f: hand.fitAll,
    "0": () => hand.actual(actual),
    "+": () => hand.zoomBy(1.4),
    "=": () => hand.zoomBy(1.4),
    "-": () => hand.zoomBy(1 / 1.4),
    ArrowLeft: () => hand.panBy(PAN_PX, 0),
    ArrowRight: () => hand.panBy(-PAN_PX, 0),
    ArrowUp: () => hand.panBy(0, PAN_PX),
    ArrowDown: () => hand.panBy(0, -PAN_PX),
    t: () => choose(tool === "tape" ? "hand" : "tape"),
    u: () => chooseUnit(unit === "mm" ? "in" : "mm"),
    Escape: () => choose("hand"),
    ...(onSection ? { c: () => choose(tool === "section" ? "hand" : "section") } : {}),
    ...(tool !== "hand" ? { Enter: () => lay(caught(middle()), laying) } : {}),
    ...(tool === "hand" && onPick ? { Enter: () => onPick(middle(), SNAP_PX / live.k) } : {}),
  };
  const content = useMemo(() => children(drawn, size), [children, drawn, size]);
  const painted = useMemo(
    () => canvas?.(drawn, size, [size[0] * OVERSCAN, size[1] * OVERSCAN]),
    [canvas, drawn, size],
  );
  const percent = `${((100 * live.k) / actual).toFixed(live.k / actual < 0.1 ? 1 : 0)} %`;
  const [ox, oy] = [size[0] * OVERSCAN, size[1] * OVERSCAN];

  return (
    <Stack sx={{ flex: 1, minWidth: 0, minHeight: 0 }}>
      <div
        ref={element}
        role="application"
        aria-label={`${label}. Keys: f fit, 0 actual size, plus and minus zoom, arrows pan, t tape${onSection ? ", c cut open" : ""}, u unit; with a tool, Enter sets a point in the middle.`}
        tabIndex={0}
        data-stage
        onKeyDown={(event) => {
          if (event.ctrlKey || event.metaKey || event.altKey) return;
          const act = moreKeys?.[(event.shiftKey ? "Shift+" : "") + event.key] ?? keys[event.key];
          if (act) {
            event.preventDefault();
            act();
          }
        }}
        onPointerDown={(event) => {
          if (event.button || (tool === "hand" && !onDraw)) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          const pressed = pointAt(live, event.currentTarget, event);
          if (tool === "hand") return onDraw?.press(pressed, SNAP_PX / live.k);
          const at = caught(pressed);
          setLaid([at, at]);
          setLaying(true);
        }}
        onPointerMove={(event) => {
          const at = pointAt(live, event.currentTarget, event);
          setPointer(at);
          onPoint?.(at);
          if (tool === "hand" && event.buttons) onDraw?.pull(at, SNAP_PX / live.k);
          if (laying && event.buttons) setLaid((line) => (line ? [line[0], caught(at)] : line));
        }}
        onPointerUp={(event) => {
          if (tool === "hand") onDraw?.done?.();
          else if (laying) lay(caught(pointAt(live, event.currentTarget, event)), true);
        }}
        onClick={(event) => {
          if (tool === "hand" && onPick && !onDraw)
            onPick(pointAt(live, event.currentTarget, event), SNAP_PX / live.k);
        }}
        onPointerLeave={() => {
          setPointer(null);
          onPoint?.(null);
        }}
        style={{
          flex: 1,
          minHeight: 0,
          background: GROUND,
          cursor: tool === "hand" && !onDraw ? "grab" : "crosshair",
          touchAction: "none",
          width: "100%",
          position: "relative",
          overflow: "hidden",
          userSelect: "none",
        }}
      >
        <div
          ref={moved}
          style={{ position: "absolute", inset: 0, transformOrigin: "0 0", willChange: "transform" }}
        >
          <Drawn ox={ox} oy={oy} size={size} view={drawn}>
            {content}
          </Drawn>
          {painted}
          <Lines lines={lines} view={drawn} size={size} ox={ox} oy={oy} />
        </div>
        {onTop && (
          <svg
            width={size[0]}
            height={size[1]}
            style={{ position: "absolute", inset: 0, pointerEvents: "none" }}
          >
            <g transform={`matrix(${live.k} 0 0 ${-live.k} ${live.x} ${live.y})`}>{onTop(live, size)}</g>
          </svg>
        )}
        <svg
          width={size[0]}
          height={size[1]}
          style={{ position: "absolute", inset: 0, pointerEvents: "none" }}
          aria-hidden
        >
          {laid && <LaidLine view={live} line={laid} unit={unit} section={tool === "section"} />}
          {tool !== "hand" && !laying && (
            <path d={`M${size[0] / 2 - 8} ${size[1] / 2}h16m-8 -8v16`} stroke="#333" strokeWidth={1} />
          )}
          {pointer && (
            <text
              x={size[0] - 8}
              y={size[1] - RULER - 8}
              textAnchor="end"
              fontFamily={MONO}
              fontSize={12}
              stroke={GROUND}
              strokeWidth={4}
              paintOrder="stroke"
              fill="#333"
            >
              {length(pointer[0], unit, live.k)}, {length(pointer[1], unit, live.k)}
            </text>
          )}
          <Ruler view={live} size={size} unit={unit} pointer={pointer} />
        </svg>
        {over && (
          <div
            data-over
            onPointerDown={(e) => e.stopPropagation()}
            onClick={(e) => e.stopPropagation()}
            onKeyDown={(e) => e.stopPropagation()}
            onMouseDown={(e) => e.stopPropagation()}
            onWheel={(e) => e.stopPropagation()}
            style={{ cursor: "default" }}
          >
            {over}
          </div>
        )}
      </div>
      <Stack
        direction="row"
        useFlexGap
        spacing={0.5}
        sx={{
          alignItems: "center",
          px: 1,
          py: 0.5,
          bgcolor: "background.paper",
          flexWrap: "wrap",
          rowGap: 0.5,
        }}
      >
        {tools}
        <Button
          variant={tool === "tape" ? "contained" : "outlined"}
          aria-pressed={tool === "tape"}
          onClick={() => choose(tool === "tape" ? "hand" : "tape")}
          sx={{ px: 1, minWidth: 0 }}
        >
          Tape
        </Button>
        {onSection && (
          <Button
            variant={tool === "section" ? "contained" : "outlined"}
            aria-pressed={tool === "section"}
            onClick={() => choose(tool === "section" ? "hand" : "section")}
            sx={{ px: 1, minWidth: 0, whiteSpace: "nowrap" }}
          >
            Cut open
          </Button>
        )}
        <Area sx={{ flex: 1 }} />
        <Button
          onClick={() => setCalibrating(true)}
          sx={{ minWidth: 56, px: 0.5, fontFamily: MONO, whiteSpace: "nowrap" }}
          aria-label={`zoom ${percent}; measure this monitor`}
          title={
            isCalibrated()
              ? "of actual size on this monitor"
              : "of actual size at 96 pixels to the inch; press to measure your monitor"
          }
        >
          {percent}
        </Button>
        <Button
          onClick={() => chooseUnit(unit === "mm" ? "in" : "mm")}
          aria-label={`rulers in ${unit === "mm" ? "millimetres" : "inches"}`}
          sx={{ minWidth: 0 }}
        >
          {unit}
        </Button>
        <Button onClick={hand.fitAll} sx={{ minWidth: 0 }}>
          Fit
        </Button>
        <Button
          onClick={() => hand.actual(actual)}
          sx={{ minWidth: 0, whiteSpace: "nowrap" }}
          aria-label="Actual size"
          title="actual size, key 0"
        >
          1:1
        </Button>
      </Stack>
      {calibrating && <Calibrate onClose={() => setCalibrating(false)} />}
    </Stack>
  );
}

const Lines = memo(function Lines({
  lines,
  view,
  size,
  ox,
  oy,
}: {
  lines: Line[];
  view: View;
  size: [number, number];
  ox: number;
  oy: number;
}) {
  return lines.length ? <LineCanvas lines={lines} view={view} size={size} over={[ox, oy]} /> : null;
});

/** The picture itself: a little larger than what is seen, so that a short pan has something to show. */
const Drawn = memo(function Drawn({
  ox,
  oy,
  size,
  view,
  children,
}: {
  ox: number;
  oy: number;
  size: [number, number];
  view: View;
  children: ReactNode;
}) {
  return (
    <svg
      width={size[0] + 2 * ox}
      height={size[1] + 2 * oy}
      style={{ position: "absolute", left: -ox, top: -oy }}
      viewBox={`${-ox} ${-oy} ${size[0] + 2 * ox} ${size[1] + 2 * oy}`}
    >
      <g transform={`matrix(${view.k} 0 0 ${-view.k} ${view.x} ${view.y})`}>{children}</g>
    </svg>
  );
});
