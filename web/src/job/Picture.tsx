/** The page as a mode draws it, with its boxes and the places of a finding. */
import type { ReactNode } from "react";
import type { PageSeen } from "../api/client";
import { Boxes } from "../stage/Boxes";
import { grow, type Box } from "../stage/geometry";
import { LOOK, STOP } from "../ui/theme";

/** Places that are framed on the stage: of a finding, or of what a corrected file has changed. */
export interface Marked {
  where: number[][];
  severity: string;
}

interface Props {
  seen: PageSeen;
  media: Box;
  /** Pixels to the mm. */
  k: number;
  /** Whether all boxes are drawn, and not only the trim. */
  boxes: boolean;
  chosen?: Marked | null;
  children: ReactNode;
}

export function Picture({ seen, media, k, boxes, chosen, children }: Props) {
  const [x0, y0, x1, y1] = media;
  return (
    <>
      <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} fill="#fff" />
      {children}
      <Boxes
        k={k}
        all={boxes}
        boxes={{
          media,
          crop: seen.crop_box_mm as Box,
          bleed: seen.bleed_box_mm as Box,
          trim: seen.trim_box_mm as Box,
        }}
      />
      {chosen && <Places finding={chosen} k={k} />}
    </>
  );
}

function Places({ finding, k }: { finding: Marked; k: number }) {
  const colours = ["#fff", finding.severity === "stop" ? STOP : LOOK];
  return finding.where.map((where, i) => {
    const [x0, y0, x1, y1] = grow(where as Box, 6 / k);
    return (
      <g key={i} data-testid="place">
        {colours.map((colour, n) => (
          <rect
            key={colour}
            x={x0}
            y={y0}
            width={x1 - x0}
            height={y1 - y0}
            fill="none"
            stroke={colour}
            strokeWidth={(i === 0 ? 5 : 3.5) - 2.5 * n}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </g>
    );
  });
}
