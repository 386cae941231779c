/** The stage: something of known size in mm, with rulers, panned and zoomed by hand or keys, measured with a tape. */
import { Stack } from "@mui/material";
import { useEffect, useMemo, useState, type ReactNode } from "react";
import { chooseUnit } from "../api/habits";
import { GROUND } from "../ui/theme";
import { useUnit } from "../ui/unit";
import { usePixelsPerMm } from "./calibration";
import type { Box, Point, View } from "./geometry";
import { Drawn, Lines, Measured, OnTop, Over } from "./Layers";
import type { Line } from "./LineCanvas";
import { StageBar } from "./StageBar";
import { middleOf, SNAP_PX, useLaying, type Laying, type Tool } from "./useLaying";
import { pointAt, useView, type Hand } from "./useView";
import { stage as say } from "../texts/stage";

const OVERSCAN = 0.25;
const PAN_PX = 80;
const NO_LINES: Line[] = [];

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

export function Stage(props: Props) {
  const { bounds, opens, children, goTo, onTop, over, label, lines = NO_LINES } = props;
  const { onSection, onPick, onDraw, canvas, moreKeys } = props;
  const actual = usePixelsPerMm();
  const [tool, setTool] = useState<Tool>("hand");
  const hand = useView(bounds, 64 * actual, tool !== "hand" || !!onDraw, opens);
  const { drawn, live, size, element, moved } = hand;
  const laying = useLaying({ tool, onTool: setTool, lines, view: live, size, onSection });
  const [pointer, setPointer] = useState<Point | null>(null);
  const go = hand.goTo;
  useEffect(() => {
    if (goTo) go(goTo.box);
    // Only a new place is a reason to go.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [goTo]);
  const content = useMemo(() => children(drawn, size), [children, drawn, size]);
  const [ox, oy] = [size[0] * OVERSCAN, size[1] * OVERSCAN];
  const painted = useMemo(
    () => canvas?.(drawn, size, [size[0] * OVERSCAN, size[1] * OVERSCAN]),
    [canvas, drawn, size],
  );
  const keys = useKeys(hand, laying, actual, { onSection, onPick });
  const taken = pressing(live, laying, { onDraw, onPick });

  return (
    <Stack sx={{ flex: 1, minWidth: 0, minHeight: 0 }}>
      <div
        ref={element}
        role="application"
        aria-label={say.keysFFit0Actual(label, Boolean(onSection))}
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
        {...taken}
        onPointerMove={(event) => {
          const at = pointAt(live, event.currentTarget, event);
          setPointer(at);
          props.onPoint?.(at);
          taken.onPointerMove(event, at);
        }}
        onPointerLeave={() => {
          setPointer(null);
          props.onPoint?.(null);
        }}
        style={{
          flex: 1,
          minHeight: 0,
          background: GROUND,
          cursor: laying.tool === "hand" && !onDraw ? "grab" : "crosshair",
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
          <OnTop view={live} size={size}>
            {onTop(live, size)}
          </OnTop>
        )}
        <Measured view={live} size={size} laying={laying} pointer={pointer} />
        {over && <Over>{over}</Over>}
      </div>
      <StageBar
        laying={laying}
        opens={!!onSection}
        tools={props.tools}
        zoom={live.k / actual}
        onFit={hand.fitAll}
        onActual={() => hand.actual(actual)}
      />
    </Stack>
  );
}

/** What keys do on every stage. */
function useKeys(
  hand: Hand,
  laying: Laying,
  actual: number,
  { onSection, onPick }: Pick<Props, "onSection" | "onPick">,
): Record<string, () => void> {
  const unit = useUnit();
  const { live, size } = hand;
  return {
    f: hand.fitAll,
    "0": () => hand.actual(actual),
    "+": () => hand.zoomBy(1.4),
    "=": () => hand.zoomBy(1.4),
    "-": () => hand.zoomBy(1 / 1.4),
    ArrowLeft: () => hand.panBy(PAN_PX, 0),
    ArrowRight: () => hand.panBy(-PAN_PX, 0),
    ArrowUp: () => hand.panBy(0, PAN_PX),
    ArrowDown: () => hand.panBy(0, -PAN_PX),
    t: () => laying.turn("tape"),
    u: () => chooseUnit(unit === "mm" ? "in" : "mm"),
    Escape: () => laying.choose("hand"),
    ...(onSection ? { c: () => laying.turn("section") } : {}),
    ...(laying.tool !== "hand" ? { Enter: laying.set } : {}),
    ...(laying.tool === "hand" && onPick
      ? { Enter: () => onPick(middleOf(live, size), SNAP_PX / live.k) }
      : {}),
  };
}

type OnStage = React.PointerEvent<HTMLDivElement>;

/** What the pointer does: it lays with a tool, draws where that is taken, or presses. */
function pressing(live: View, laying: Laying, { onDraw, onPick }: Pick<Props, "onDraw" | "onPick">) {
  const within = SNAP_PX / live.k;
  const byHand = laying.tool === "hand";
  return {
    onPointerDown: (event: OnStage) => {
      if (event.button || (byHand && !onDraw)) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      const at = pointAt(live, event.currentTarget, event);
      if (byHand) onDraw?.press(at, within);
      else laying.begin(at);
    },
    onPointerMove: (event: OnStage, at: Point) => {
      if (!event.buttons) return;
      if (byHand) onDraw?.pull(at, within);
      else laying.pull(at);
    },
    onPointerUp: (event: OnStage) => {
      if (byHand) onDraw?.done?.();
      else laying.end(pointAt(live, event.currentTarget, event));
    },
    onClick: (event: React.MouseEvent<HTMLDivElement>) => {
      if (byHand && onPick && !onDraw) onPick(pointAt(live, event.currentTarget, event), within);
    },
  };
}
