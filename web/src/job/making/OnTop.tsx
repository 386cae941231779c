/** What is drawn over the art while lines are made: the pen's line, nodes, grips, and places that were pointed at. */
import type { View } from "../../stage/geometry";
import { ACCENT } from "../../ui/theme";
import type { Make } from "./make";
import { penPath, type PenPoint } from "./usePen";

/** The line that the pen has drawn so far, with its places. */
export function PenLine({ points, view }: { points: PenPoint[]; view: View }) {
  return (
    <>
      {["#fff", ACCENT].map((colour, i) => (
        <path
          key={colour}
          d={penPath(points, false)}
          fill="none"
          stroke={colour}
          strokeWidth={4 - 2 * i}
          vectorEffect="non-scaling-stroke"
        />
      ))}
      <PulledHandle last={points[points.length - 1]} view={view} />
      {points.map((one, i) => (
        <circle
          key={i}
          cx={one.at[0]}
          cy={one.at[1]}
          r={4 / view.k}
          fill="#fff"
          stroke="#1A1A1A"
          strokeWidth={1 / view.k}
        />
      ))}
    </>
  );
}

/** The handles of the place that was pressed last, while and after it is pulled. */
function PulledHandle({ last, view }: { last: PenPoint | undefined; view: View }) {
  if (!last?.handle) return null;
  const [[x, y], [hx, hy]] = [last.at, last.handle];
  return (
    <>
      <path
        d={`M${2 * x - hx} ${2 * y - hy}L${hx} ${hy}`}
        stroke={ACCENT}
        strokeWidth={1}
        vectorEffect="non-scaling-stroke"
      />
      {[
        [hx, hy],
        [2 * x - hx, 2 * y - hy],
      ].map(([cx, cy], i) => (
        <circle key={i} cx={cx} cy={cy} r={3 / view.k} fill={ACCENT} />
      ))}
    </>
  );
}

/** Crosses where an area was pointed at. */
export function PointedAt({ make, view }: { make: Make; view: View }) {
  return [...(make.cut_out_at ?? []), ...(make.objects_at ?? [])].map(([x, y]) => (
    <path
      key={`${x} ${y}`}
      d={`M${x - 6 / view.k} ${y}h${12 / view.k}M${x} ${y - 6 / view.k}v${12 / view.k}`}
      stroke="#1A1A1A"
      strokeWidth={1.5}
      vectorEffect="non-scaling-stroke"
    />
  ));
}
