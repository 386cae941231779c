/** The simulated cutter with a stack: what is to be laid, the cut through one fabric, and one zero for all. */
import { Alert, Button, Stack, Typography } from "@mui/material";
import { Failure } from "../help/Failure";
import type { StackBed } from "../api/client";
import { useCutLayer, useStackAnew, useStackOrigin } from "../api/stacks";
import { boundsOf } from "../stack/StackStage";
import { Stage } from "../stage/Stage";
import { Docket } from "../ui/Docket";
import { lookOf } from "../ui/roles";
import { STOP } from "../ui/theme";
import { minutes } from "../ui/words";
import { SetOrigin } from "./OriginDialog";
import { bench as say } from "../texts/bench";

const OUTCOME: Record<string, string> = {
  "too-shallow": say.itIsNotCutThrough,
  right: say.itIsCutThroughAnd,
  "into-the-liner": say.whatLiesBelowIsCut,
  through: say.whatLiesBelowIsCutThrough,
};
const ROOM_MM = 15;

export function StackCutter({ bed }: { bed: StackBed }) {
  const cut = useCutLayer(bed.package.id);
  const anew = useStackAnew(bed.package.id);
  const next = bed.next === null ? null : bed.layers[bed.next];
  const moved = bed.origin_mm.some((mm) => mm !== 0);
  const last = bed.cut.at(-1);
  const fault = cut.error ?? anew.error;
  return (
    <Stack direction="row" sx={{ flex: 1, minHeight: 0 }}>
      <Stage bounds={boundsOf(bed.bounds, ROOM_MM)} label={say.cutter}>
        {(view) => (
          <>
            <Zero at={bed.zero_mm} k={view.k} words={say.zero} />
            {moved && (
              <Zero
                at={bed.zero_mm.map((mm, i) => mm + (bed.origin_mm[i] ?? 0))}
                k={view.k}
                words={say.newOrigin}
                bad
              />
            )}
            {bed.cut.map((one) => (
              <g key={one.number} data-cut-layer={bed.layers[one.number]?.name}>
                <path
                  d={one.paths.join("Z") + "Z"}
                  fill={bed.layers[one.number]?.colour}
                  fillRule="evenodd"
                  stroke="#fff"
                  strokeWidth={3.5}
                  vectorEffect="non-scaling-stroke"
                />
                <path
                  d={one.frame + one.paths.join("")}
                  fill="none"
                  stroke={one.outcome === "right" ? lookOf("kiss-cut").colour : STOP}
                  strokeWidth={1.6}
                  vectorEffect="non-scaling-stroke"
                />
              </g>
            ))}
            {next && (
              <path
                d={next.path}
                fill="none"
                stroke="#333"
                strokeDasharray="4 4"
                vectorEffect="non-scaling-stroke"
                data-next={next.name}
              />
            )}
          </>
        )}
      </Stage>
      <Docket title={next ? say.layerOf(next.cut_as, bed.layers.length) : say.allLayersAreCut}>
        {next && (
          <>
            <Typography variant="subtitle1">{next.name}</Typography>
            <Typography>{next.lay}</Typography>
            <Typography variant="body2" color="text.secondary">
              {next.force_gf === null ? say.theMachinesOwnForce : `${next.force_gf} gf`};{" "}
              {minutes(next.time_s)}
            </Typography>
            {moved && (
              <Alert severity="warning">
                {say.aNewOriginWasSet}
                {bed.origin_mm[0]}, {bed.origin_mm[1]}
                {say.mmBesideWhatWasCut}
              </Alert>
            )}
            <Button variant="contained" disabled={cut.isPending} onClick={() => cut.mutate(undefined)}>
              {say.itIsLaidCut(next.name)}
            </Button>
            {bed.cut.length > 0 && <Origin bed={bed} moved={moved} />}
          </>
        )}
        {!next && <Typography>{say.weedTheStackTakeIt}</Typography>}
        <Failure of={fault} />
        {last && <Typography variant="h2">{say.cutSoFar}</Typography>}
        {[...bed.cut].reverse().map((one) => {
          const layer = bed.layers[one.number];
          const out = one.inside_mm !== null && one.inside_mm < 0;
          return (
            <Alert
              key={one.number}
              severity={out || one.outcome !== "right" ? "error" : "success"}
              data-outcome={layer?.name}
            >
              <b>{layer?.name}</b>
              {say.mDeep(one.deep_um.toFixed(0))}
              {layer?.own_um.toFixed(0)}
              {say.mAreItsOwn}
              {OUTCOME[one.outcome]}
              {one.inside_mm !== null &&
                (out
                  ? say.itLiesMmOverThe((-one.inside_mm).toFixed(2))
                  : say.itLiesAtLeastMm(one.inside_mm.toFixed(2)))}
            </Alert>
          );
        })}
        {last && bed.cut.some((one) => one.outcome !== "right") && (
          <Typography variant="body2">{say.correctTheForceByA}</Typography>
        )}
        {last && (
          <Button disabled={anew.isPending} onClick={() => anew.mutate(undefined)}>
            {say.beginAnewWithAnotherSheet}
          </Button>
        )}
      </Docket>
    </Stack>
  );
}

/** Where the machine counts from, and comes back to. */
function Zero({ at, k, words, bad = false }: { at: number[]; k: number; words: string; bad?: boolean }) {
  const [x = 0, y = 0] = at;
  const arm = 9 / k;
  return (
    <g data-zero={words}>
      <path
        d={`M${x - arm} ${y}H${x + arm}M${x} ${y - arm}V${y + arm}`}
        stroke={bad ? STOP : "#222"}
        strokeWidth={1.6}
        vectorEffect="non-scaling-stroke"
      />
      <text
        transform={`translate(${x + (bad ? 6 : -6) / k} ${y - 24 / k}) scale(1 -1)`}
        fontSize={12 / k}
        textAnchor={bad ? "start" : "end"}
        fill={bad ? STOP : "#222"}
      >
        {words}
      </text>
    </g>
  );
}

/** The zero between two layers: it may be set anew, as on a real machine, and is warned of before. */
function Origin({ bed, moved }: { bed: StackBed; moved: boolean }) {
  const origin = useStackOrigin(bed.package.id);
  return (
    <>
      {moved ? (
        <Button size="small" disabled={origin.isPending} onClick={() => origin.mutate([0, 0])}>
          {say.returnToTheOldOrigin}
        </Button>
      ) : (
        <SetOrigin
          between={say.twoLayers}
          warns={say.theLayersBelowAreCut}
          onSet={(next) => origin.mutate(next)}
        />
      )}
      <Failure of={origin.error} />
    </>
  );
}
