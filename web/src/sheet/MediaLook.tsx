/** What the machine needs of the media, drawn where it lies and said in words: rollers, leader, head room, feed. */
import type { ReactNode } from "react";
import type { Sheet } from "../api/client";
import type { View } from "../stage/geometry";
import { mm } from "../ui/words";
import { sheet as say } from "../texts/sheet";

const ROLLER_LONG = 2.2;
const INK = "#3A3A3A";
const FONT_PX = 12;
/** What the words beside the first roller take. */
const BESIDE_PX = 235;
/** Words are left out where they would cover more than their band. */
const LEAST_PX = 15;

interface Props {
  sheet: Sheet;
  view: View;
}

export function MediaLook({ sheet, view }: Props) {
  const { width_mm: wide, length_mm: long, leader_mm: leader, trailer_mm: trailer } = sheet;
  const [from = 0, to = 0] = sheet.roller;
  const rollers = [
    [from, to],
    [wide - to, wide - from],
  ] as const;
  const top = long - trailer;
  const cut = Math.min(top + sheet.head_mm + sheet.feed_mm, long);
  return (
    <g data-testid="machine" style={{ pointerEvents: "none" }}>
      <rect x={0} y={top} width={wide} height={Math.min(sheet.head_mm, trailer)} fill="url(#head-room)" />
      <defs>
        <pattern
          id="head-room"
          width={8 / view.k}
          height={8 / view.k}
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <path d={`M0 0V${8 / view.k}`} stroke="#9A9A9A" strokeWidth={1.4 / view.k} />
        </pattern>
      </defs>
      <path
        d={`M0 ${cut}H${wide}`}
        stroke={INK}
        strokeWidth={1.2}
        strokeDasharray="2 5"
        vectorEffect="non-scaling-stroke"
      />
      {rollers.map(([x0, x1]) => (
        <rect
          key={x0}
          x={x0}
          y={Math.max(leader - (x1 - x0) * ROLLER_LONG, 0) / 2}
          width={x1 - x0}
          height={Math.min((x1 - x0) * ROLLER_LONG, leader)}
          rx={(x1 - x0) * 0.3}
          fill="#8C8C8C"
          stroke={INK}
          strokeWidth={1}
          vectorEffect="non-scaling-stroke"
          data-testid="roller"
        />
      ))}
      <Arrow
        x={Math.min(Math.max(wide / 2, to + BESIDE_PX / view.k), wide - to - 14 / view.k)}
        y={leader / 2}
        view={view}
        room={leader}
        words={wide * view.k > 2 * BESIDE_PX}
      />
      <Words x={to + 6 / view.k} y={leader / 2} view={view} room={leader}>
        {say.leaderRollersOnBothSides(mm(leader, 0))}
      </Words>
      <Words
        x={sheet.side_margin_mm + 6 / view.k}
        y={top + sheet.head_mm / 2}
        view={view}
        room={sheet.head_mm}
      >
        {say.roomForTheHead(mm(sheet.head_mm, 0))}
      </Words>
      <Words
        x={sheet.side_margin_mm + 6 / view.k}
        y={(top + sheet.head_mm + cut) / 2}
        view={view}
        room={cut - top - sheet.head_mm}
      >
        {sheet.endless ? say.fedOutThenCutOff(mm(sheet.feed_mm, 0)) : say.trailer(mm(trailer, 0))}
      </Words>
    </g>
  );
}

/** Which edge goes in first. */
function Arrow({
  x,
  y,
  view,
  room,
  words,
}: {
  x: number;
  y: number;
  view: View;
  room: number;
  words: boolean;
}) {
  if (room * view.k < LEAST_PX) return null;
  return (
    <g>
      <g transform={`translate(${x} ${y}) scale(${1 / view.k} ${-1 / view.k})`}>
        <path d="M0 -9V7M-6 1L0 8L6 1" fill="none" stroke={INK} strokeWidth={2} />
      </g>
      {words && (
        <Words x={x + 12 / view.k} y={y} view={view} room={room}>
          {say.thisEdgeGoesInFirst}
        </Words>
      )}
    </g>
  );
}

function Words({
  x,
  y,
  view,
  room,
  children,
}: {
  x: number;
  y: number;
  view: View;
  room: number;
  children: ReactNode;
}) {
  if (room * view.k < LEAST_PX) return null;
  return (
    <text
      transform={`translate(${x} ${y}) scale(${1 / view.k} ${-1 / view.k})`}
      dy="0.35em"
      fontSize={FONT_PX}
      fill={INK}
    >
      {children}
    </text>
  );
}
