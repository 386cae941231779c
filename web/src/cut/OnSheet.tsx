/** What is drawn over a sheet that is cut: the numbers of its copies, and the head at the moment that is pointed to. */
import type { Sheet } from "../api/client";
import type { View } from "../stage/geometry";
import type { Head } from "./time";

const MOST = 600;
const PX = 12;
/** Copies that are smaller on screen have no room for a number. */
const LEAST_PX = 34;

export function Numbers({ sheet, view }: { sheet: Sheet; view: View }) {
  if (sheet.placements.length > MOST) return null;
  return (
    <g data-testid="numbers" fontSize={PX / view.k} textAnchor="middle">
      {sheet.placements.map((placement, i) => {
        const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = sheet.items[sheet.item_of[i] ?? 0]?.clip ?? [];
        if (Math.min(x1 - x0, y1 - y0) * view.k < LEAST_PX) return null;
        const [a = 1, b = 0, c = 0, d = 1, e = 0, f = 0] = placement;
        const [mx, my] = [(x0 + x1) / 2, (y0 + y1) / 2];
        const place = `translate(${a * mx + c * my + e} ${b * mx + d * my + f}) scale(1 -1)`;
        return (
          <text
            key={i}
            transform={place}
            stroke="#fff"
            strokeWidth={3 / view.k}
            paintOrder="stroke"
            fill="#222"
          >
            {i + 1}
          </text>
        );
      })}
    </g>
  );
}

interface Props {
  head: Head;
  view: View;
  width: number;
  flipped: boolean;
}

export function HeadShown({ head, view, width, flipped }: Props) {
  const [x, y] = head.at;
  const arm = 14 / view.k;
  const at = head.mirrored !== flipped ? width - x : x;
  return (
    <g data-testid="head" fill="none" strokeWidth={2} vectorEffect="non-scaling-stroke">
      {[
        ["#fff", 5],
        ["#000", 2],
      ].map(([colour, wide]) => (
        <g key={colour} stroke={String(colour)} strokeWidth={Number(wide)}>
          <circle
            cx={at}
            cy={y}
            r={arm / 2}
            vectorEffect="non-scaling-stroke"
            fill={head.down && colour === "#000" ? "#000" : "none"}
          />
          <path
            d={`M${at - arm} ${y}H${at + arm}M${at} ${y - arm}V${y + arm}`}
            vectorEffect="non-scaling-stroke"
          />
        </g>
      ))}
    </g>
  );
}
