/** Stitches at the true width of a thread, each with a dark side, so that one is told from the next. */
import { useLayoutEffect, useRef } from "react";
import type { View } from "../stage/geometry";
import { darker, type Seam } from "./stitches";
import { stack as say } from "../texts/stack";

export const THREAD_MM = 0.4;
const LIGHT = 0.6;
const SHADED_FROM = 5;

interface Props {
  seams: Seam[];
  /** So many needle points are sewn; null: all. */
  sewn: number | null;
  view: View;
  size: [number, number];
  over: [number, number];
}

export function StitchCanvas({ seams, sewn, view, size, over: [ox, oy] }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [width, height] = [size[0] + 2 * ox, size[1] + 2 * oy];
  useLayoutEffect(() => {
    const element = canvas.current;
    const pen = element?.getContext("2d");
    if (!element || !pen) return;
    const ratio = window.devicePixelRatio;
    element.width = Math.round(width * ratio);
    element.height = Math.round(height * ratio);
    pen.setTransform(ratio * view.k, 0, 0, -ratio * view.k, ratio * (view.x + ox), ratio * (view.y + oy));
    pen.lineCap = "round";
    pen.lineJoin = "round";
    let left = sewn ?? Infinity;
    for (const { colour, points } of seams) {
      const count = Math.min(points.length / 2, left);
      if (count < 1) break;
      left -= count;
      const shade = darker(colour);
      const wide = Math.max(THREAD_MM, 0.7 / view.k);
      // far away a seam is one line; near to, each stitch lies on the one before
      if (THREAD_MM * view.k * ratio < SHADED_FROM) {
        pen.beginPath();
        for (let i = 0; i < count; i++) pen.lineTo(points[2 * i] ?? 0, points[2 * i + 1] ?? 0);
        stroke(pen, shade, wide);
        stroke(pen, colour, wide * LIGHT);
        continue;
      }
      for (let i = 1; i < count; i++) {
        pen.beginPath();
        pen.moveTo(points[2 * i - 2] ?? 0, points[2 * i - 1] ?? 0);
        pen.lineTo(points[2 * i] ?? 0, points[2 * i + 1] ?? 0);
        stroke(pen, shade, THREAD_MM);
        stroke(pen, colour, THREAD_MM * LIGHT);
      }
    }
  }, [seams, sewn, view, size, ox, oy, width, height]);
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={say.stitchesSewn(sewn === null ? "all" : sewn)}
      data-stitches
      style={{ position: "absolute", left: -ox, top: -oy, width, height, pointerEvents: "none" }}
    />
  );
}

function stroke(pen: CanvasRenderingContext2D, colour: string, wide: number) {
  pen.strokeStyle = colour;
  pen.lineWidth = wide;
  pen.stroke();
}
