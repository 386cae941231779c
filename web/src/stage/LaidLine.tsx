/** A line that the person laid across the stage: the measuring tape, or the place of the section. */
import { MONO } from "../ui/theme";
import type { Unit } from "../ui/lengths";
import { angle, distance, length, toScreen, type Point, type View } from "./geometry";

export function LaidLine({
  view,
  line,
  unit,
  section,
}: {
  view: View;
  line: [Point, Point];
  unit: Unit;
  section: boolean;
}) {
  const [a, b] = [toScreen(view, line[0]), toScreen(view, line[1])];
  const far = distance(line[0], line[1]);
  const words = section
    ? `A–B ${length(far, unit, view.k)}`
    : `${length(far, unit, view.k)}  ${angle(line[0], line[1]).toFixed(1)}°`;
  const across = `Δ ${length(Math.abs(line[1][0] - line[0][0]), unit, view.k)} × ${length(Math.abs(line[1][1] - line[0][1]), unit, view.k)}`;
  const wide = Math.max(words.length, section ? 0 : across.length) * 7.4 + 12;
  const d = `M${a[0]} ${a[1]}L${b[0]} ${b[1]}`;
  return (
    <g data-testid="laid">
      <path d={d} stroke="#fff" strokeWidth={4} />
      <path d={d} stroke="#1A1A1A" strokeWidth={1.5} strokeDasharray={section ? "10 3 2 3" : undefined} />
      {[a, b].map(([x, y], i) => (
        <g key={i}>
          <circle cx={x} cy={y} r={4} fill="#fff" stroke="#1A1A1A" strokeWidth={1.5} />
          {section && (
            <text
              x={x + 7}
              y={y - 7}
              fontFamily={MONO}
              fontSize={13}
              fontWeight={700}
              stroke="#fff"
              strokeWidth={3}
              paintOrder="stroke"
            >
              {i ? "B" : "A"}
            </text>
          )}
        </g>
      ))}
      {far > 0 && (
        <g transform={`translate(${b[0] + 12} ${b[1] + 10})`} fontFamily={MONO} fontSize={12}>
          <rect width={wide} height={section ? 20 : 36} fill="#fff" stroke="#1A1A1A" />
          <text x={6} y={14}>
            {words}
          </text>
          {!section && (
            <text x={6} y={30} fill="#4D4D4D">
              {across}
            </text>
          )}
        </g>
      )}
    </g>
  );
}
