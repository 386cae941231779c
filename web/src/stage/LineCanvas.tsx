/**
 * The lines of an artwork, drawn on a canvas: a browser works out the width of an SVG stroke anew at every
 * zoom, which takes a fifth of a second for 20,000 nodes; a canvas just draws it.
 */
import { useLayoutEffect, useMemo, useRef } from "react";
import { lookOf } from "../ui/roles";
import { grow, inView, runsOf, segmentsOf, ticks, trace, type View } from "./geometry";
import { stage as say } from "../texts/stage";

export interface Line {
  role: string;
  ink: string;
  path: string;
  /** On a layer that is off: drawn pale and broken, so that it shows as hidden. */
  hidden: boolean;
}

interface Props {
  lines: Line[];
  view: View;
  size: [number, number];
  over: [number, number];
}

export function LineCanvas({ lines, view, size, over: [ox, oy] }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const made = useMemo(
    () =>
      lines.map((line) => ({
        line,
        look: lookOf(line.role),
        segments: segmentsOf(line.path),
        runs: lookOf(line.role).ticks ? runsOf(line.path) : [],
      })),
    [lines],
  );
  const [width, height] = [size[0] + 2 * ox, size[1] + 2 * oy];
  useLayoutEffect(() => {
    const element = canvas.current;
    const pen = element?.getContext("2d");
    if (!element || !pen) return;
    const ratio = window.devicePixelRatio;
    element.width = Math.round(width * ratio);
    element.height = Math.round(height * ratio);
    const seen = grow(inView(view, size), (ox + 12) / view.k);
    for (const { line, look, segments, runs } of made) {
      const path = new Path2D();
      trace(path, segments, view.k, seen);
      pen.setTransform(ratio * view.k, 0, 0, -ratio * view.k, ratio * (view.x + ox), ratio * (view.y + oy));
      pen.globalAlpha = line.hidden ? 0.45 : 1;
      const stroke = (what: Path2D, colour: string, wide: number, dash: number[] = []) => {
        pen.strokeStyle = colour;
        pen.lineWidth = wide / view.k;
        pen.lineCap = look.round ? "round" : "butt";
        pen.lineJoin = "bevel";
        pen.setLineDash(dash.map((part) => part / view.k));
        pen.stroke(what);
      };
      stroke(path, "rgba(255,255,255,.9)", look.double ? 6.5 : 4.5);
      if (runs.length) stroke(new Path2D(ticks(runs, view.k, seen)), look.colour, 1.2);
      const dash = line.hidden ? [2, 6] : (look.dash ?? "").split(" ").filter(Boolean).map(Number);
      stroke(path, look.colour, look.double ? 4.2 : look.round ? 3 : 1.8, dash);
      if (look.double && !line.hidden) stroke(path, "#fff", 1.6);
    }
  }, [made, view, size, ox, oy, width, height]);
  return (
    <>
      <canvas
        ref={canvas}
        style={{ position: "absolute", left: -ox, top: -oy, width, height, pointerEvents: "none" }}
        aria-hidden
      />
      {lines.map((line) => (
        <span
          key={line.role + line.ink + line.hidden}
          role="img"
          data-role={line.role}
          data-hidden={line.hidden || undefined}
          aria-label={`${line.role.replace("-", " ")} in ${line.ink || say.noInk}${line.hidden ? say.hidden : ""}`}
        />
      ))}
    </>
  );
}
