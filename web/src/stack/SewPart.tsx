/** The stitches of a stack: in figures, played one by one, with the stops, and in which formats they are written. */
import { Row } from "../ui/Row";
import { Button, FormControlLabel, Checkbox, Slider, Stack, Typography } from "@mui/material";
import { useEffect, useMemo, useState } from "react";
import type { StackShown, StackWanted } from "../api/client";
import { Figure } from "../ui/Docket";
import { metres, minutes, mm } from "../ui/words";
import { countsOf, seamAt } from "./stitches";
import { FORMATS, KIND_WORDS } from "./wanted";
import { stack as say } from "../texts/stack";

const TICK_MS = 40;
/** [ours] a whole stack is played in about so many seconds. */
const PLAYED_S = 30;

interface Props {
  stack: StackWanted;
  shown: StackShown;
  sewn: number | null;
  onSewn: (count: number | null) => void;
  onFormats: (formats: StackWanted["formats"]) => void;
}

export function SewPart({ stack, shown, sewn, onSewn, onFormats }: Props) {
  const [runs, setRuns] = useState(false);
  const { figures, seams } = shown;
  const counts = useMemo(() => countsOf(seams), [seams]);
  const all = figures.count;
  const at = sewn ?? all;
  const goes = runs && at < all;
  useEffect(() => {
    if (!goes) return;
    const by = Math.max(1, Math.round((all * TICK_MS) / 1000 / PLAYED_S));
    const timer = setTimeout(() => onSewn(Math.min(all, at + by)), TICK_MS);
    return () => clearTimeout(timer);
  }, [goes, at, all, onSewn]);
  if (!all) return <Typography color="text.secondary">{say.noLayerIsSewnAdd}</Typography>;
  const number = seamAt(counts, Math.max(at - 1, 0));
  const seam = seams[number];
  const within = at - 1 - (counts[number] ?? 0);
  const kind = seam?.kinds.filter((one) => one.begins <= within).at(-1)?.kind;
  const layer = shown.layers.find((one) => one.number === seam?.layer);
  const stops = seams.map((one, i) => [one.stop, counts[i] ?? 0] as const).filter(([words]) => words);
  return (
    <Stack spacing={1}>
      <Row spacing={1}>
        <Button
          variant="contained"
          onClick={() => {
            if (at >= all) onSewn(0);
            setRuns(!goes);
          }}
        >
          {goes ? say.pause : say.playTheStitches}
        </Button>
        {sewn !== null && (
          <Button
            onClick={() => {
              setRuns(false);
              onSewn(null);
            }}
          >
            {say.showAll}
          </Button>
        )}
      </Row>
      <Slider
        aria-label={say.stitchLabel}
        min={0}
        max={all}
        shiftStep={Math.max(1, Math.round(all / 40))}
        value={at}
        onChange={(_, next) => {
          setRuns(false);
          onSewn(Number(next));
        }}
        size="small"
      />
      <Typography variant="body2" data-testid="stitch">
        {say.stitchOf(at, all)}
        {layer && kind !== undefined && at > 0 && (
          <>
            {say.ofIt(KIND_WORDS[kind as keyof typeof KIND_WORDS])}
            <b>{layer.name}</b>
          </>
        )}
      </Typography>
      {stops.map(([words, from], i) => (
        <Button
          key={from}
          size="small"
          onClick={() => {
            setRuns(false);
            onSewn(from);
          }}
          sx={{ justifyContent: "flex-start", textAlign: "left" }}
        >
          {i ? say.stopAt(from) : "First: "}
          {words}
        </Button>
      ))}
      <Figure words={say.stitches}>{figures.count}</Figure>
      <Figure words={say.trimsStops}>
        {figures.trims}, {figures.stops}
      </Figure>
      <Figure words={say.threads}>{figures.colours}</Figure>
      <Figure words={say.threadOnTop}>{metres(figures.thread_mm)}</Figure>
      <Figure words={say.longestStitch}>{mm(figures.longest_mm)}</Figure>
      <Figure words={say.timeAtStitchesAMinute(figures.stitches_min)}>{minutes(figures.time_s)}</Figure>
      <Typography variant="h2">{say.files}</Typography>
      <Stack direction="row" useFlexGap sx={{ flexWrap: "wrap" }}>
        {FORMATS.map((format) => (
          <FormControlLabel
            key={format}
            label={format.toUpperCase()}
            control={
              <Checkbox
                size="small"
                checked={stack.formats.includes(format)}
                onChange={(_, on) =>
                  onFormats(FORMATS.filter((one) => (one === format ? on : stack.formats.includes(one))))
                }
              />
            }
          />
        ))}
      </Stack>
    </Stack>
  );
}
