/** What lies on the stage, one over the other: picture, lines, what is drawn on top, rulers and the laid line. */
import { memo, type ReactNode } from "react";
import { GROUND, MONO } from "../ui/theme";
import { useUnit } from "../ui/unit";
import { length, type Point, type View } from "./geometry";
import { LaidLine } from "./LaidLine";
import { LineCanvas, type Line } from "./LineCanvas";
import { Ruler } from "./Ruler";
import type { Laying } from "./useLaying";
import { RULER } from "./useView";

type Size = [number, number];
const OVER = { position: "absolute", inset: 0, pointerEvents: "none" } as const;

export const Lines = memo(function Lines({
  lines,
  view,
  size,
  ox,
  oy,
}: {
  lines: Line[];
  view: View;
  size: Size;
  ox: number;
  oy: number;
}) {
  return lines.length ? <LineCanvas lines={lines} view={view} size={size} over={[ox, oy]} /> : null;
});

interface DrawnProps {
  ox: number;
  oy: number;
  size: Size;
  view: View;
  children: ReactNode;
}

/** The picture itself: a little larger than what is seen, so that a short pan has something to show. */
export const Drawn = memo(function Drawn({ ox, oy, size, view, children }: DrawnProps) {
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

/** What is drawn in mm over picture and lines as they are at this moment. */
export function OnTop({ view, size, children }: { view: View; size: Size; children: ReactNode }) {
  return (
    <svg width={size[0]} height={size[1]} style={OVER}>
      <g transform={`matrix(${view.k} 0 0 ${-view.k} ${view.x} ${view.y})`}>{children}</g>
    </svg>
  );
}

interface MeasuredProps {
  view: View;
  size: Size;
  laying: Laying;
  pointer: Point | null;
}

/** Rulers, where the pointer is, and the line that was laid. */
export function Measured({ view, size, laying, pointer }: MeasuredProps) {
  const unit = useUnit();
  const { tool, laid } = laying;
  return (
    <svg width={size[0]} height={size[1]} style={OVER} aria-hidden>
      {laid && <LaidLine view={view} line={laid} unit={unit} section={tool === "section"} />}
      {tool !== "hand" && !laying.laying && (
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
          {length(pointer[0], unit, view.k)}, {length(pointer[1], unit, view.k)}
        </text>
      )}
      <Ruler view={view} size={size} unit={unit} pointer={pointer} />
    </svg>
  );
}

/** What lies over the stage and is no part of it: nothing that is done there reaches the stage. */
export function Over({ children }: { children: ReactNode }) {
  return (
    <div
      data-over
      onPointerDown={(e) => e.stopPropagation()}
      onClick={(e) => e.stopPropagation()}
      onKeyDown={(e) => e.stopPropagation()}
      onMouseDown={(e) => e.stopPropagation()}
      onWheel={(e) => e.stopPropagation()}
      style={{ cursor: "default" }}
    >
      {children}
    </div>
  );
}
