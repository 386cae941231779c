/** Where cuts begin, and near to, where the middle of the holder goes so that the tip cuts the line. */
import type { Job } from "../api/client";
import type { View } from "../stage/geometry";
import { lookOf } from "../ui/roles";

type Cut = NonNullable<Job["cut"]>;

/** Pixels a millimetre, from where on the holder's way can be told from the line. */
const NEAR = 12;

interface Props {
  cut: Cut;
  view: View;
  width: number;
  /** Whether the sheet is printed the other way round than it is shown. */
  flipped: boolean;
}

export function BladeWay({ cut, view, width, flipped }: Props) {
  return (
    <g data-testid="blade-way">
      {cut.operations.map((operation, i) => (
        <g
          key={i}
          transform={operation.mirrored !== flipped ? `translate(${width} 0) scale(-1 1)` : undefined}
        >
          {view.k >= NEAR && operation.tip && (
            <path
              d={operation.tip}
              fill="none"
              stroke={lookOf(operation.role).colour}
              strokeWidth={1}
              strokeLinecap="butt"
              vectorEffect="non-scaling-stroke"
              data-tip={operation.role}
            />
          )}
          {view.k >= NEAR && operation.holder && (
            <path
              d={operation.holder}
              fill="none"
              stroke="#00000099"
              strokeWidth={1}
              strokeDasharray="5 3"
              vectorEffect="non-scaling-stroke"
              data-holder={operation.role}
            />
          )}
          {view.k >= NEAR / 4 &&
            operation.begins.map(([x = 0, y = 0], n) => (
              <rect
                key={n}
                x={x - 3 / view.k}
                y={y - 3 / view.k}
                width={6 / view.k}
                height={6 / view.k}
                fill="#fff"
                stroke="#000"
                strokeWidth={1.2}
                vectorEffect="non-scaling-stroke"
              />
            ))}
        </g>
      ))}
    </g>
  );
}
