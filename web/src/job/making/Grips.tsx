/** What a hand can take on the stage while lines are made: offsets to drag, inner contours, nodes and their handles. */
import { useRef, useState, type PointerEvent, type ReactNode } from "react";
import { mm, place } from "../../ui/words";
import type { MadeLine, Making } from "../../api/client";
import { toMm, type Point, type View } from "../../stage/geometry";
import { lookOf } from "../../ui/roles";
import { ACCENT, GROUND, MONO } from "../../ui/theme";
import { moved, nodesOf, pathThrough, rightmost, signedDistance, type Node } from "./paths";
import { follows, type Make } from "./make";
import { making as say } from "../../texts/making";

const OUT_PX = 22;
const APART_PX = 26;
const TAKE_PX = 9;

/** Where a pointer is, in mm, while something on the stage holds it. */
function placeOf(event: PointerEvent<Element>, view: View): Point {
  const frame = event.currentTarget.closest("[data-stage]")?.getBoundingClientRect();
  return toMm(view, [event.clientX - (frame?.left ?? 0), event.clientY - (frame?.top ?? 0)]);
}

/** A measured length beside what is held, in pixels of the screen. */
function Reading({ x, y, name, children }: { x: number; y: number; name: string; children: ReactNode }) {
  return (
    <text
      x={x}
      y={y}
      fontFamily={MONO}
      fontSize={13}
      stroke={GROUND}
      strokeWidth={4}
      paintOrder="stroke"
      fill="#1A1A1A"
      data-testid={name}
    >
      {children}
    </text>
  );
}

interface HeldProps {
  view: View;
  at: Point;
  label: string;
  chosen?: boolean;
  onDrag: (to: Point, event: PointerEvent<Element>) => void;
  onDrop: (to: Point, moved: boolean) => void;
  children: ReactNode;
}

/** Something that is held by the pointer from when it is taken until it is let go. */
function Held({ view, at, label, chosen, onDrag, onDrop, children }: HeldProps) {
  const taken = useRef<{ by: Point; moved: boolean } | null>(null);
  const to = (event: PointerEvent<Element>): Point => {
    const [x, y] = placeOf(event, view);
    return [x - (taken.current?.by[0] ?? 0), y - (taken.current?.by[1] ?? 0)];
  };
  return (
    <g
      data-over
      role="button"
      aria-label={label}
      aria-pressed={chosen}
      transform={`translate(${at[0]} ${at[1]}) scale(${1 / view.k} ${-1 / view.k})`}
      style={{ pointerEvents: "all", cursor: "move" }}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        const [x, y] = placeOf(event, view);
        taken.current = { by: [x - at[0], y - at[1]], moved: false };
      }}
      onPointerMove={(event) => {
        if (!taken.current) return;
        event.stopPropagation();
        taken.current.moved = true;
        onDrag(to(event), event);
      }}
      onPointerUp={(event) => {
        if (!taken.current) return;
        event.stopPropagation();
        const last = to(event);
        const was = taken.current.moved;
        taken.current = null;
        onDrop(last, was);
      }}
      onClick={(event) => event.stopPropagation()}
    >
      {children}
    </g>
  );
}

interface Props {
  make: Make;
  made: Making;
  view: View;
  onDrag: (make: Make) => void;
  onDrop: () => void;
}

/** A grip beside each line that follows the outline: dragging it moves the line, and says how far it is. */
export function OffsetGrips({ make, made, view, onDrag, onDrop }: Props) {
  return make.lines.map((line, index) => {
    if (!follows(line)) return null;
    const own = made.lines.find((one) => one.line === index && !one.inner);
    const edge = own && rightmost(own.path);
    if (!edge) return null;
    const by = line.offset_mm ?? 0;
    const at: Point = [edge[0] + OUT_PX / view.k, edge[1] - (APART_PX * index) / view.k];
    const look = lookOf(line.role);
    return (
      <Held
        key={index}
        view={view}
        at={at}
        label={say.dragThe(look.words)}
        onDrag={([x, y]) => {
          const away = signedDistance(made.outline, [x - OUT_PX / view.k, y + (APART_PX * index) / view.k]);
          const step = view.k > 20 ? 0.05 : 0.1;
          const next = Number((Math.round(away / step) * step).toFixed(2));
          if (next !== by)
            onDrag({
              ...make,
              lines: make.lines.map((l, i) => (i === index ? { ...l, offset_mm: next } : l)),
            });
        }}
        onDrop={onDrop}
      >
        <path d={`M${-OUT_PX + 4} 0H-9`} stroke={look.colour} strokeWidth={1.5} />
        <circle r={9} fill="#fff" stroke={look.colour} strokeWidth={2.5} />
        <path
          d="M-4 0H4M-4 0l2.5 -2.5M-4 0l2.5 2.5M4 0l-2.5 -2.5M4 0l-2.5 2.5"
          stroke="#1A1A1A"
          fill="none"
        />
        <Reading x={15} y={4.5} name="offset">
          {Number(Math.abs(by).toFixed(2))} mm{by < 0 ? say.inside : ""}
        </Reading>
      </Held>
    );
  });
}

/** Inner contours that were found: those that are cut plainly, those that are not broken. */
export function InnerMarks({ made }: { made: Making }) {
  return made.inner.map((one) => (
    <path
      key={one.at.join()}
      d={one.path}
      data-inner={one.kept ? "cut" : "not cut"}
      fill={one.kept ? "rgba(11,92,99,.12)" : "rgba(0,0,0,.06)"}
      stroke={one.kept ? ACCENT : "#4D4D4D"}
      strokeDasharray={one.kept ? undefined : "5 4"}
      strokeWidth={1.25}
      vectorEffect="non-scaling-stroke"
    />
  ));
}

export interface NodeAt {
  contour: number;
  node: number;
}

interface NodesProps {
  lines: MadeLine[];
  view: View;
  chosen: NodeAt | null;
  snap: (at: Point, within: number) => Point;
  onChoose: (at: NodeAt) => void;
  onMove: (from: Point, to: Point) => void;
  onHandle: (at: Point, side: "in" | "out", to: Point) => void;
}

/** The nodes of a line: squares at corners, circles on curves; the chosen one has its handles. */
export function Nodes({ lines, view, chosen, snap, onChoose, onMove, onHandle }: NodesProps) {
  const [held, setHeld] = useState<{ at: NodeAt; to: Point; side?: "in" | "out" } | null>(null);
  const label = (to: Point, from: Node) =>
    say.away(place(to), mm(Math.hypot(to[0] - from[0], to[1] - from[1]), 2));
  return lines.map((line, contour) => {
    const nodes = nodesOf(line);
    const own = held && held.at.contour === contour ? held : null;
    const now = own && !own.side ? moved(nodes, own.at.node, own.to) : nodes;
    return (
      <g key={contour}>
        {own && (
          <path
            d={pathThrough(now, line.closed)}
            fill="none"
            stroke={ACCENT}
            strokeWidth={1.5}
            vectorEffect="non-scaling-stroke"
          />
        )}
        {now.map((node, i) => {
          const is = chosen?.contour === contour && chosen.node === i;
          const from = nodes[i] ?? node;
          return (
            <g key={i}>
              {is &&
                (["in", "out"] as const).map((side) => {
                  const tip: Point = side === "in" ? [node[2], node[3]] : [node[4], node[5]];
                  if (Math.hypot(tip[0] - node[0], tip[1] - node[1]) * view.k < 3) return null;
                  const shown = own?.side === side ? own.to : tip;
                  return (
                    <g key={side}>
                      <path
                        d={`M${node[0]} ${node[1]}L${shown[0]} ${shown[1]}`}
                        stroke={ACCENT}
                        strokeWidth={1}
                        vectorEffect="non-scaling-stroke"
                      />
                      <Held
                        view={view}
                        at={shown}
                        label={say.handle(side)}
                        onDrag={(to) => setHeld({ at: { contour, node: i }, to, side })}
                        onDrop={(to, was) => {
                          setHeld(null);
                          if (was) onHandle([from[0], from[1]], side, to);
                        }}
                      >
                        <circle r={TAKE_PX} fill="transparent" />
                        <circle r={3.5} fill={ACCENT} />
                      </Held>
                    </g>
                  );
                })}
              <Held
                view={view}
                at={[node[0], node[1]]}
                label={say.node2(i + 1)}
                chosen={is}
                onDrag={(to, event) =>
                  setHeld({ at: { contour, node: i }, to: event.altKey ? to : snap(to, TAKE_PX / view.k) })
                }
                onDrop={(to, was) => {
                  setHeld(null);
                  onChoose({ contour, node: i });
                  if (was) onMove([from[0], from[1]], own?.to ?? to);
                }}
              >
                <circle r={TAKE_PX} fill="transparent" />
                {node[6] ? (
                  <rect x={-4} y={-4} width={8} height={8} fill={is ? ACCENT : "#fff"} stroke="#1A1A1A" />
                ) : (
                  <circle r={4} fill={is ? ACCENT : "#fff"} stroke="#1A1A1A" />
                )}
                {own && own.at.node === i && !own.side && (
                  <Reading x={12} y={-8} name={say.nodePlace}>
                    {label(own.to, from)}
                  </Reading>
                )}
              </Held>
            </g>
          );
        })}
      </g>
    );
  });
}
