/** The simulated cutter: the cut file played over the sheet, tool by tool, with a time slider. */
import { Alert, Button, LinearProgress, Slider, Stack, Typography } from "@mui/material";
import { useEffect, useMemo, useState } from "react";
import type { Playback, Release } from "../api/client";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../api/queries";
import { Figure } from "../ui/Docket";
import { manyCopies } from "../sheet/SheetPanel";
import { SheetView } from "../sheet/SheetView";
import { artOfJob } from "../sheet/target";
import { lookOf } from "../ui/roles";
import { metres, minutes } from "../ui/words";
import { RoleSign } from "../stage/RoleLine";
import { Stage } from "../stage/Stage";

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

export function Player({ made }: { made: Release }) {
  const play = useQuery(queries.playback(made.id));
  const job = useQuery(queries.job(made.job_id));
  const shared = useQuery({ ...queries.shared(made.shared_id ?? 0), enabled: made.shared_id !== null });
  const sheets = made.shared_id ? shared.data?.sheets : job.data && [job.data.sheet, ...job.data.more_sheets];
  const sheet = sheets?.[made.sheet_number - 1];
  const arts = useMemo(() => {
    const own = job.data ? [job.data] : [];
    return (made.shared_id ? (shared.data?.shares ?? []).map((share) => share.job) : own).map(artOfJob);
  }, [made.shared_id, shared.data, job.data]);
  const canvas = useMemo(() => manyCopies(sheet ?? undefined, arts, true), [sheet, arts]);
  const [time, setTime] = useState(0);
  const [runs, setRuns] = useState(false);
  const total = play.data?.total_s ?? 0;
  useEffect(() => {
    if (!runs) return;
    const timer = setInterval(() => setTime((now) => Math.min(total, now + RATE * 0.05)), 50);
    return () => clearInterval(timer);
  }, [runs, total]);
  const moves = useMemo(() => play.data?.moves ?? [], [play.data]);
  const roles = useMemo(() => (play.data?.operations ?? []).map((o) => String(o.role)), [play.data]);
  const done = useMemo(() => moves.filter((move) => move.end_s <= time), [moves, time]);
  const paths = useMemo(
    () =>
      roles.map((_, i) =>
        done
          .filter((m) => m.operation === i)
          .map((m) => dOf(m.points))
          .join(""),
      ),
    [done, roles],
  );
  if (play.isPending || job.isPending) return <LinearProgress aria-label="loading" />;
  if (play.isError)
    return (
      <Alert severity="error" sx={{ m: 3 }}>
        {play.error.message}
      </Alert>
    );
  const now = moves.find((move) => move.start_s <= time && time < move.end_s);
  const at = now ?? moves.find((move) => move.start_s > time) ?? moves.at(-1);
  const head = now ? cutSoFar(now, time).at(-1) : done.at(-1)?.points.at(-1);
  return (
    <Stack direction="row" sx={{ flex: 1, minHeight: 0 }}>
      <Stack sx={{ flex: 1, minWidth: 0 }}>
        <Stage bounds={[0, 0, play.data.width_mm, play.data.length_mm]} label="Cutter" canvas={canvas}>
          {(view) => (
            <>
              {sheet?.placements.length ? (
                <SheetView sheet={sheet} arts={arts} showLines={false} printed />
              ) : (
                <rect width={play.data.width_mm} height={play.data.length_mm} fill="#fff" />
              )}
              {roles.map((role, i) => (
                <g key={role} fill="none" data-cut={role}>
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
          <Button
            variant="contained"
            onClick={() => {
              if (time >= total) setTime(0);
              setRuns(!runs);
            }}
          >
            {runs && time < total ? "Pause" : "Play"}
          </Button>
          <Slider
            value={time}
            max={total}
            step={0.05}
            onChange={(_, next) => {
              setRuns(false);
              setTime(next as number);
            }}
            aria-label="time"
            sx={{ flex: 1 }}
          />
          <Typography variant="body2" sx={{ width: 150 }}>
            {minutes(time)} of {minutes(total)}
          </Typography>
        </Stack>
      </Stack>
      <Stack spacing={1} sx={{ width: 300, p: 2, bgcolor: "background.paper" }}>
        <Typography variant="h2">At the blade</Typography>
        {at && (
          <>
            <Stack direction="row" spacing={1}>
              <RoleSign role={roles[at.operation] ?? ""} />
              <b>{lookOf(roles[at.operation] ?? "").words}</b>
            </Stack>
            <Figure words="Tool">{at.tool}</Figure>
            <Figure words="Force">{at.force_gf} gf</Figure>
            <Figure words="Speed">{at.speed_mm_s} mm/s</Figure>
            <Figure words="Blade">{now ? "down" : "up"}</Figure>
          </>
        )}
        <Figure words="Strokes done">
          <span data-testid="strokes">
            {done.length} of {moves.length}
          </span>
        </Figure>
        <Figure words="Cut in all">{metres(play.data.cut_mm)}</Figure>
        <Figure words="Travel in all">{metres(play.data.travel_mm)}</Figure>
        <Typography variant="body2" color="text.secondary">
          Played {RATE} times as fast as the machine.
        </Typography>
      </Stack>
    </Stack>
  );
}
