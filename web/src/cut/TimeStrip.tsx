/** The operations as a strip of time to scale: the tool down and up, pauses; pointing into it shows the head there. */
import { Box, Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { Job } from "../api/client";
import { lookOf } from "../ui/roles";
import { minutes } from "../ui/words";
import { pauseWords } from "./Operations";
import { headAt, partsOf, type Head, type Part } from "./time";
import { cut as say } from "../texts/cut";

type Cut = NonNullable<Job["cut"]>;

const WIDE = 348;
const HIGH = 26;
const LEAST_PX = 1.5;
const STEP_S = 0.5;

interface Props {
  cut: Cut;
  /** Hears where the head is at the moment that is pointed to; null when nothing is. */
  onHead: (head: Head | null) => void;
}

export function TimeStrip({ cut, onHead }: Props) {
  const [at, setAt] = useState<number | null>(null);
  if (!cut.time_s) return null;
  const x = (seconds: number) => (seconds / cut.time_s) * WIDE;
  const show = (seconds: number | null) => {
    const within = seconds === null ? null : Math.min(cut.time_s, Math.max(0, seconds));
    setAt(within);
    onHead(within === null ? null : headAt(cut, within));
  };
  const parts = partsOf(cut);
  const now = at === null ? undefined : parts.find((part) => part.from <= at && at <= part.to);
  const head = at === null ? null : headAt(cut, at);
  return (
    <Box>
      <Box
        role="slider"
        tabIndex={0}
        aria-label={say.momentOfTheCut}
        aria-valuemin={0}
        aria-valuemax={Math.round(cut.time_s)}
        aria-valuenow={Math.round(at ?? 0)}
        aria-valuetext={at === null ? say.nothingPointedTo : `${minutes(at)}, ${wordsOf(cut, now)}`}
        onPointerMove={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          show(((event.clientX - box.left) / box.width) * cut.time_s);
        }}
        onPointerLeave={() => show(null)}
        onBlur={() => show(null)}
        onKeyDown={(event) => {
          const way = { ArrowRight: 1, ArrowLeft: -1, PageUp: 20, PageDown: -20 }[event.key];
          if (way === undefined) return;
          event.preventDefault();
          show((at ?? 0) + way * STEP_S);
        }}
        sx={{ height: HIGH, cursor: "crosshair", touchAction: "none" }}
      >
        <svg
          width="100%"
          height={HIGH}
          viewBox={`0 0 ${WIDE} ${HIGH}`}
          preserveAspectRatio="none"
          aria-hidden
        >
          <defs>
            <pattern
              id="waits"
              width={6}
              height={6}
              patternUnits="userSpaceOnUse"
              patternTransform="rotate(45)"
            >
              <rect width={2} height={6} fill="#5A5A5A" />
            </pattern>
          </defs>
          <rect width={WIDE} height={HIGH} fill="#fff" />
          {parts.map((part) => (
            <PartDrawn key={`${part.kind} ${part.index}`} cut={cut} part={part} x={x} />
          ))}
          <rect width={WIDE} height={HIGH} fill="none" stroke="#8A8A8A" strokeWidth={2} />
          {at !== null && <path d={`M${x(at)} 0V${HIGH}`} stroke="#000" strokeWidth={2} />}
        </svg>
      </Box>
      <Stack direction="row" sx={{ justifyContent: "space-between" }}>
        <Typography variant="caption" data-testid="moment">
          {at === null
            ? "0"
            : `${minutes(at)}: ${wordsOf(cut, now)}${head ? (head.down ? say.toolDown : say.toolUp) : ""}`}
        </Typography>
        <Typography variant="caption">{minutes(cut.time_s)}</Typography>
      </Stack>
    </Box>
  );
}

function wordsOf(cut: Cut, part: Part | undefined): string {
  if (!part) return "";
  if (part.kind === "pause") {
    const pause = cut.pauses.find((one) => one.before === part.index);
    return pause ? pauseWords(pause, cut.operations[part.index]?.tool.number ?? 0) : "";
  }
  const operation = cut.operations[part.index];
  return operation ? operation.words || lookOf(operation.role).words : "";
}

/** A part of the strip: where the tool is down in full colour, between that lighter. */
function PartDrawn({ cut, part, x }: { cut: Cut; part: Part; x: (seconds: number) => number }) {
  const wide = Math.max(x(part.to) - x(part.from), LEAST_PX);
  if (part.kind === "pause") {
    const person = cut.pauses.find((one) => one.before === part.index)?.words;
    return (
      <rect
        data-pause={part.index}
        x={x(part.from)}
        width={wide}
        height={HIGH}
        fill={person ? "url(#waits)" : "#E2E2E2"}
      />
    );
  }
  const operation = cut.operations[part.index];
  if (!operation) return null;
  const { colour } = lookOf(operation.role);
  const strokes = operation.times;
  const opacity = operation.aligning ? 0.55 : 1;
  return (
    <g data-part={operation.role} opacity={opacity}>
      <rect x={x(part.from)} width={wide} height={HIGH} fill={colour} opacity={strokes.length ? 0.3 : 1} />
      {strokes.map(([begin = 0, end = 0], i) => (
        <rect key={i} x={x(part.from + begin)} width={x(end - begin)} height={HIGH} fill={colour} />
      ))}
    </g>
  );
}
