/** The section: the material cut open along a line, its strata at their thickness, the inks, every cut at its depth. */
import type { Job, MakeWanted, Section } from "../api/client";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../api/queries";
import { lookOf } from "../ui/roles";
import { SectionFrame } from "../ui/SectionFrame";
import type { Point } from "../stage/geometry";
import { MONO, STOP } from "../ui/theme";
import { job as say } from "../texts/job";

const STRATA: Record<string, { fill: string; hatch?: string }> = {
  laminate: { fill: "#E9EDF0" },
  film: { fill: "#FFFFFF" },
  adhesive: { fill: "#D6D6D6", hatch: "dots" },
  liner: { fill: "#CFC8BC", hatch: "fibres" },
};
const HEIGHT = 172;
const LEFT = 96;
const RIGHT = 70;
const TOP = 26;
const INK_PX = 5;
const STACK_PX = 92;

export function SectionStrip({
  job,
  line,
  make = null,
  onClose,
}: {
  job: Job;
  line: [Point, Point];
  /** What is being made: the section shows it as it would be cut. */
  make?: MakeWanted | null;
  onClose: () => void;
}) {
  const asItIs = useQuery({ ...queries.section(job, line), enabled: make === null });
  const asItWouldBe = useQuery({
    ...queries.makingSection(job, make ?? { lines: [] }, line),
    enabled: make !== null,
  });
  const section = make ? asItWouldBe : asItIs;
  return (
    <SectionFrame section={section} height={HEIGHT} waits={say.cuttingTheMaterialOpen} onClose={onClose}>
      {(found, width) => <Drawing section={found} width={width} />}
    </SectionFrame>
  );
}

function Drawing({ section, width }: { section: Section; width: number }) {
  const inner = Math.max(width - LEFT - RIGHT, 100);
  const x = (mm: number) => LEFT + (mm / section.length_mm) * inner;
  const whole = section.strata.reduce((sum, s) => sum + s.thickness_um, 0);
  const top = TOP + section.inks.length * INK_PX + (section.inks.length ? 2 : 0);
  const y = (um: number) => top + (um / whole) * STACK_PX;
  const depths = section.strata.map((_, i) =>
    section.strata.slice(0, i).reduce((sum, s) => sum + s.thickness_um, 0),
  );
  return (
    <svg width={width} height={HEIGHT} role="img" aria-label={words(section)}>
      <Patterns />
      <text x={LEFT} y={16} fontFamily={MONO} fontSize={13} fontWeight={700}>
        {say.a}
      </text>
      <text x={LEFT + inner} y={16} fontFamily={MONO} fontSize={13} fontWeight={700} textAnchor="end">
        {say.b}
      </text>
      <Bands section={section} inner={inner} />
      {section.strata.map((stratum, i) => (
        <StratumDrawn
          key={i}
          stratum={stratum}
          top={y(depths[i] ?? 0)}
          bottom={y((depths[i] ?? 0) + stratum.thickness_um)}
          inner={inner}
        />
      ))}
      {section.crossings.map((cut, n) => (
        <Cut
          key={n}
          role={cut.role}
          x={x(cut.at_mm)}
          top={y(cut.top_um)}
          bottom={y(cut.bottom_um)}
          face={top}
          base={y(whole)}
        />
      ))}
      <Labels section={section} x={x} />
      <text x={LEFT - 8} y={TOP + 8} textAnchor="end" fontSize={11} fill="#4D4D4D">
        {section.inks.length ? "inks" : say.noInk}
      </text>
      <text x={LEFT + 18} y={16} fontSize={11} fill="#4D4D4D">
        {say.mmAcrossThicknessDrawnTimes(section.length_mm.toFixed(1), stretch(section, whole, inner))}
      </text>
      {!section.crossings.length && (
        <text x={LEFT + inner / 2} y={HEIGHT - 12} textAnchor="middle" fontSize={13} fill="#4D4D4D">
          {say.noCutCrossesThisLine}
        </text>
      )}
    </svg>
  );
}

function Patterns() {
  return (
    <defs>
      <pattern id="dots" width={6} height={6} patternUnits="userSpaceOnUse">
        <circle cx={1.5} cy={1.5} r={0.8} fill="#9A9A9A" />
        <circle cx={4.5} cy={4.5} r={0.8} fill="#9A9A9A" />
      </pattern>
      <pattern id="fibres" width={14} height={7} patternUnits="userSpaceOnUse">
        <path d="M0 2h8M6 5.5h8" stroke="#B3AA9B" strokeWidth={0.8} />
      </pattern>
    </defs>
  );
}

/** The inks that lie along the line, one band each. */
function Bands({ section, inner }: { section: Section; inner: number }) {
  const step = inner / Math.max(1, (section.inks[0]?.tints.length ?? 2) - 1);
  return section.inks.map((ink, row) => (
    <g key={ink.name} data-band={ink.name}>
      {evenRuns(ink.tints).map(
        ({ from, to, tint }) =>
          tint > 0 && (
            <rect
              key={from}
              x={LEFT + Math.max(0, from - 0.5) * step}
              y={TOP + row * INK_PX}
              width={(to - from + 1) * step}
              height={INK_PX - 0.6}
              fill={ink.colour}
              opacity={tint / 255}
              shapeRendering="crispEdges"
            />
          ),
      )}
    </g>
  ));
}

interface StratumProps {
  stratum: Section["strata"][number];
  top: number;
  bottom: number;
  inner: number;
}

function StratumDrawn({ stratum, top, bottom, inner }: StratumProps) {
  const look = STRATA[stratum.kind] ?? { fill: "#EEE" };
  const high = bottom - top;
  return (
    <g data-stratum={stratum.kind}>
      <rect x={LEFT} y={top} width={inner} height={high} fill={look.fill} stroke="#777" strokeWidth={0.8} />
      {look.hatch && <rect x={LEFT} y={top} width={inner} height={high} fill={`url(#${look.hatch})`} />}
      <text x={LEFT - 8} y={top + high / 2 + 4} textAnchor="end" fontSize={12}>
        {stratum.kind}
      </text>
      <text x={LEFT + inner + 8} y={top + high / 2 + 4} fontSize={11} fontFamily={MONO} fill="#4D4D4D">
        {stratum.thickness_um} µm
      </text>
    </g>
  );
}

function Labels({ section, x }: { section: Section; x: (mm: number) => number }) {
  return labelsOf(section, x).map((label) => (
    <text
      key={label.x}
      x={label.x}
      y={HEIGHT - 22 + label.row * 14}
      textAnchor="middle"
      fontSize={11.5}
      fill={label.colour}
      stroke="#fff"
      strokeWidth={3}
      paintOrder="stroke"
    >
      <tspan fontWeight={700}>{label.words}</tspan>{" "}
      <tspan fontFamily={MONO} fontSize={11} fill="#4D4D4D">
        {label.at}
      </tspan>
    </text>
  ));
}

/** A cut as a notch: from the face down to its depth, or from below for a back cut. */
function Cut({
  role,
  x,
  top,
  bottom,
  face,
  base,
}: {
  role: string;
  x: number;
  top: number;
  bottom: number;
  face: number;
  base: number;
}) {
  const look = lookOf(role);
  const pressed = top === bottom;
  const fromBelow = top > face;
  const tip = pressed ? face + 6 : fromBelow ? top : bottom;
  const mouth = fromBelow ? base + 3 : face - 3;
  const d = `M${x - 3.5} ${mouth}L${x} ${tip}L${x + 3.5} ${mouth}Z`;
  return (
    <g data-cut={role}>
      <path d={d} fill="#fff" stroke="#fff" strokeWidth={3} />
      <path d={d} fill={look.colour} />
      <path
        d={`M${x} ${fromBelow ? top : face}V${fromBelow ? base : tip}`}
        stroke={look.colour}
        strokeWidth={2}
        strokeDasharray={role === "perforation" ? "5 2.5" : undefined}
      />
    </g>
  );
}

/** Neighbours of one tint as one run. */
function evenRuns(tints: number[]) {
  const runs: { from: number; to: number; tint: number }[] = [];
  tints.forEach((tint, i) => {
    const last = runs.at(-1);
    if (last?.tint === tint) last.to = i;
    else runs.push({ from: i, to: i, tint });
  });
  return runs;
}

/** How many times larger than its width the height of the drawing is. */
const stretch = (section: Section, whole: number, inner: number) => {
  const times = STACK_PX / (whole / 1000) / (inner / section.length_mm);
  return times < 10 ? times.toFixed(1) : times.toFixed(0);
};

const LABEL_PX = 96;
/** What a force comes to that is not right for the material. */
const WRONG: Record<string, string> = {
  "too-shallow": say.tooShallow,
  "into-the-liner": say.intoTheLiner,
  through: say.rightThrough,
};

/** The cuts' names and places in two rows, so that near ones do not lie over each other; what has no room is left out. */
function labelsOf(section: Section, x: (mm: number) => number) {
  const ends = [-Infinity, -Infinity];
  return section.crossings.flatMap((cut) => {
    const at = x(cut.at_mm);
    const row = ends.findIndex((end) => at - LABEL_PX / 2 >= end);
    if (row < 0) return [];
    ends[row] = at + LABEL_PX / 2;
    return [
      {
        x: at,
        row,
        words: `${lookOf(cut.role).words}${WRONG[cut.outcome] ? ", " + WRONG[cut.outcome] : ""}`,
        colour: WRONG[cut.outcome] ? STOP : lookOf(cut.role).colour,
        at: cut.at_mm.toFixed(cut.at_mm < 100 ? 2 : 1),
      },
    ];
  });
}

const words = (section: Section) =>
  say.mmAcross(section.length_mm.toFixed(1), section.strata.map((s) => s.kind).join(", ")) +
  (section.crossings.length
    ? section.crossings
        .map(
          (c) =>
            say.atMm(lookOf(c.role).words, c.at_mm.toFixed(2)) +
            (WRONG[c.outcome] ? `, ${WRONG[c.outcome]}` : ""),
        )
        .join(", ")
    : say.noCut);
