/** What is drawn of the bed: the sheet as it lies, the rollers, the marks that were found, the carriage. */
import type { Bed, BedMark, Release, Side } from "../api/client";
import { lookOf } from "../ui/roles";
import { bench as say } from "../texts/bench";

export const ROOM_MM = 60;

/** The address of the sheet as it was printed: another print has another one, so that browsers may keep it. */
export const printedOf = (made: Release) =>
  `printed?of=${(made.sheet?.picture ?? made.picture).slice(0, 12)}`;

/** The size of the sheet as it lies before the cutter: what the RIP did to it may have made it another. */
export const lyingSize = (made: Release) => made.sheet?.size_mm ?? made.sheet_mm;

/** One of the pictures of a released sheet, in its own mm. */
export function SheetImage({ made, of }: { made: Release; of: string }) {
  const [width = 1, length = 1] = of.startsWith("printed") ? lyingSize(made) : made.sheet_mm;
  return (
    <image
      key={of}
      href={`/api/bench/${made.id}/${of}`}
      y={-length}
      width={width}
      height={length}
      transform="scale(1 -1)"
      preserveAspectRatio="none"
    />
  );
}

/** The sheet as it came out of the printer, or face down its liner; in its own mm. */
export function PrintedSheet({ made, side }: { made: Release; side: Side }) {
  const [width = 1, length = 1] = lyingSize(made);
  return (
    <>
      <rect width={width} height={length} fill={side === "back" ? "#E9E4D8" : "#fff"} />
      {side === "front" && made.printed && <SheetImage made={made} of={printedOf(made)} />}
    </>
  );
}

interface MediaProps {
  made: Release;
  bed: Bed;
  /** The figures of test cuts that were cut, by role. */
  figures: Record<string, string>;
}

/** The sheet as it lies, with its print where its face is up. */
export function Media({ made, bed, figures }: MediaProps) {
  const [width = 1] = lyingSize(made);
  const matrix = bed.aligned?.matrix;
  return (
    <>
      <rect x={-ROOM_MM} y={-ROOM_MM} width={width + 2 * ROOM_MM} height={ROOM_MM} fill="#B5B5B5" />
      <text
        transform={`translate(${width / 2} ${-ROOM_MM * 0.7}) scale(1 -1)`}
        fontSize={ROOM_MM / 2.2}
        textAnchor="middle"
        fill="#333"
      >
        {say.frontOfTheCutter}
      </text>
      {matrix && (
        <g transform={`matrix(${matrix.join(" ")})`} data-testid="media">
          <PrintedSheet made={made} side={bed.side} />
          {Object.entries(figures).map(([role, path]) => (
            <path
              key={role}
              d={path}
              fill="none"
              stroke={lookOf(role).colour}
              strokeWidth={1.5}
              vectorEffect="non-scaling-stroke"
              data-figure={role}
            />
          ))}
        </g>
      )}
      {matrix &&
        [bed.rollers, bed.rollers.map((mm) => width - mm).reverse()].map(([from = 0, to = 0]) => (
          <rect
            key={from}
            x={from}
            y={-4}
            width={to - from}
            height={30}
            fill="#5A5A5A"
            data-testid="roller"
          />
        ))}
    </>
  );
}

export function Found({ mark, k }: { mark: BedMark; k: number }) {
  const [x = 0, y = 0] = mark.place ?? [];
  return (
    <circle
      cx={x}
      cy={y}
      r={7 / k}
      fill="none"
      stroke="#C4442A"
      strokeWidth={2}
      vectorEffect="non-scaling-stroke"
      data-found={mark.number}
    />
  );
}

export function Head({ at: [x, y], k }: { at: [number, number]; k: number }) {
  const arm = 16 / k;
  return (
    <path
      d={`M${x - arm} ${y}H${x + arm}M${x} ${y - arm}V${y + arm}`}
      stroke="#000"
      strokeWidth={1.5}
      vectorEffect="non-scaling-stroke"
      data-testid="head"
    />
  );
}
