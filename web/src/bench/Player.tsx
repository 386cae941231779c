/** The simulated cutter: the cut file played over the print as it lands there, tool by tool, with a time slider. */
import { Failure } from "../help/Failure";
import { Alert, Button, LinearProgress, Slider, Stack, Typography } from "@mui/material";
import { useEffect, useMemo, useState } from "react";
import type { Bed, Playback, Release } from "../api/client";
import { useQuery } from "@tanstack/react-query";
import { useStood } from "../api/benchChanges";
import { queries } from "../api/queries";
import { Figure } from "../ui/Docket";
import { lookOf } from "../ui/roles";
import { metres, minutes } from "../ui/words";
import { RoleSign } from "../stage/RoleLine";
import { Stage } from "../stage/Stage";
import { Halt } from "./Halt";
import { PrintedSheet } from "./OnBed";

const RATE = 20;
type Move = Playback["moves"][number];
const dOf = (points: number[][]) => points.map(([x, y], i) => `${i ? "L" : "M"}${x} ${y}`).join("");

/** The part of a stroke that is cut at a share of its time. */
function cutSoFar(move: Move, time: number): number[][] {
  const share = Math.min(1, Math.max(0, (time - move.start_s) / (move.end_s - move.start_s || 1)));
  const lengths = move.points
    .slice(1)
    .map(([x = 0, y = 0], i) => Math.hypot(x - (move.points[i]?.[0] ?? 0), y - (move.points[i]?.[1] ?? 0)));
  let left = share * lengths.reduce((a, b) => a + b, 0);
  const out = move.points.slice(0, 1);
  for (let i = 0; i < lengths.length && left > 0; i++) {
    const [ax = 0, ay = 0] = move.points[i] ?? [];
    const [bx = 0, by = 0] = move.points[i + 1] ?? [];
    const t = Math.min(1, left / (lengths[i] || 1));
    out.push([ax + (bx - ax) * t, ay + (by - ay) * t]);
    left -= lengths[i] ?? 0;
  }
  return out;
}

/** The stop that a run has come to: a person is needed, and nobody has said yet that it is done. */
export const haltAt = (stops: Playback["stops"], time: number, done: number) =>
  stops.find((stop) => stop.words && stop.before > done && time >= stop.at_s);

export function Player({ made, bed }: { made: Release; bed: Bed }) {
  const play = useQuery(queries.playback(made.id, bed.side, bed));
  const keep = useStood(made.id, bed.side);
  const [time, setTime] = useState(bed.stood_s);
  const [runs, setRuns] = useState(false);
  const [passed, setPassed] = useState<number | null>(null);
  const total = play.data?.total_s ?? 0;
  const stops = useMemo(() => play.data?.stops ?? [], [play.data]);
  // what was stopped goes on where it stood: behind the stops that it had passed
  const done = passed ?? lastBefore(stops, bed.stood_s);
  const halt = haltAt(stops, time, done);
  const goes = runs && !halt && time < total;
  useEffect(() => {
    if (!goes) return;
    const timer = setInterval(
      () =>
        setTime((now) => {
          const next = Math.min(total, now + RATE * 0.05);
          const stop = haltAt(stops, next, done);
          return stop ? stop.at_s : next;
        }),
      50,
    );
    return () => clearInterval(timer);
  }, [goes, total, stops, done]);
  const ended = total > 0 && time >= total;
  const keepNow = keep.mutate;
  useEffect(() => {
    // by this the back is known to be cut behind the front
    if (ended) keepNow(total);
  }, [ended, keepNow, total]);
  const moves = useMemo(() => play.data?.moves ?? [], [play.data]);
  const roles = useMemo(() => (play.data?.operations ?? []).map((o) => String(o.role)), [play.data]);
  const cut = useMemo(() => moves.filter((move) => move.end_s <= time), [moves, time]);
  const paths = useMemo(
    () =>
      roles.map((_, i) =>
        cut
          .filter((m) => m.operation === i)
          .map((m) => dOf(m.points))
          .join(""),
      ),
    [cut, roles],
  );
  if (play.isPending) return <LinearProgress aria-label="loading" />;
  if (play.isError) return <Failure of={play.error} alone />;
  const { width_mm: width, length_mm: length } = play.data;
  const now = moves.find((move) => move.start_s <= time && time < move.end_s);
  const at = now ?? moves.find((move) => move.start_s > time) ?? moves.at(-1);
  const head = now ? cutSoFar(now, time).at(-1) : cut.at(-1)?.points.at(-1);
  const begun = time > 0 && time < total;
  const press = () => {
    if (time >= total) {
      setTime(0);
      setPassed(0);
    }
    setRuns(!goes);
    if (goes) keep.mutate(time);
  };
  return (
    <Stack direction="row" sx={{ flex: 1, minHeight: 0 }}>
      <Stack sx={{ flex: 1, minWidth: 0 }}>
        <Stage bounds={[0, 0, width, length]} label="Cutter">
          {(view) => (
            <>
              <PrintedSheet made={made} side={bed.side} />
              {roles.map((role, i) => (
                <g key={i} fill="none" data-cut={role}>
                  <path d={paths[i]} stroke="#fff" strokeWidth={4} vectorEffect="non-scaling-stroke" />
                  <path
                    d={paths[i]}
                    stroke={lookOf(role).colour}
                    strokeWidth={2}
                    vectorEffect="non-scaling-stroke"
                  />
                </g>
              ))}
              {now && (
                <path
                  d={dOf(cutSoFar(now, time))}
                  fill="none"
                  stroke={lookOf(roles[now.operation] ?? "").colour}
                  strokeWidth={2}
                  vectorEffect="non-scaling-stroke"
                />
              )}
              {head && (
                <circle
                  cx={head[0]}
                  cy={head[1]}
                  r={6 / view.k}
                  fill="none"
                  stroke="#000"
                  strokeWidth={2}
                  vectorEffect="non-scaling-stroke"
                />
              )}
            </>
          )}
        </Stage>
        <Stack
          direction="row"
          spacing={2}
          sx={{ px: 2, py: 1, alignItems: "center", bgcolor: "background.paper" }}
        >
          <Button variant="contained" onClick={press} disabled={Boolean(halt)}>
            {goes ? "Stop" : begun ? "Go on from here" : "Begin the cut"}
          </Button>
          <Slider
            value={time}
            max={total}
            step={0.05}
            marks={stops.filter((stop) => stop.words).map((stop) => ({ value: stop.at_s }))}
            onChange={(_, next) => {
              setRuns(false);
              setTime(next as number);
              setPassed(lastBefore(stops, next as number));
            }}
            aria-label="time"
            sx={{ flex: 1 }}
          />
          <Typography variant="body2" sx={{ width: 150 }}>
            {minutes(time)} of {minutes(total)}
          </Typography>
        </Stack>
      </Stack>
      <Stack spacing={1} sx={{ width: 340, p: 2, bgcolor: "background.paper", overflowY: "auto" }}>
        {halt && (
          <Halt
            made={made}
            bed={bed}
            stop={halt}
            onDone={() => {
              setPassed(halt.before);
              setTime(halt.at_s + halt.time_s);
            }}
          />
        )}
        <Typography variant="h2">At the blade</Typography>
        {at && (
          <>
            <Stack direction="row" spacing={1}>
              <RoleSign role={roles[at.operation] ?? ""} />
              <b>{lookOf(roles[at.operation] ?? "").words}</b>
            </Stack>
            <Figure words="Tool">{at.tool}</Figure>
            <Figure words="Force">{at.force_gf ? `${at.force_gf} gf` : "left to the machine"}</Figure>
            <Figure words="Speed">{at.speed_mm_s ? `${at.speed_mm_s} mm/s` : "left to the machine"}</Figure>
            <Figure words="Blade">{now ? "down" : "up"}</Figure>
          </>
        )}
        <Figure words="Strokes done">
          <span data-testid="strokes">
            {cut.length} of {moves.length}
          </span>
        </Figure>
        <Figure words="Cut in all">{metres(play.data.cut_mm)}</Figure>
        <Figure words="Travel in all">{metres(play.data.travel_mm)}</Figure>
        <Typography variant="body2" color="text.secondary">
          {play.data.landed ? "Drawn where it lands on the print." : "Drawn where it is meant."} Played {RATE}{" "}
          times as fast as the machine.
        </Typography>
        {ended && <Done bed={bed} made={made} />}
      </Stack>
    </Stack>
  );
}

/** The last stop that lies before a time: who goes there by the slider has passed it. */
export const lastBefore = (stops: Playback["stops"], time: number) =>
  stops.filter((stop) => stop.at_s < time).at(-1)?.before ?? 0;

function Done({ bed, made }: { bed: Bed; made: Release }) {
  const more = bed.side === "front" && made.sides.includes("back");
  return (
    <Alert severity="info">
      {more
        ? "The front is cut. Take the sheet out, turn it over sideways, and load it face down for the back cut."
        : "It is cut. Weed the first piece and hold it against the print before you take the rest off."}
    </Alert>
  );
}
