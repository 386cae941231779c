/** The rulers along the left and the bottom, in mm or inches, with the pointer's place marked. */
import { MONO } from "../ui/theme";
import { perUnit, type Unit } from "../ui/lengths";
import { inView, rulerStep, toScreen, type Point, type View } from "./geometry";
import { RULER } from "./useView";

export function Ruler({
  view,
  size,
  unit,
  pointer,
}: {
  view: View;
  size: [number, number];
  unit: Unit;
  pointer: Point | null;
}) {
  const [width, height] = size;
  const per = perUnit(unit);
  const step = rulerStep(view.k * per) * per;
  const [left, bottom, right, top] = inView(view, size);
  const ticks = (from: number, to: number) => {
    const first = Math.ceil(from / step);
    return Array.from(
      { length: Math.max(0, Math.min(Math.floor(to / step) - first + 1, 400)) },
      (_, i) => (first + i) * step,
    );
  };
  const fine = step / 5;
  const small = (from: number, to: number) => {
    const first = Math.ceil(from / fine);
    return Array.from(
      { length: Math.max(0, Math.min(Math.floor(to / fine) - first + 1, 2000)) },
      (_, i) => (first + i) * fine,
    );
  };
  const digits = Math.max(0, Math.ceil(-Math.log10(step / per) - 1e-9));
  const text = { fontSize: 11, fontFamily: MONO, fill: "#333" };
  const at = pointer && toScreen(view, pointer);
  return (
    <g aria-hidden>
      <rect x={0} y={height - RULER} width={width} height={RULER} fill="#fff" />
      <rect x={0} y={0} width={RULER} height={height} fill="#fff" />
      <path
        stroke="#888"
        d={
          small(left, right)
            .map((v) => `M${view.k * v + view.x} ${height - RULER}v4`)
            .join("") +
          small(bottom, top)
            .map((v) => `M${RULER} ${view.y - view.k * v}h-4`)
            .join("")
        }
      />
      {ticks(left, right).map((v) => (
        <g key={v} transform={`translate(${view.k * v + view.x} ${height})`}>
          <path d={`M0 ${-RULER}v8`} stroke="#333" />
          <text y={-4} x={3} {...text}>
            {(v / per).toFixed(digits)}
          </text>
        </g>
      ))}
      {ticks(bottom, top).map((v) => (
        <g key={v} transform={`translate(0 ${view.y - view.k * v})`}>
          <path d={`M${RULER} 0h-8`} stroke="#333" />
          {view.y - view.k * v > 40 && (
            <text transform="rotate(-90)" x={3} y={12} {...text}>
              {(v / per).toFixed(digits)}
            </text>
          )}
        </g>
      ))}
      {at && (
        <path
          d={`M${at[0]} ${height - RULER}v${RULER}M0 ${at[1]}h${RULER}`}
          stroke="#0B5C63"
          strokeWidth={1.5}
        />
      )}
      <rect x={0} y={height - RULER} width={RULER} height={RULER} fill="#fff" />
      <text x={2} y={height - 7} {...text}>
        {unit}
      </text>
    </g>
  );
}
