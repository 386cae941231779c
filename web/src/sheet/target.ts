/** What is laid out: the copies of one job, or of several jobs that share a sheet; both are changed alike. */
import { useMemo } from "react";
import { useNavigate } from "react-router";
import { useJobChange, useNest } from "../api/changes";
import { useNestShared, useSharedChange } from "../api/sharedChanges";
import type { Job, JobChange, Shared, Sheet, Work } from "../api/client";
import { isRunning, useBusy, useWorkOf, useWorkOfShared } from "../api/progress";
import { artOf, type Source } from "../stage/Art";
import type { Box } from "../stage/geometry";

/** The picture of what an item shows, and the part of the plane that it covers. */
export interface ItemArt {
  source: Source;
  media: Box;
}

export type LayoutChange = Partial<Omit<JobChange, "version">>;
export type Turn = "none" | "half" | "quarter" | "free";

export interface Target {
  sheets: Sheet[];
  layout: Record<string, unknown>;
  arts: ItemArt[];
  material: string;
  price: number | null;
  copies: number;
  error: string;
  known: boolean;
  busy: boolean;
  /** What nesting has found so far, while it runs. */
  nesting: Work | null;
  /** `done` hears when it was taken; where it was refused, it never does. */
  change: { run: (change: LayoutChange, done?: () => void) => void; isPending: boolean; error: Error | null };
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

const laid = (sheets: (Sheet | null)[]) => sheets.filter((sheet): sheet is Sheet => !!sheet && !sheet.error);

export function useJobTarget(job: Job): Target {
  const change = useJobChange(job.id);
  const nest = useNest(job.id);
  const work = useWorkOf(job);
  const arts = useMemo(() => [artOfJob(job)], [job]);
  return {
    sheets: laid([job.sheet, ...job.more_sheets]),
    layout: job.layout,
    arts,
    material: job.material_id,
    price: job.price_m2,
    copies: job.order.quantity,
    error: job.sheet?.error ?? "",
    known: !!job.sheet,
    busy: useBusy(job),
    nesting: work?.kind === "nest" && isRunning(work) ? work : null,
    change: {
      run: (body, done) => change.mutate(body, { onSuccess: () => done?.() }),
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
  const arts = useMemo(() => shared.shares.map(({ job }) => artOfJob(job)), [shared.shares]);
  return {
    sheets: laid(shared.sheets),
    layout: shared.layout,
    arts,
    material: shared.material_id,
    price: shared.price_m2,
    copies: shared.shares.reduce((sum, share) => sum + share.quantity, 0),
    error: shared.error,
    known: shared.sheets.length > 0 || !!shared.error,
    busy: isRunning(work),
    nesting: work?.kind === "nest" && isRunning(work) ? work : null,
    change: {
      run: (body, done) => change.mutate(body, { onSuccess: () => done?.() }),
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
