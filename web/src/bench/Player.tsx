/** The simulated cutter: the cut file played over the print as it lands there, tool by tool, with a time slider. */
import { Failure } from "../help/Failure";
import { Alert, Button, LinearProgress, Slider, Stack, Typography } from "@mui/material";
import type { Bed, Playback, Release } from "../api/client";
import { Figure } from "../ui/Docket";
import { lookOf } from "../ui/roles";
import { metres, minutes } from "../ui/words";
import { RoleSign } from "../stage/RoleLine";
import { Stage } from "../stage/Stage";
import { Halt } from "./Halt";
import { PrintedSheet } from "./OnBed";
import { cutSoFar, dOf, RATE, useCut, usePlaying, type Move, type Playing } from "./playing";
import { common } from "../texts/common";
import { bench as say } from "../texts/bench";

interface Props {
  made: Release;
  bed: Bed;
}

export function Player({ made, bed }: Props) {
  const playing = usePlaying(made, bed);
  const { play } = playing;
  if (play.isPending) return <LinearProgress aria-label={common.loadingLabel} />;
  if (play.isError) return <Failure of={play.error} alone />;
  return <Played made={made} bed={bed} playing={playing} playback={play.data} />;
}

function Played({ made, bed, playing, playback }: Props & { playing: Playing; playback: Playback }) {
  const { time, halt } = playing;
  const roles = playback.operations.map((operation) => String(operation.role));
  const { cut, paths, now, at, head } = useCut(playback.moves, roles.length, time);
  return (
    <Stack direction="row" sx={{ flex: 1, minHeight: 0 }}>
      <Stack sx={{ flex: 1, minWidth: 0 }}>
        <Stage bounds={[0, 0, playback.width_mm, playback.length_mm]} label={say.cutter}>
          {(view) => (
            <>
              <PrintedSheet made={made} side={bed.side} />
              {roles.map((role, i) => (
                <g key={i} fill="none" data-cut={role}>
                  <path d={paths[i]} stroke="#fff" strokeWidth={4} vectorEffect="non-scaling-stroke" />
                  <Cut d={paths[i] ?? ""} role={role} />
                </g>
              ))}
              {now && <Cut d={dOf(cutSoFar(now, time))} role={roles[now.operation] ?? ""} />}
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
        <Timeline playing={playing} playback={playback} />
      </Stack>
      <Stack spacing={1} sx={{ width: 340, p: 2, bgcolor: "background.paper", overflowY: "auto" }}>
        {halt && (
          <Halt made={made} bed={bed} stop={halt} busy={playing.busy} onDone={() => playing.pass(halt)} />
        )}
        <Typography variant="h2">{say.atTheBlade}</Typography>
        {at && <AtBlade move={at} role={roles[at.operation] ?? ""} down={!!now} />}
        <Figure words={say.strokesDone}>
          <span data-testid="strokes">{say.ofIt(cut.length, playback.moves.length)}</span>
        </Figure>
        <Figure words={say.cutInAll}>{metres(playback.cut_mm)}</Figure>
        <Figure words={say.travelInAll}>{metres(playback.travel_mm)}</Figure>
        <Typography variant="body2" color="text.secondary">
          {say.playedTimesAsFastAs(playback.landed, RATE)}
        </Typography>
        {playing.unsure && <Alert severity="warning">{say.lookHowFar}</Alert>}
        {playing.elsewhere && <Alert severity="info">{say.begunElsewhere}</Alert>}
        <Failure of={playing.refused} />
        {playing.ended && <Done bed={bed} made={made} />}
      </Stack>
    </Stack>
  );
}

function Cut({ d, role }: { d: string; role: string }) {
  return (
    <path d={d} fill="none" stroke={lookOf(role).colour} strokeWidth={2} vectorEffect="non-scaling-stroke" />
  );
}

/** Begin, stop, and the time, with the stops that wait for a person. */
function Timeline({ playing, playback }: { playing: Playing; playback: Playback }) {
  const { time, goes, begun, over } = playing;
  return (
    <Stack
      direction="row"
      spacing={2}
      sx={{ px: 2, py: 1, alignItems: "center", bgcolor: "background.paper" }}
    >
      <Button
        variant={over ? "outlined" : "contained"}
        onClick={playing.press}
        disabled={Boolean(playing.halt) || playing.busy}
      >
        {playing.unsure || playing.elsewhere
          ? say.hadComeSoFar
          : goes
            ? common.stop
            : over
              ? say.showTheCut
              : begun
                ? say.goOnFromHere
                : say.beginTheCut}
      </Button>
      <Slider
        value={time}
        max={playback.total_s}
        step={0.05}
        marks={playback.stops.filter((stop) => stop.words).map((stop) => ({ value: stop.at_s }))}
        onChange={(_, next) => playing.goTo(next as number)}
        aria-label={say.timeLabel}
        sx={{ flex: 1 }}
      />
      <Typography variant="body2" noWrap sx={{ width: 180 }}>
        {say.of2(minutes(time), minutes(playback.total_s))}
      </Typography>
    </Stack>
  );
}

/** The tool, and what it is told. */
function AtBlade({ move, role, down }: { move: Move; role: string; down: boolean }) {
  return (
    <>
      <Stack direction="row" spacing={1}>
        <RoleSign role={role} />
        <b>{lookOf(role).words}</b>
      </Stack>
      <Figure words={say.tool}>{move.tool}</Figure>
      <Figure words={say.force}>{move.force_gf ? `${move.force_gf} gf` : say.leftToTheMachine}</Figure>
      <Figure words={say.speed}>{move.speed_mm_s ? `${move.speed_mm_s} mm/s` : say.leftToTheMachine}</Figure>
      <Figure words={say.blade}>{down ? "down" : "up"}</Figure>
    </>
  );
}

function Done({ bed, made }: { bed: Bed; made: Release }) {
  const more = bed.side === "front" && made.sides.includes("back") && !made.cut.includes("back");
  return <Alert severity="info">{more ? say.theFrontIsCutTake : say.itIsCutWeedThe}</Alert>;
}
