/** What the stage shows and takes while lines are made. */
import { Box as Area, Button, Stack, TextField, Typography } from "@mui/material";
import { useCallback, useMemo, useState, type ReactNode } from "react";
import { place as placeWords } from "../../ui/words";
import type { DrawnLine, Job } from "../../api/client";
import { distance, runsOf, snap as nearestOn, type Box, type Point, type View } from "../../stage/geometry";
import type { Line } from "../../stage/LineCanvas";
import { ACCENT } from "../../ui/theme";
import { understood, type Unit } from "../../ui/lengths";
import { useUnit } from "../../ui/unit";
import type { StageMaking } from "../ArtStage";
import { InnerMarks, Nodes, OffsetGrips, type NodeAt } from "./Grips";
import { tidy, turnedInner, withLine, type Edit } from "./make";
import { NodeBar } from "./NodeBar";
import { nodeKeys } from "./nodeKeys";
import type { Pointing } from "./OutlinePart";
import { holds } from "./paths";
import type { MakingState } from "./useMaking";
import { TurnedInner, useInnerBox } from "./useInnerBox";
import { penPath, usePen, type PenPoint } from "./usePen";

const SAYS: Partial<Record<Pointing, string>> = {
  ground: "Press the ground: what is in its colour does not count.",
  "cut-out": "Press an area of the art: it becomes a hole that the ground shows through.",
  box: "Pull a box: the inner contours in it are left out; round those that are left out, they are cut.",
  objects: "Press the objects that count; all others are left alone.",
};

/** Of what counts as near: a hand that pulls a place less far has only pressed it. */
const PULLED = 0.5;

interface Input {
  job: Job;
  making: MakingState;
  pointing: Pointing;
  onPointing: (next: Pointing) => void;
  /** The line whose nodes are edited, by its number. */
  edited: number | null;
  goTo: { box: Box } | null;
}

/** What the stage shows, and what the docket says of the tool that is in hand. */
export function useStage({
  job,
  making,
  pointing,
  onPointing,
  edited,
  goTo,
}: Input): { stage: StageMaking; panel: ReactNode } | null {
  const { make, made, change, drag, drop } = making;
  const [node, setNode] = useState<NodeAt | null>(null);
  const drawn = useCallback(
    (path: string) => {
      const role = (!make?.lines.length && job.order.roles?.[0]) || "kiss-cut";
      if (make) change({ ...make, lines: [...make.lines, { role, drawn: path }] });
      onPointing("inner");
    },
    [make, change, onPointing, job.order.roles],
  );
  const pen = usePen(drawn);
  const box = useInnerBox(make, made, change);
  const [turned, setTurned] = useState<Point | null>(null);
  const lines: Line[] = useMemo(
    () =>
      (made?.lines ?? []).map((line, i) => ({
        role: line.role,
        ink: `made ${i}`,
        path: line.cut || line.path,
        hidden: false,
      })),
    [made],
  );
  const roles = make?.lines.map((line) => line.role).join() ?? "";
  const [replaces, ownSource] = [make?.replaces, make?.source === "line" ? make.line : undefined];
  const instead = useCallback(
    (line: DrawnLine) =>
      (line.made && line.role !== ownSource) || (!!replaces && roles.split(",").includes(line.role)),
    [roles, replaces, ownSource],
  );
  const catching = useMemo(
    () => [
      ...runsOf(made?.outline ?? ""),
      ...(job.seen?.drawn ?? []).flatMap((line) => runsOf(line.path)),
      ...(made?.lines ?? []).filter((line) => line.line !== edited).flatMap((line) => runsOf(line.path)),
    ],
    [made, job.seen, edited],
  );
  const snap = useCallback(
    (at: Point, within: number): Point => nearestOn(catching, at, within) ?? at,
    [catching],
  );
  const own = useMemo(() => (made?.lines ?? []).filter((line) => line.line === edited), [made, edited]);
  const edit = useCallback(
    (one: Edit) => {
      if (!make || edited === null) return;
      change(withLine(make, edited, { edits: [...(make.lines[edited]?.edits ?? []), one] }));
    },
    [make, edited, change],
  );
  const press = useCallback(
    (at: Point, within: number) => {
      const first = pen.points[0];
      const ends = pen.points.length > 2 && first && distance(first.at, at) <= within;
      if (ends) pen.done(true);
      else pen.add(snap(at, within));
    },
    [pen, snap],
  );
  const draw = useMemo(
    () =>
      pointing === "pen"
        ? { press, pull: (to: Point, within: number) => pen.pull(to, within * PULLED) }
        : pointing === "box"
          ? box.draw
          : null,
    [pointing, press, pen, box.draw],
  );
  const pick = useCallback(
    (at: Point, within: number) => {
      if (!make) return;
      if (pointing === "pen") return press(at, within);
      const add = (key: "cut_out_at" | "objects_at") =>
        change({ ...make, [key]: [...(make[key] ?? []), at] });
      if (pointing === "cut-out") return add("cut_out_at");
      if (pointing === "objects") return add("objects_at");
      if (pointing === "ground") {
        onPointing("inner");
        return change(tidy({ ...make, source: "ground", ground_at: at, ground: undefined }));
      }
      if (pointing === "nodes" || pointing === "box") return;
      const inner = [...(made?.inner ?? [])]
        .sort((a, b) => a.area_mm2 - b.area_mm2)
        .find((one) => holds(one.path, at));
      if (inner) change(turnedInner(make, inner.at as Point, inner.kept));
      setTurned(inner ? (inner.at as Point) : null);
    },
    [make, made, pointing, press, change, onPointing],
  );
  const onTop = useCallback(
    (view: View) => {
      if (!make || (!made && pointing !== "pen")) return null;
      if (pointing === "nodes")
        return (
          <Nodes
            lines={own}
            view={view}
            chosen={node}
            snap={snap}
            onChoose={setNode}
            onMove={(at, to) => edit({ do: "move", at, to })}
            onHandle={(at, side, to) => edit({ do: "handle", at, side, to })}
          />
        );
      if (pointing === "pen")
        return (
          <>
            {["#fff", ACCENT].map((colour, i) => (
              <path
                key={colour}
                d={penPath(pen.points, false)}
                fill="none"
                stroke={colour}
                strokeWidth={4 - 2 * i}
                vectorEffect="non-scaling-stroke"
              />
            ))}
            <PulledHandle last={pen.points[pen.points.length - 1]} view={view} />
            {pen.points.map((one, i) => (
              <circle
                key={i}
                cx={one.at[0]}
                cy={one.at[1]}
                r={4 / view.k}
                fill="#fff"
                stroke="#1A1A1A"
                strokeWidth={1 / view.k}
              />
            ))}
          </>
        );
      if (!made) return null;
      return (
        <>
          <InnerMarks made={made} />
          {pointing === "box" && box.shown}
          {pointing === "inner" && (
            <OffsetGrips make={make} made={made} view={view} onDrag={drag} onDrop={drop} />
          )}
          {[...(make.cut_out_at ?? []), ...(make.objects_at ?? [])].map(([x, y]) => (
            <path
              key={`${x} ${y}`}
              d={`M${x - 6 / view.k} ${y}h${12 / view.k}M${x} ${y - 6 / view.k}v${12 / view.k}`}
              stroke="#1A1A1A"
              strokeWidth={1.5}
              vectorEffect="non-scaling-stroke"
            />
          ))}
        </>
      );
    },
    [make, made, pointing, own, node, snap, edit, pen.points, drag, drop, box.shown],
  );
  const keys = useMemo(
    () => (pointing === "nodes" && node ? nodeKeys(own, node, setNode, edit) : undefined),
    [pointing, own, node, edit],
  );
  if (!make) return null;
  const says = SAYS[pointing];
  const panel =
    pointing === "pen" ? (
      <PenPanel pen={pen} onLeave={() => onPointing("inner")} />
    ) : pointing === "nodes" ? (
      <NodeBar lines={own} chosen={node} onChoose={setNode} onEdit={edit} />
    ) : says ? (
      <Typography variant="body2">
        {says}{" "}
        <Button onClick={() => onPointing("inner")} sx={{ py: 0 }}>
          Done
        </Button>
      </Typography>
    ) : turned && made ? (
      <TurnedInner make={make} made={made} at={turned} onChange={change} onDone={() => setTurned(null)} />
    ) : null;
  // The section waits for the lines as they will be.
  const cut = making.lined;
  return {
    stage: { lines, instead, onTop, pick, draw, keys, make: cut?.lines.length ? cut : null, goTo },
    panel,
  };
}

/** The handles of the place that was pressed last, while and after it is pulled. */
function PulledHandle({ last, view }: { last: PenPoint | undefined; view: View }) {
  if (!last?.handle) return null;
  const [[x, y], [hx, hy]] = [last.at, last.handle];
  return (
    <>
      <path
        d={`M${2 * x - hx} ${2 * y - hy}L${hx} ${hy}`}
        stroke={ACCENT}
        strokeWidth={1}
        vectorEffect="non-scaling-stroke"
      />
      {[
        [hx, hy],
        [2 * x - hx, 2 * y - hy],
      ].map(([cx, cy], i) => (
        <circle key={i} cx={cx} cy={cy} r={3 / view.k} fill={ACCENT} />
      ))}
    </>
  );
}

/** Two lengths that were typed with a space or a semicolon between them. */
function placed(text: string, unit: Unit): Point | null {
  const both = text.trim().split(text.includes(";") ? ";" : /\s+/);
  const [x, y, ...more] = both.map((one) => understood(one, unit));
  return x?.state === "length" && y?.state === "length" && !more.length ? [x.mm, y.mm] : null;
}

function PenPanel({ pen, onLeave }: { pen: ReturnType<typeof usePen>; onLeave: () => void }) {
  const [at, setAt] = useState("");
  const unit = useUnit();
  const place = placed(at, unit);
  const last = pen.points[pen.points.length - 1]?.at;
  return (
    <Area role="group" aria-label="the pen">
      <Typography variant="body2" data-testid="pen">
        {pen.points.length === 0
          ? "Press where the line begins; press and pull for a curve. Places catch on art and lines."
          : `${pen.points.length} placed, the last at ${last ? placeWords(last) : ""}.`}
      </Typography>
      <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap", alignItems: "center" }}>
        <TextField
          label={`Place, x y in ${unit}`}
          value={at}
          onChange={(e) => setAt(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Enter" && place) {
              pen.add(place);
              setAt("");
            }
          }}
          sx={{ width: 150 }}
        />
        <Button disabled={!pen.points.length} onClick={pen.back}>
          Take the last back
        </Button>
        <Button disabled={pen.points.length < 2} variant="outlined" onClick={() => pen.done(false)}>
          End it open
        </Button>
        <Button disabled={pen.points.length < 3} variant="contained" onClick={() => pen.done(true)}>
          Close it
        </Button>
        <Button
          onClick={() => {
            pen.clear();
            onLeave();
          }}
        >
          Put the pen away
        </Button>
      </Stack>
    </Area>
  );
}
