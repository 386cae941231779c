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
    const { behaviour: made, stop } = zooming(at, most, {
      isHeld: () => held.current,
      drawn: () => shown.current,
      seen: (view) => {
        fitted.current = null;
        setLive(view);
      },
      shift: (by) => {
        if (moved.current) moved.current.style.transform = by;
      },
      draw: (view) => {
        shown.current = view;
        setDrawn(view);
      },
    });
    behaviour.current = made;
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setSize([entry.contentRect.width, entry.contentRect.height]);
    });
    watch.observe(at);
    return () => {
      watch.disconnect();
      stop();
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

interface Zoomed {
  isHeld: () => boolean;
  /** The view that was drawn last. */
  drawn: () => View;
  /** Hears of every view while the hand moves. */
  seen: (view: View) => void;
  /** Shifts and scales what was drawn as a whole. */
  shift: (by: string) => void;
  draw: (view: View) => void;
}

/** Lets wheel and hand zoom and pan an element. A shift that is too far, and the end of a move, are drawn anew. */
function zooming(at: HTMLDivElement, most: number, on: Zoomed) {
  let timer = 0;
  const viewOf = ({ k, x, y }: View): View => ({ k, x, y });
  const moving = ({ transform, sourceEvent }: { transform: View; sourceEvent?: MouseEvent | null }) => {
    const view = viewOf(transform);
    const base = on.drawn();
    const s = view.k / base.k;
    const frame = at.getBoundingClientRect();
    const far =
      Math.abs(view.x - base.x) > MOST_SHIFT * frame.width ||
      Math.abs(view.y - base.y) > MOST_SHIFT * frame.height;
    window.clearTimeout(timer);
    on.seen(view);
    if ((far && Math.abs(s - 1) < 1e-9) || s > 3 || s < 0.4) return on.draw(view);
    on.shift(`translate(${view.x - s * base.x}px,${view.y - s * base.y}px) scale(${s})`);
    // A hand that drags stops when it lets go; a wheel or a key when nothing more comes.
    if (!sourceEvent?.buttons) timer = window.setTimeout(() => on.draw(view), STILL_MS);
  };
  const behaviour = zoom<HTMLDivElement, unknown>()
    .filter(
      (event: MouseEvent) =>
        !event.button &&
        (event.type === "wheel" || !on.isHeld()) &&
        !(event.target as Element).closest(event.type === "wheel" ? "div[data-over]" : "[data-over]"),
    )
    .scaleExtent([0.002, most])
    .on("zoom", moving)
    .on("end", ({ transform }: { transform: View }) => {
      const [view, base] = [viewOf(transform), on.drawn()];
      if (view.k !== base.k || view.x !== base.x || view.y !== base.y) {
        window.clearTimeout(timer);
        on.draw(view);
      }
    });
  select(at).call(behaviour).on("dblclick.zoom", null);
  return { behaviour, stop: () => window.clearTimeout(timer) };
}

/** Where the pointer is, in mm. */
export function pointAt(view: View, element: Element, event: { clientX: number; clientY: number }): Point {
  const frame = element.getBoundingClientRect();
  return toMm(view, [event.clientX - frame.left, event.clientY - frame.top]);
}
