/** The rectangle that marks stand on, drawn by hand: its corners are dragged, or its edges, which moves all of it. */
import { useRef, type PointerEvent } from "react";
import { toMm, type Box, type Point, type View } from "../stage/geometry";
import { ACCENT } from "../ui/theme";
import { sheet as say } from "../texts/sheet";

const LEAST_MM = 20;

interface Props {
  box: Box;
  view: View;
  onBox: (box: Box) => void;
}

const CORNERS = [
  [0, 1, say.lowerLeft2],
  [2, 1, say.lowerRight2],
  [2, 3, say.upperRight2],
  [0, 3, say.upperLeft2],
] as const;

export function RectangleLayer({ box, view, onBox }: Props) {
  const held = useRef(false);
  const taken = useRef<{ at: Point; box: Box } | null>(null);
  const placeOf = (event: PointerEvent<Element>): Point => {
    const frame = event.currentTarget.closest("[data-stage]")?.getBoundingClientRect();
    return toMm(view, [event.clientX - (frame?.left ?? 0), event.clientY - (frame?.top ?? 0)]);
  };
  const move = (event: PointerEvent<Element>, ix: number, iy: number) => {
    if (!held.current) return;
    event.stopPropagation();
    const [x, y] = placeOf(event);
    change(ix, iy, Math.round(x), Math.round(y));
  };
  const change = (ix: number, iy: number, x: number, y: number) => {
    const next = [...box] as Box;
    next[ix] = x;
    next[iy] = y;
    if (next[2] - next[0] >= LEAST_MM && next[3] - next[1] >= LEAST_MM) onBox(next);
  };
  const [x0, y0, x1, y1] = box;
  return (
    <g data-testid="rectangle">
      <rect
        x={x0}
        y={y0}
        width={x1 - x0}
        height={y1 - y0}
        fill="none"
        stroke={ACCENT}
        strokeDasharray="6 4"
        strokeWidth={1.5}
        vectorEffect="non-scaling-stroke"
      />
      <rect
        data-over
        aria-label={say.theRectangleForMarksAs}
        x={x0}
        y={y0}
        width={x1 - x0}
        height={y1 - y0}
        fill="none"
        stroke="transparent"
        strokeWidth={12}
        vectorEffect="non-scaling-stroke"
        style={{ pointerEvents: "stroke", cursor: "move" }}
        onPointerDown={(event) => {
          event.stopPropagation();
          event.currentTarget.setPointerCapture(event.pointerId);
          taken.current = { at: placeOf(event), box };
        }}
        onPointerMove={(event) => {
          if (!taken.current) return;
          event.stopPropagation();
          const [x, y] = placeOf(event);
          const [dx, dy] = [Math.round(x - taken.current.at[0]), Math.round(y - taken.current.at[1])];
          const [a, b, c, d] = taken.current.box;
          onBox([a + dx, b + dy, c + dx, d + dy]);
        }}
        onPointerUp={() => {
          taken.current = null;
        }}
        onClick={(event) => event.stopPropagation()}
      />
      {CORNERS.map(([ix, iy, words]) => (
        <rect
          key={words}
          data-over
          role="button"
          tabIndex={0}
          aria-label={say.cornerOfTheRectangleFor(words)}
          x={box[ix] - 6 / view.k}
          y={box[iy] - 6 / view.k}
          width={12 / view.k}
          height={12 / view.k}
          fill="#fff"
          stroke={ACCENT}
          strokeWidth={2}
          vectorEffect="non-scaling-stroke"
          style={{ pointerEvents: "all", cursor: "move" }}
          onPointerDown={(event) => {
            event.stopPropagation();
            event.currentTarget.setPointerCapture(event.pointerId);
            held.current = true;
          }}
          onPointerMove={(event) => move(event, ix, iy)}
          onPointerUp={() => {
            held.current = false;
          }}
          onClick={(event) => event.stopPropagation()}
          onKeyDown={(event) => {
            const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[
              event.key
            ];
            if (!by) return;
            event.preventDefault();
            event.stopPropagation();
            const step = event.shiftKey ? 10 : 1;
            change(ix, iy, box[ix] + (by[0] ?? 0) * step, box[iy] + (by[1] ?? 0) * step);
          }}
        />
      ))}
    </g>
  );
}
