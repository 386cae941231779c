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

const OUTCOME: Record<string, string> = {
  "too-shallow": "It is not cut through.",
  right: "It is cut through, and nothing below.",
  "into-the-liner": "What lies below is cut into.",
  through: "What lies below is cut through as well.",
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
      <Stage bounds={boundsOf(bed.bounds, ROOM_MM)} label="Cutter">
        {(view) => (
          <>
            <Zero at={bed.zero_mm} k={view.k} words="zero" />
            {moved && (
              <Zero
                at={bed.zero_mm.map((mm, i) => mm + (bed.origin_mm[i] ?? 0))}
                k={view.k}
                words="new origin"
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
      <Docket title={next ? `Layer ${next.cut_as} of ${bed.layers.length}` : "All layers are cut"}>
        {next && (
          <>
            <Typography variant="subtitle1">{next.name}</Typography>
            <Typography>{next.lay}</Typography>
            <Typography variant="body2" color="text.secondary">
              {next.force_gf === null ? "The machine’s own force" : `${next.force_gf} gf`};{" "}
              {minutes(next.time_s)}
            </Typography>
            {moved && (
              <Alert severity="warning">
                A new origin was set: what comes now is cut {bed.origin_mm[0]}, {bed.origin_mm[1]} mm beside
                what was cut.
              </Alert>
            )}
            <Button variant="contained" disabled={cut.isPending} onClick={() => cut.mutate(undefined)}>
              It is laid: cut “{next.name}”
            </Button>
            {bed.cut.length > 0 && <Origin bed={bed} moved={moved} />}
          </>
        )}
        {!next && <Typography>Weed the stack, take it off the sheet as one, and sew it down.</Typography>}
        <Failure of={fault} />
        {last && <Typography variant="h2">Cut so far</Typography>}
        {[...bed.cut].reverse().map((one) => {
          const layer = bed.layers[one.number];
          const out = one.inside_mm !== null && one.inside_mm < 0;
          return (
            <Alert
              key={one.number}
              severity={out || one.outcome !== "right" ? "error" : "success"}
              data-outcome={layer?.name}
            >
              <b>{layer?.name}</b>: {one.deep_um.toFixed(0)} µm deep, {layer?.own_um.toFixed(0)} µm are its
              own. {OUTCOME[one.outcome]}
              {one.inside_mm !== null &&
                (out
                  ? ` It lies ${(-one.inside_mm).toFixed(2)} mm over the edge of the layer below.`
                  : ` It lies at least ${one.inside_mm.toFixed(2)} mm inside the layer below.`)}
            </Alert>
          );
        })}
        {last && bed.cut.some((one) => one.outcome !== "right") && (
          <Typography variant="body2">
            Correct the force by a test cut in the job’s Stack, “Cut”, and write the files again.
          </Typography>
        )}
        {last && (
          <Button disabled={anew.isPending} onClick={() => anew.mutate(undefined)}>
            Begin anew with another sheet
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
          Return to the old origin
        </Button>
      ) : (
        <SetOrigin
          between="two layers"
          warns="The layers below are cut already. With a new origin this one lands beside them, and the stack is spoilt."
          onSet={(next) => origin.mutate(next)}
        />
      )}
      <Failure of={origin.error} />
    </>
  );
}
