/** What the stage shows and takes while lines are made. */
import { Button, Typography } from "@mui/material";
import { useCallback, useMemo, useState, type ReactNode } from "react";
import type { DrawnLine, Job } from "../../api/client";
import { distance, runsOf, snap as nearestOn, type Box, type Point, type View } from "../../stage/geometry";
import type { Line } from "../../stage/LineCanvas";
import type { StageMaking } from "../ArtStage";
import { InnerMarks, Nodes, OffsetGrips, type NodeAt } from "./Grips";
import { tidy, turnedInner, withLine, type Edit, type Make } from "./make";
import { NodeBar } from "./NodeBar";
import { nodeKeys } from "./nodeKeys";
import { nodesNow } from "./nodesNow";
import type { Pointing } from "./OutlinePart";
import { PenLine, PointedAt } from "./OnTop";
import { PenPanel } from "./PenPanel";
import { holds } from "./paths";
import type { MakingState } from "./useMaking";
import { TurnedInner, useInnerBox } from "./useInnerBox";
import { usePen } from "./usePen";
import { making as say } from "../../texts/making";

const SAYS: Partial<Record<Pointing, string>> = {
  ground: say.pressTheGroundWhatIs,
  "cut-out": say.pressAnAreaOfThe,
  box: say.pullABoxTheInner,
  objects: say.pressTheObjectsThatCount,
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
export function useStage(input: Input): { stage: StageMaking; panel: ReactNode } | null {
  const { making, pointing, onPointing, edited, goTo } = input;
  const { make, made, change, drag, drop } = making;
  const [node, setNode] = useState<NodeAt | null>(null);
  const [turned, setTurned] = useState<Point | null>(null);
  const pen = usePen(useDrawn(input));
  const box = useInnerBox(make, made, change);
  const lines = useMadeLines(made);
  const instead = useInstead(make);
  const snap = useSnap(input);
  const { full, lined } = making;
  const own = useMemo(() => nodesNow(full?.lines ?? [], lined, make, edited), [full, lined, make, edited]);
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
  const draw = useMemo(() => {
    if (pointing === "pen")
      return { press, pull: (to: Point, within: number) => pen.pull(to, within * PULLED) };
    return pointing === "box" ? box.draw : null;
  }, [pointing, press, pen, box.draw]);
  const pick = usePick(input, press, setTurned);
  const onTop = useCallback(
    (view: View) => {
      if (!make || (!made && pointing !== "pen")) return null;
      if (pointing === "pen") return <PenLine points={pen.points} view={view} />;
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
      if (!made) return null;
      return (
        <>
          <InnerMarks made={made} />
          {pointing === "box" && box.shown}
          {pointing === "inner" && (
            <OffsetGrips make={make} made={made} view={view} onDrag={drag} onDrop={drop} />
          )}
          <PointedAt make={make} view={view} />
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
  const panel = () => {
    if (pointing === "pen") return <PenPanel pen={pen} onLeave={() => onPointing("inner")} />;
    if (pointing === "nodes") return <NodeBar lines={own} chosen={node} onChoose={setNode} onEdit={edit} />;
    const says = SAYS[pointing];
    if (says) return <Says onDone={() => onPointing("inner")}>{says}</Says>;
    if (!turned || !made) return null;
    return (
      <TurnedInner make={make} made={made} at={turned} onChange={change} onDone={() => setTurned(null)} />
    );
  };
  // The section waits for the lines as they will be.
  const cut = making.lined;
  return {
    stage: { lines, instead, onTop, pick, draw, keys, make: cut?.lines.length ? cut : null, goTo },
    panel: panel(),
  };
}

function Says({ onDone, children }: { onDone: () => void; children: string }) {
  return (
    <Typography variant="body2">
      {children}{" "}
      <Button onClick={onDone} size="inline">
        {say.done}
      </Button>
    </Typography>
  );
}

/** What becomes of a line that was drawn: it is made too, as what the order wants first. */
function useDrawn({ job, making: { make, change }, onPointing }: Input) {
  return useCallback(
    (path: string) => {
      const role = (!make?.lines.length && job.order.roles?.[0]) || "kiss-cut";
      if (make) change({ ...make, lines: [...make.lines, { role, drawn: path }] });
      onPointing("inner");
    },
    [make, change, onPointing, job.order.roles],
  );
}

/** The lines as they will be, for the stage. */
const useMadeLines = (made: MakingState["made"]): Line[] =>
  useMemo(
    () =>
      (made?.lines ?? []).map((line, i) => ({
        role: line.role,
        ink: say.made(i),
        path: line.cut || line.path,
        hidden: false,
      })),
    [made],
  );

/** Which lines of the file are not drawn: others take their place. */
function useInstead(make: Make | null) {
  const roles = make?.lines.map((line) => line.role).join() ?? "";
  const [replaces, ownSource] = [make?.replaces, make?.source === "line" ? make.line : undefined];
  return useCallback(
    (line: DrawnLine) =>
      (line.made && line.role !== ownSource) || (!!replaces && roles.split(",").includes(line.role)),
    [roles, replaces, ownSource],
  );
}

/** Catches a place on the outline and on all lines but the one that is edited. */
function useSnap({ job, making: { made }, edited }: Input) {
  const catching = useMemo(
    () => [
      ...runsOf(made?.outline ?? ""),
      ...(job.seen?.drawn ?? []).flatMap((line) => runsOf(line.path)),
      ...(made?.lines ?? []).filter((line) => line.line !== edited).flatMap((line) => runsOf(line.path)),
    ],
    [made, job.seen, edited],
  );
  return useCallback((at: Point, within: number): Point => nearestOn(catching, at, within) ?? at, [catching]);
}

type At = (at: Point, within: number) => void;

/** What a click on the stage means for the tool in hand. */
function usePick(
  { making, pointing, onPointing }: Input,
  press: At,
  onTurned: (at: Point | null) => void,
): At {
  const { make, made, change } = making;
  return useCallback(
    (at, within) => {
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
      onTurned(inner ? (inner.at as Point) : null);
    },
    [make, made, pointing, press, change, onPointing, onTurned],
  );
}
