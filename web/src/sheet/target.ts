/** What is laid out: the copies of one job, or of several jobs that share a sheet; both are changed alike. */
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { useNavigate } from "react-router";
import { useJobChange, useNest } from "../api/changes";
import { useNestShared, useSharedChange } from "../api/sharedChanges";
import type { Job, JobChange, Layout, Shared, Sheet, Work, WayToFit } from "../api/client";
import { queries } from "../api/queries";
import { isRunning, useBusy, useWorkOf, useWorkOfShared } from "../api/progress";
import { artOf, type Source } from "../stage/Art";
import type { Box, Point } from "../stage/geometry";
import { boxOf } from "./hand";

/** The picture of what an item shows, and the part of the plane that it covers. */
export interface ItemArt {
  source: Source;
  media: Box;
}

export type LayoutChange = Partial<Omit<JobChange, "version">>;
export type Turn = "none" | "half" | "quarter" | "free";

export interface Target {
  sheets: Sheet[];
  layout: Layout;
  arts: ItemArt[];
  material: string;
  price: number | null;
  copies: number;
  error: string;
  known: boolean;
  busy: boolean;
  /** What nesting has found so far, while it runs. */
  nesting: Work | null;
  /** `done` hears when it was taken, `refused` when it was not. */
  change: {
    run: (change: LayoutChange, done?: () => void, refused?: () => void) => void;
    isPending: boolean;
    error: Error | null;
  };
  /** The bare media where nothing can be laid out on it. */
  bare: Sheet | null;
  /** By which changes it would fit. */
  fits: WayToFit[];
  /** The rectangles that are drawn in the art, round all copies, in mm on the sheet. */
  rectangles: Box[];
  nest: {
    run: (turn: Turn, gap: number | null, seconds: number) => void;
    isPending: boolean;
    error: Error | null;
  };
}

export const artOfJob = (job: { id: number; art_sha256: string; media_box_mm: number[] }): ItemArt => ({
  source: artOf(job.id, job.art_sha256),
  media: job.media_box_mm as Box,
});

/** Rectangles of the art where they lie on the sheet, each round those of all copies. */
export function onSheet(rectangles: Box[], sheet: Sheet): Box[] {
  if (!sheet.placements.length) return [];
  return rectangles.map(([x0, y0, x1, y1]) =>
    boxOf(
      sheet.placements.flatMap(([a = 1, b = 0, c = 0, d = 1, e = 0, f = 0]) =>
        [
          [x0, y0],
          [x1, y1],
        ].map(([x = 0, y = 0]): Point => [a * x + c * y + e, b * x + d * y + f]),
      ),
    ),
  );
}

const laid = (sheets: (Sheet | null)[]) => sheets.filter((sheet): sheet is Sheet => !!sheet && !sheet.error);

export function useJobTarget(job: Job): Target {
  const change = useJobChange(job.id);
  const nest = useNest(job.id);
  const work = useWorkOf(job);
  const arts = useMemo(() => [artOfJob(job)], [job]);
  const refused = job.sheet?.error ? job.sheet : null;
  const fits = useQuery(queries.fits(job));
  return {
    sheets: laid([job.sheet, ...job.more_sheets]),
    layout: job.layout,
    arts,
    material: job.material_id,
    price: job.price_m2,
    copies: job.order.quantity,
    error: job.sheet?.error ?? "",
    bare: refused?.width_mm ? refused : null,
    fits: refused ? (fits.data ?? []) : [],
    rectangles: job.sheet ? onSheet((job.seen?.rectangles ?? []) as Box[], job.sheet) : [],
    known: !!job.sheet,
    busy: useBusy(job),
    nesting: work?.kind === "nest" && isRunning(work) ? work : null,
    change: {
      run: (body, done, refused) =>
        change.mutate(body, { onSuccess: () => done?.(), onError: () => refused?.() }),
      isPending: change.isPending,
      error: change.error,
    },
    nest: {
      run: (turn, gap_mm, seconds) => nest.mutate({ turn, gap_mm, seconds }),
      isPending: nest.isPending,
      error: nest.error,
    },
  };
}

export function useSharedTarget(shared: Shared): Target {
  const change = useSharedChange(shared.id);
  const nest = useNestShared(shared.id);
  const work = useWorkOfShared(shared);
  const fits = useQuery(queries.fitsShared(shared));
  const arts = useMemo(() => shared.shares.map(({ job }) => artOfJob(job)), [shared.shares]);
  return {
    sheets: laid(shared.sheets),
    layout: shared.layout,
    arts,
    material: shared.material_id,
    price: shared.price_m2,
    copies: shared.shares.reduce((sum, share) => sum + share.quantity, 0),
    error: shared.error,
    bare: null,
    fits: shared.error ? (fits.data ?? []) : [],
    rectangles: [],
    known: shared.sheets.length > 0 || !!shared.error,
    busy: isRunning(work),
    nesting: work?.kind === "nest" && isRunning(work) ? work : null,
    change: {
      run: (body, done, refused) =>
        change.mutate(body, { onSuccess: () => done?.(), onError: () => refused?.() }),
      isPending: change.isPending,
      error: change.error,
    },
    nest: {
      run: (turn, gap_mm, seconds) => nest.mutate({ turn, gap_mm, seconds }),
      isPending: nest.isPending,
      error: nest.error,
    },
  };
}

/** Opens what several jobs share. */
export function useOpenShared() {
  const go = useNavigate();
  return (id: number) => void go(`/shared/${id}`);
}
