/** The stage: something of known size in mm, with rulers, panned and zoomed by hand or keys. */
import { Box as Area, Button, Stack, Typography } from "@mui/material";
import { select } from "d3-selection";
import { zoom, zoomIdentity, type ZoomBehavior } from "d3-zoom";
import { useCallback, useEffect, useRef, useState, type ReactNode } from "react";
import { GROUND, MONO } from "../theme";
import { ACTUAL, fit, grow, rulerStep, toMm, type Box, type View } from "./geometry";

const RULER = 22;

/** A view moved clear of the ruler on the left. */
const beside = (view: View): View => ({ ...view, x: view.x + RULER });

interface Props {
  bounds: Box;
  /** What is drawn in mm, y upwards, inside an SVG group. */
  children: (view: View, size: [number, number]) => ReactNode;
  /** A place to go to; a new object goes there again. */
  goTo?: { box: Box } | null;
  tools?: ReactNode;
  label: string;
}

export function Stage({ bounds, children, goTo, tools, label }: Props) {
  const svg = useRef<SVGSVGElement>(null);
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown> | null>(null);
  const [size, setSize] = useState<[number, number]>([800, 600]);
  const [view, setView] = useState<View>({ k: 1, x: 0, y: 0 });
  const [pointer, setPointer] = useState<[number, number] | null>(null);
  const [x0, y0, x1, y1] = bounds;

  const show = useCallback((next: View) => {
    if (!svg.current || !behaviour.current) return;
    select(svg.current).call(behaviour.current.transform, zoomIdentity.translate(next.x, next.y).scale(next.k));
  }, []);
  const fitAll = useCallback(
    () => show(beside(fit([x0, y0, x1, y1], size[0] - RULER, size[1] - RULER))),
    [show, x0, y0, x1, y1, size],
  );

  useEffect(() => {
    const element = svg.current;
    if (!element) return;
    behaviour.current = zoom<SVGSVGElement, unknown>()
      .scaleExtent([0.005, 64 * ACTUAL])
      .on("zoom", (event) => setView({ k: event.transform.k, x: event.transform.x, y: event.transform.y }));
    select(element).call(behaviour.current).on("dblclick.zoom", null);
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setSize([entry.contentRect.width, entry.contentRect.height]);
    });
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  useEffect(fitAll, [fitAll]);
  useEffect(() => {
    if (!goTo) return;
    const [a, b, c, d] = goTo.box;
    const room = Math.min(Math.max(c - a, d - b, 8) * 0.6, 20);
    show(beside(fit(grow(goTo.box, room), size[0] - RULER, size[1] - RULER)));
    // The size is not a reason to go there again.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [goTo, show]);

  const zoomBy = (factor: number) => {
    if (svg.current && behaviour.current) select(svg.current).call(behaviour.current.scaleBy, factor);
  };
  const actual = () => {
    const [cx, cy] = toMm(view, [size[0] / 2, size[1] / 2]);
    show({ k: ACTUAL, x: size[0] / 2 - ACTUAL * cx, y: size[1] / 2 + ACTUAL * cy });
  };
  const keys: Record<string, () => void> = { f: fitAll, "0": actual, "+": () => zoomBy(1.4), "-": () => zoomBy(1 / 1.4) };
  const step = rulerStep(view.k);

  return (
    <Stack sx={{ flex: 1, minWidth: 0, minHeight: 0 }}>
      <svg
        ref={svg}
        role="application"
        aria-label={`${label}. Keys: f fit, 0 actual size, plus and minus zoom, drag to pan.`}
        tabIndex={0}
        onKeyDown={(event) => keys[event.key]?.()}
        onPointerMove={(event) => {
          const frame = event.currentTarget.getBoundingClientRect();
          setPointer(toMm(view, [event.clientX - frame.left, event.clientY - frame.top]));
        }}
        onPointerLeave={() => setPointer(null)}
        style={{ flex: 1, minHeight: 0, background: GROUND, cursor: "grab", touchAction: "none", width: "100%" }}
      >
        <g transform={`matrix(${view.k} 0 0 ${-view.k} ${view.x} ${view.y})`}>{children(view, size)}</g>
        <Ruler view={view} size={size} step={step} />
      </svg>
      <Stack direction="row" spacing={1} sx={{ alignItems: "center", px: 1, py: 0.5, bgcolor: "background.paper" }}>
        {tools}
        <Area sx={{ flex: 1 }} />
        <Typography variant="body2" sx={{ fontFamily: MONO, minWidth: 170 }} color="text.secondary">
          {pointer ? `${pointer[0].toFixed(1)}, ${pointer[1].toFixed(1)} mm` : ""}
        </Typography>
        <Typography variant="body2" sx={{ fontFamily: MONO }} aria-label="zoom">
          {((100 * view.k) / ACTUAL).toFixed(0)} %
        </Typography>
        <Button onClick={fitAll}>Fit</Button>
        <Button onClick={actual}>Actual size</Button>
      </Stack>
    </Stack>
  );
}

function Ruler({ view, size: [width, height], step }: { view: View; size: [number, number]; step: number }) {
  const [left, bottom] = toMm(view, [0, height]);
  const [right, top] = toMm(view, [width, 0]);
  const ticks = (from: number, to: number) => {
    const first = Math.ceil(from / step);
    return Array.from({ length: Math.max(0, Math.floor(to / step) - first + 1) }, (_, i) => (first + i) * step);
  };
  const digits = step < 1 ? 1 : 0;
  const text = { fontSize: 11, fontFamily: MONO, fill: "#333" };
  return (
    <g aria-hidden>
      <rect x={0} y={height - RULER} width={width} height={RULER} fill="#fff" />
      <rect x={0} y={0} width={RULER} height={height} fill="#fff" />
      {ticks(left, right).map((at) => (
        <g key={at} transform={`translate(${view.k * at + view.x} ${height})`}>
          <path d={`M0 ${-RULER}v7`} stroke="#333" />
          <text y={-4} x={3} {...text}>{at.toFixed(digits)}</text>
        </g>
      ))}
      {ticks(bottom, top).map((at) => (
        <g key={at} transform={`translate(0 ${view.y - view.k * at})`}>
          <path d={`M${RULER} 0h-7`} stroke="#333" />
          <text transform="rotate(-90)" x={3} y={12} {...text}>{at.toFixed(digits)}</text>
        </g>
      ))}
      <rect x={0} y={height - RULER} width={RULER} height={RULER} fill="#fff" />
      <text x={2} y={height - 7} {...text}>mm</text>
    </g>
  );
}
