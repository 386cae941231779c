/** The page boxes, each with its name; the trim box always, the others when asked for. */
import { MONO } from "../ui/theme";
import type { Box } from "./geometry";

const DASHES: Record<string, string> = { media: "12 4", crop: "7 4", bleed: "2 3", trim: "" };

export function Boxes({ boxes, k, all }: { boxes: Record<string, Box>; k: number; all: boolean }) {
  const shown = Object.entries(boxes).filter(([name]) => all || name === "trim");
  return (
    <g>
      {shown.map(([name, [x0, y0, x1, y1]], i) => (
        <g key={name} data-box={name}>
          <rect
            x={x0}
            y={y0}
            width={x1 - x0}
            height={y1 - y0}
            fill="none"
            stroke="#fff"
            strokeWidth={3}
            strokeOpacity={0.8}
            vectorEffect="non-scaling-stroke"
          />
          <rect
            x={x0}
            y={y0}
            width={x1 - x0}
            height={y1 - y0}
            fill="none"
            stroke="#444"
            strokeWidth={1.2}
            strokeDasharray={DASHES[name]}
            vectorEffect="non-scaling-stroke"
          />
          {all && (
            <text
              transform={`translate(${x0 + (i * 62 + 4) / k} ${y1 + 4 / k}) scale(${1 / k} ${-1 / k})`}
              fontFamily={MONO}
              fontSize={12}
              fill="#1A1A1A"
              stroke="#fff"
              strokeWidth={3}
              paintOrder="stroke"
            >
              {name}
            </text>
          )}
        </g>
      ))}
    </g>
  );
}
