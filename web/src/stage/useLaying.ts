/** The tool in hand, and the line that it lays: with the tape or to cut open, caught by the lines that there are. */
import { useMemo, useState } from "react";
import { runsOf, snap, type Point, type View } from "./geometry";
import type { Line } from "./LineCanvas";

/** So far, in pixels, a place is caught by a line, and counts as near. */
export const SNAP_PX = 9;
export type Tool = "hand" | "tape" | "section";
type Laid = [Point, Point];

interface Input {
  tool: Tool;
  onTool: (next: Tool) => void;
  lines: Line[];
  view: View;
  size: [number, number];
  /** Hears of a line that was laid across for the section; without it there is no section. */
  onSection?: (line: Laid | null) => void;
}

export function useLaying({ tool, onTool, lines, view, size, onSection }: Input) {
  const [laid, setLaid] = useState<Laid | null>(null);
  const [laying, setLaying] = useState(false);
  const runs = useMemo(() => lines.flatMap((line) => runsOf(line.path)), [lines]);
  const caught = (at: Point): Point => snap(runs, at, SNAP_PX / view.k) ?? at;

  const choose = (next: Tool) => {
    onTool(next);
    setLaid(null);
    setLaying(false);
    if (next !== "section") onSection?.(null);
  };
  const lay = (to: Point, done: boolean) => {
    const line: Laid = laid && laying ? [laid[0], to] : [to, to];
    setLaid(line);
    setLaying(!done);
    if (done && tool === "section")
      onSection?.(line[0][0] === line[1][0] && line[0][1] === line[1][1] ? null : line);
  };
  return {
    tool,
    laid,
    laying,
    choose,
    /** Takes a tool, or puts it away where it is in hand. */
    turn: (one: Tool) => choose(tool === one ? "hand" : one),
    begin: (at: Point) => {
      setLaid([caught(at), caught(at)]);
      setLaying(true);
    },
    pull: (at: Point) => {
      if (laying) setLaid((line) => (line ? [line[0], caught(at)] : line));
    },
    end: (at: Point) => {
      if (laying) lay(caught(at), true);
    },
    /** Sets a point in the middle of the stage. */
    set: () => lay(caught(middleOf(view, size)), laying),
  };
}

export type Laying = ReturnType<typeof useLaying>;

export const middleOf = (view: View, [width, height]: [number, number]): Point => [
  (width / 2 - view.x) / view.k,
  (view.y - height / 2) / view.k,
];
