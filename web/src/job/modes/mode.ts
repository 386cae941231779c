/** What a mode of the stage is: a hook that says what is drawn below the lines, and what lies over the stage. */
import type { ReactNode } from "react";
import type { Job } from "../../api/client";
import type { Box, Point, View } from "../../stage/geometry";

export interface ModeInput {
  job: Job;
  /** The media box of the page, in mm. */
  media: Box;
  /** Whether the mode is the one that is shown; the others ask for nothing. */
  active: boolean;
  /** Whether the lines are looked at alone, without the art. */
  alone: boolean;
  /** View state that survives a reload: a value by its name, null for none. */
  get: (name: string) => string | null;
  set: (next: Record<string, string | null>) => void;
  /** Moves the stage to a place. */
  go: (at: Point) => void;
  /** Listens to where the pointer is. */
  hear: (listener: ((at: Point | null) => void) | null) => void;
}

export interface ModeView {
  draw: (view: View, size: [number, number]) => ReactNode;
  panel?: ReactNode;
  /** What stands in the docket instead, where there is much to read and to press. */
  aside?: ReactNode;
  /** Whether the mode shows the lines itself, so that none are drawn over it. */
  ownLines?: boolean;
  /** Hears of a press on the stage: where, and how near counts, in mm. */
  pick?: (at: Point, within: number) => void;
}

export const currentSha = (job: Job) => job.revisions.find((r) => r.current)?.sha256 ?? job.art_sha256;
