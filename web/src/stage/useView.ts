/**
 * The hand on the stage. While it moves, what was drawn is only shifted and scaled as a whole; it is
 * drawn anew when the hand stops, so that panning stays smooth however heavy the lines are.
 */
import { select } from "d3-selection";
import { zoom, zoomIdentity, type ZoomBehavior } from "d3-zoom";
import { useCallback, useEffect, useRef, useState, type RefObject } from "react";
import { fit, grow, toMm, type Box, type Point, type View } from "./geometry";

export const RULER = 22;
const STILL_MS = 40;
const MOST_SHIFT = 0.22;
const beside = (view: View): View => ({ ...view, x: view.x + RULER });

export interface Hand {
  /** What is drawn, and what is seen while the hand moves. */
  drawn: View;
  live: View;
  size: [number, number];
  show: (next: View) => void;
  fitAll: () => void;
  zoomBy: (factor: number) => void;
  panBy: (dx: number, dy: number) => void;
  actual: (pixelsPerMm: number) => void;
  goTo: (box: Box) => void;
  element: RefObject<HTMLDivElement | null>;
  moved: RefObject<HTMLDivElement | null>;
}

/**
 * ``most`` is the finest scale in pixels to the mm; a frozen hand zooms but does not pan by dragging; ``opens`` is what
 * is shown first.
 */
export function useView(bounds: Box, most: number, frozen: boolean, opens?: Box): Hand {
  const element = useRef<HTMLDivElement>(null);
  const moved = useRef<HTMLDivElement>(null);
  const behaviour = useRef<ZoomBehavior<HTMLDivElement, unknown> | null>(null);
  const timer = useRef<number>(0);
  const held = useRef(frozen);
  const shown = useRef<View>({ k: 1, x: 0, y: 0 });
  const [size, setSize] = useState<[number, number]>([800, 600]);
  const [drawn, setDrawn] = useState<View>({ k: 1, x: 0, y: 0 });
  const [live, setLive] = useState<View>({ k: 1, x: 0, y: 0 });
  const [x0, y0, x1, y1] = bounds;

  const show = useCallback((next: View) => {
    if (element.current && behaviour.current)
      select(element.current).call(
        behaviour.current.transform,
        zoomIdentity.translate(next.x, next.y).scale(next.k),
      );
  }, []);
  // What is in view: all, or what is shown first; it stays so when the room for it changes. Where a person looks
  // closer, that stays.
  const fitted = useRef<"all" | "first" | null>("first");
  const [f0, f1, f2, f3] = opens ?? bounds;
  const fitFirst = useCallback(() => {
    show(beside(fit([f0, f1, f2, f3], size[0] - RULER, size[1] - RULER)));
    fitted.current = "first";
  }, [show, f0, f1, f2, f3, size]);
  const fitAll = useCallback(() => {
    show(beside(fit([x0, y0, x1, y1], size[0] - RULER, size[1] - RULER)));
    fitted.current = "all";
  }, [show, x0, y0, x1, y1, size]);

  useEffect(() => {
    const at = element.current;
    if (!at) return;
    const draw = (view: View) => {
      shown.current = view;
      setDrawn(view);
    };
    behaviour.current = zoom<HTMLDivElement, unknown>()
      .filter(
        (event: MouseEvent) =>
          !event.button &&
          (event.type === "wheel" || !held.current) &&
          !(event.target as Element).closest(event.type === "wheel" ? "div[data-over]" : "[data-over]"),
      )
      .scaleExtent([0.002, most])
      .on(
        "zoom",
        ({
          transform,
          sourceEvent,
        }: {
          transform: { k: number; x: number; y: number };
          sourceEvent?: MouseEvent | null;
        }) => {
          const view = { k: transform.k, x: transform.x, y: transform.y };
          const base = shown.current;
          fitted.current = null;
          const s = view.k / base.k;
          const [dx, dy] = [view.x - s * base.x, view.y - s * base.y];
          const frame = at.getBoundingClientRect();
          const far =
            Math.abs(view.x - base.x) > MOST_SHIFT * frame.width ||
            Math.abs(view.y - base.y) > MOST_SHIFT * frame.height;
          window.clearTimeout(timer.current);
          setLive(view);
          if ((far && Math.abs(s - 1) < 1e-9) || s > 3 || s < 0.4) return draw(view);
          if (moved.current) moved.current.style.transform = `translate(${dx}px,${dy}px) scale(${s})`;
          // A hand that drags stops when it lets go; a wheel or a key when nothing more comes.
          if (!sourceEvent?.buttons) timer.current = window.setTimeout(() => draw(view), STILL_MS);
        },
      )
      .on("end", ({ transform }: { transform: { k: number; x: number; y: number } }) => {
        const view = { k: transform.k, x: transform.x, y: transform.y };
        if (view.k !== shown.current.k || view.x !== shown.current.x || view.y !== shown.current.y) {
          window.clearTimeout(timer.current);
          draw(view);
        }
      });
    select(at).call(behaviour.current).on("dblclick.zoom", null);
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setSize([entry.contentRect.width, entry.contentRect.height]);
    });
    watch.observe(at);
    return () => {
      watch.disconnect();
      window.clearTimeout(timer.current);
    };
  }, [most]);
  useEffect(() => {
    held.current = frozen;
  }, [frozen]);
  useEffect(() => {
    if (moved.current) moved.current.style.transform = "";
  }, [drawn]);
  const last = useRef("");
  useEffect(() => {
    const page = [x0, y0, x1, y1].join();
    if (fitted.current === "first" || page !== last.current) fitFirst();
    else if (fitted.current === "all") fitAll();
    last.current = page;
  }, [fitAll, fitFirst, x0, y0, x1, y1]);

  return {
    drawn,
    live,
    size,
    show,
    fitAll,
    element,
    moved,
    zoomBy: (factor) => {
      if (element.current && behaviour.current)
        select(element.current).call(behaviour.current.scaleBy, factor);
    },
    panBy: (dx, dy) => show({ ...live, x: live.x + dx, y: live.y + dy }),
    actual: (k) => {
      const [cx, cy] = toMm(live, [size[0] / 2, size[1] / 2]);
      show({ k, x: size[0] / 2 - k * cx, y: size[1] / 2 + k * cy });
    },
    goTo: (box) => {
      const room = Math.min(Math.max(box[2] - box[0], box[3] - box[1], 8) * 0.6, 20);
      show(beside(fit(grow(box, room), size[0] - RULER, size[1] - RULER)));
    },
  };
}

/** Where the pointer is, in mm. */
export function pointAt(view: View, element: Element, event: { clientX: number; clientY: number }): Point {
  const frame = element.getBoundingClientRect();
  return toMm(view, [event.clientX - frame.left, event.clientY - frame.top]);
}
