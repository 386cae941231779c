/** The simulated sewing machine: a stitch file sewn needle point by needle point, with its stops. */
import { Failure } from "../help/Failure";
import {
  Alert,
  Button,
  LinearProgress,
  Slider,
  Stack,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState, type ReactNode } from "react";
import type { Sewn, StackBed } from "../api/client";
import { stackQueries } from "../api/stacks";
import { boundsOf, Needle } from "../stack/StackStage";
import { StitchCanvas } from "../stack/StitchCanvas";
import { countsOf, needleAt, sewnAt } from "../stack/stitches";
import { Stage } from "../stage/Stage";
import type { View } from "../stage/geometry";
import { Docket, Figure } from "../ui/Docket";
import { metres, minutes } from "../ui/words";
import { common } from "../texts/common";
import { bench as say } from "../texts/bench";

const RATE = 40;
const TICK_MS = 50;
const ROOM_MM = 8;

export function SewingMachine({ bed }: { bed: StackBed }) {
  const formats = bed.package.files.filter((file) => file.layer === null).map((file) => file.format);
  const [chosen, setChosen] = useState<string | null>(null);
  const format = chosen && formats.includes(chosen) ? chosen : (formats[0] ?? "");
  const run = useQuery({ ...stackQueries.sewn(bed.package.id, format), enabled: format !== "" });
  if (!format) return <Typography sx={{ p: 4 }}>{say.theStackHasNoStitches}</Typography>;
  if (run.isPending) return <LinearProgress aria-label={common.loadingLabel} />;
  if (run.isError) return <Failure of={run.error} alone />;
  return (
    <Run
      key={format}
      bed={bed}
      run={run.data}
      choice={
        <ToggleButtonGroup
          size="small"
          exclusive
          value={format}
          onChange={(_, next) => next && setChosen(next)}
          aria-label={say.stitchFileLabel}
        >
          {formats.map((one) => (
            <ToggleButton key={one} value={one}>
              {one.toUpperCase()}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      }
    />
  );
}

/** The stop that the machine stands at: one that is reached and not yet done. */
export const haltOf = (halts: Sewn["halts"], time: number, done: number) =>
  halts.find((halt, i) => i >= done && time >= halt.at_s);

/** A run in time: how far it is sewn, and the stop that it stands at. */
function useSewing(run: Sewn) {
  const [time, setTime] = useState(0);
  const [runs, setRuns] = useState(false);
  const [done, setDone] = useState(0);
  const counts = useMemo(() => countsOf(run.seams), [run]);
  const times = useMemo(() => run.seams.map((seam) => seam.at_s), [run]);
  const halt = haltOf(run.halts, time, done);
  const goes = runs && !halt && time < run.total_s;
  useEffect(() => {
    if (!goes) return;
    const timer = setInterval(
      () =>
        setTime((now) => {
          const next = Math.min(run.total_s, now + (RATE * TICK_MS) / 1000);
          const stop = haltOf(run.halts, next, done);
          return stop ? stop.at_s : next;
        }),
      TICK_MS,
    );
    return () => clearInterval(timer);
  }, [goes, run, done]);
  const sewn = useMemo(
    () => (halt ? (counts[halt.before] ?? 0) : sewnAt(times, time)),
    [halt, counts, times, time],
  );
  const to = (next: number) => {
    setRuns(false);
    setDone(run.halts.filter((one) => one.at_s < next).length);
    setTime(next);
  };
  return {
    counts,
    sewn,
    time,
    done,
    halt,
    goes,
    ended: time >= run.total_s,
    to,
    /** What a stop waited for is laid. */
    pass: () => {
      setDone(done + 1);
      setRuns(true);
    },
    press: () => {
      if (time >= run.total_s) to(0);
      setRuns(!goes);
    },
  };
}

type Sewing = ReturnType<typeof useSewing>;

function Run({ bed, run, choice }: { bed: StackBed; run: Sewn; choice: ReactNode }) {
  const sewing = useSewing(run);
  const { counts, sewn, done } = sewing;
  const laid = useMemo(
    () => new Set([run.begins, ...run.halts.slice(0, done)].map((one) => one.lays)),
    [run, done],
  );
  const needle = useMemo(() => needleAt(run.seams, counts, sewn), [run, counts, sewn]);
  const canvas = useCallback(
    (view: View, size: [number, number], over: [number, number]) => (
      <StitchCanvas seams={run.seams} sewn={sewn} view={view} size={size} over={over} />
    ),
    [run, sewn],
  );
  return (
    <Stack direction="row" sx={{ flex: 1, minHeight: 0 }}>
      <Stage
        bounds={boundsOf(bed.bounds, ROOM_MM)}
        label={say.sewingMachine}
        canvas={canvas}
        onTop={(view) => needle && <Needle at={needle} view={view} />}
      >
        {() =>
          [...bed.layers]
            .reverse()
            .filter((layer) => laid.has(layer.number))
            .map((layer) => (
              <path
                key={layer.number}
                d={layer.path}
                fill={layer.colour}
                fillRule="evenodd"
                stroke="#2A2A2A"
                strokeWidth={0.8}
                vectorEffect="non-scaling-stroke"
              />
            ))
        }
      </Stage>
      <Docket title={say.sewing}>
        {choice}
        {run.refused ? (
          <Alert severity="error">{say.theMachineRefusesTheFile(run.refused)}</Alert>
        ) : (
          <SewIt run={run} sewing={sewing} />
        )}
      </Docket>
    </Stack>
  );
}

/** Begin, stop and go on; the time, and the figures of the file. */
function SewIt({ run, sewing }: { run: Sewn; sewing: Sewing }) {
  const { time, halt, goes, sewn, ended } = sewing;
  return (
    <>
      {time === 0 && <Typography>{run.begins.words}</Typography>}
      {halt ? (
        <Stack spacing={1} role="alert" sx={{ p: 1.5, border: "2px solid #222" }}>
          <Typography variant="subtitle1">{say.theMachineStands}</Typography>
          <Typography>{halt.words}</Typography>
          <Button variant="contained" onClick={sewing.pass}>
            {say.itIsLaidGoOn}
          </Button>
        </Stack>
      ) : (
        <Button variant="contained" onClick={sewing.press}>
          {goes ? common.stop : time > 0 && !ended ? common.goOn : say.sewIt}
        </Button>
      )}
      <Slider
        aria-label={say.timeLabel}
        size="small"
        min={0}
        max={run.total_s}
        step={0.1}
        shiftStep={10}
        value={time}
        onChange={(_, next) => sewing.to(Number(next))}
      />
      <Typography variant="body2" role="status">
        {say.stitchOfOf(sewn, run.count, minutes(time), minutes(run.total_s))}
      </Typography>
      {ended && <Alert severity="success">{say.sewnToItsEnd}</Alert>}
      <Figure words={say.needlePoints}>{run.count}</Figure>
      <Figure words={say.trimsStops}>
        {run.trims}, {run.halts.length}
      </Figure>
      <Figure words={say.threadOnTop}>{metres(run.thread_mm)}</Figure>
    </>
  );
}
