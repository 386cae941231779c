/** A stack cut open: the fabrics as they stand on each other, each cut through one of them only, the thread on top. */
import { useQuery } from "@tanstack/react-query";
import type { Job, StackSection as Cut, StackWanted } from "../api/client";
import { stackQueries } from "../api/stacks";
import type { Point } from "../stage/geometry";
import { lookOf } from "../ui/roles";
import { SectionFrame } from "../ui/SectionFrame";
import { MONO, STOP } from "../ui/theme";
import { stack as say } from "../texts/stack";

const HEIGHT = 190;
const LEFT = 110;
const RIGHT = 84;
const TOP = 30;
const STACK_PX = 112;
const THREAD_PX = 4;
const CARRIER = "#CFC8BC";

interface Props {
  job: Job;
  stack: StackWanted;
  line: [Point, Point];
  onClose: () => void;
}

export function StackSection({ job, stack, line, onClose }: Props) {
  const section = useQuery(stackQueries.section(job, stack, line));
  return (
    <SectionFrame section={section} height={HEIGHT} waits={say.cuttingTheStackOpen} onClose={onClose}>
      {(found, width) => <Drawing section={found} width={width} />}
    </SectionFrame>
  );
}

function Drawing({ section, width }: { section: Cut; width: number }) {
  const inner = Math.max(width - LEFT - RIGHT, 100);
  const x = (mm: number) => LEFT + (mm / section.length_mm) * inner;
  const whole = section.layers.reduce((sum, one) => sum + one.thick_um, 0) + section.carrier_um;
  const high = (um: number) => (um / whole) * STACK_PX;
  const above = (n: number) => section.layers.slice(0, n).reduce((sum, one) => sum + one.thick_um, 0);
  const standing = section.layers.map((one, i) => ({
    ...one,
    y: TOP + high(above(i)),
    high: high(one.thick_um),
  }));
  const ground = TOP + high(above(section.layers.length));
  return (
    <svg width={width} height={HEIGHT} role="img" aria-label={words(section)}>
      <text x={LEFT} y={16} fontFamily={MONO} fontSize={13} fontWeight={700}>
        {say.a}
      </text>
      <text x={LEFT + inner} y={16} fontFamily={MONO} fontSize={13} fontWeight={700} textAnchor="end">
        {say.b}
      </text>
      <text x={LEFT + 18} y={16} fontSize={11} fill="#4D4D4D">
        {say.mmAcrossThicknessDrawnLarger(section.length_mm.toFixed(1))}
      </text>
      <rect
        x={LEFT}
        y={ground}
        width={inner}
        height={high(section.carrier_um)}
        fill={CARRIER}
        stroke="#777"
      />
      <Label
        y={ground + high(section.carrier_um) / 2}
        words={say.carrier}
        figure={`${section.carrier_um} µm`}
        inner={inner}
      />
      {standing.map((one) => {
        const wrong = one.outcome !== "right";
        return (
          <g key={one.number} data-fabric={one.name}>
            {one.spans.map(([from = 0, to = 0]) => (
              <rect
                key={from}
                x={x(from)}
                y={one.y}
                width={Math.max(x(to) - x(from), 1)}
                height={one.high}
                fill={one.colour}
                stroke="#555"
                strokeWidth={0.8}
              />
            ))}
            {one.sewn.map(([from = 0, to = 0]) => (
              <rect
                key={from}
                x={x(from)}
                y={one.y - THREAD_PX}
                width={Math.max(x(to) - x(from), 1)}
                height={THREAD_PX}
                rx={THREAD_PX / 2}
                fill={one.thread}
                stroke="#222"
                strokeWidth={0.6}
                data-thread
              />
            ))}
            {one.cuts_mm.map((at) => (
              <g key={at} data-cut={one.name}>
                <path
                  d={`M${x(at)} ${one.y - 7}V${one.y + high(one.deep_um)}`}
                  stroke="#fff"
                  strokeWidth={5}
                />
                <path
                  d={`M${x(at)} ${one.y - 7}V${one.y + high(one.deep_um)}`}
                  stroke={wrong ? STOP : lookOf("kiss-cut").colour}
                  strokeWidth={2}
                />
              </g>
            ))}
            <Label
              y={one.y + one.high / 2}
              words={one.name}
              figure={`${one.thick_um} µm`}
              inner={inner}
              wrong={wrong ? say.cutMDeep(one.deep_um.toFixed(0)) : ""}
            />
          </g>
        );
      })}
    </svg>
  );
}

const SHORT = 15;

function Label({
  y,
  words,
  figure,
  inner,
  wrong = "",
}: {
  y: number;
  words: string;
  figure: string;
  inner: number;
  wrong?: string;
}) {
  return (
    <>
      <text x={LEFT - 8} y={y + 4} textAnchor="end" fontSize={12}>
        {words.length > SHORT ? `${words.slice(0, SHORT - 1)}…` : words}
      </text>
      <text x={LEFT + inner + 8} y={y + 4} fontSize={11} fontFamily={MONO} fill={wrong ? STOP : "#4D4D4D"}>
        {wrong || figure}
      </text>
    </>
  );
}

const words = (section: Cut) =>
  say.mmAcross(section.length_mm.toFixed(1)) +
  section.layers
    .map((one) => say.cutsMDeep(one.name, one.fabric, one.cuts_mm.length, one.deep_um.toFixed(0)))
    .join("; ");
