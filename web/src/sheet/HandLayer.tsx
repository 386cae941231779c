/** Copies under the hand: outlines that can be taken, what they snap to, and which lie too near to others. */
import { useMemo, useRef, useState, type PointerEvent } from "react";
import type { Sheet } from "../api/client";
import { toMm, type Box, type Point, type View } from "../stage/geometry";
import { ACCENT, STOP } from "../ui/theme";
import { boxOf, outlineOf, snapped, union, type Snapped } from "./hand";
import type { ByHand } from "./useByHand";
import { sheet as say } from "../texts/sheet";

const SNAP_PX = 7;
const DRAG_PX = 3;

interface Props {
  sheet: Sheet;
  hand: ByHand;
  view: View;
}

export function HandLayer({ sheet, hand, view }: Props) {
  const taken = useRef<{ at: Point; box: Box; others: Box[]; dragging: boolean } | null>(null);
  const [lines, setLines] = useState<Snapped | null>(null);
  const { copies, outlines } = hand;
  const shapes = useMemo(() => copies.map((copy) => outlineOf(copy, outlines)), [copies, outlines]);
  const place = (event: PointerEvent<Element>): Point => {
    const frame = event.currentTarget.closest("[data-stage]")?.getBoundingClientRect();
    return toMm(view, [event.clientX - (frame?.left ?? 0), event.clientY - (frame?.top ?? 0)]);
  };
  const take = (event: PointerEvent<Element>, i: number) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    const chosen = hand.chosen.has(i) ? hand.chosen : new Set([i]);
    if (event.shiftKey || event.ctrlKey) {
      hand.choose([i], true);
      return;
    }
    if (chosen !== hand.chosen) hand.choose([i]);
    taken.current = {
      at: place(event),
      box: union([...chosen].flatMap((n) => (shapes[n] ? [boxOf(shapes[n])] : []))),
      others: shapes.filter((_, n) => !chosen.has(n)).map(boxOf),
      dragging: false,
    };
  };
  const move = (event: PointerEvent<Element>) => {
    const held = taken.current;
    if (!held) return;
    event.stopPropagation();
    const [x, y] = place(event);
    const [dx, dy] = [x - held.at[0], y - held.at[1]];
    if (!held.dragging) {
      if (Math.hypot(dx, dy) * view.k < DRAG_PX) return;
      held.dragging = true;
      hand.begin();
      return;
    }
    const to: Box = [held.box[0] + dx, held.box[1] + dy, held.box[2] + dx, held.box[3] + dy];
    const near = event.altKey
      ? { dx: 0, dy: 0, x: null, y: null }
      : snapped(to, held.others, sheet.room as Box, sheet.gap_mm, SNAP_PX / view.k);
    setLines(near);
    hand.drag(dx + near.dx, dy + near.dy);
  };
  const drop = () => {
    taken.current = null;
    setLines(null);
  };
  return (
    <g data-testid="hand">
      {shapes.map((shape, i) => {
        const wrong = hand.clashes.has(i);
        const is = hand.chosen.has(i);
        return (
          <path
            key={i}
            data-over
            data-copy={i}
            role="button"
            tabIndex={0}
            aria-pressed={is}
            aria-label={say.copy(i + 1, sheet.items[copies[i]?.item ?? 0]?.name ?? "", wrong)}
            d={`M${shape.map(([x, y]) => `${x.toFixed(2)} ${y.toFixed(2)}`).join("L")}Z`}
            fill={wrong ? STOP : ACCENT}
            fillOpacity={is ? 0.16 : wrong ? 0.12 : 0}
            stroke={wrong ? STOP : ACCENT}
            strokeWidth={is ? 2.5 : 1}
            strokeOpacity={is || wrong ? 1 : 0.5}
            vectorEffect="non-scaling-stroke"
            style={{ pointerEvents: "all", cursor: "move" }}
            onPointerDown={(event) => !event.button && take(event, i)}
            onPointerMove={move}
            onPointerUp={drop}
            onClick={(event) => event.stopPropagation()}
            onKeyDown={(event) => {
              if (event.key !== "Enter" && event.key !== " ") return;
              event.preventDefault();
              event.stopPropagation();
              hand.choose([i], event.shiftKey);
            }}
          />
        );
      })}
      {lines && (
        <path
          d={
            (lines.x === null ? "" : `M${lines.x} 0V${sheet.length_mm}`) +
            (lines.y === null ? "" : `M0 ${lines.y}H${sheet.width_mm}`)
          }
          stroke={ACCENT}
          strokeWidth={1}
          strokeDasharray="4 3"
          vectorEffect="non-scaling-stroke"
        />
      )}
    </g>
  );
}
