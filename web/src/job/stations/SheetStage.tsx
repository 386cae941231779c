/** The stage with a job's sheet, and what stands there while there is none. */
import { Typography } from "@mui/material";
import type { ReactNode } from "react";
import type { Job } from "../../api/client";
import { useBusy } from "../../api/progress";
import { Stage } from "../../stage/Stage";
import type { Box } from "../../stage/geometry";
import { SheetView } from "./SheetView";

const NO_SHEET: Box = [0, 0, 1000, 600];

interface Props {
  job: Job;
  label: string;
  /** What lies on the sheet beside what it holds. */
  children?: ReactNode;
}

export function SheetStage({ job, label, children }: Props) {
  const sheet = job.sheet && !job.sheet.error ? job.sheet : null;
  return (
    <Stage bounds={sheet ? [0, 0, sheet.width_mm, sheet.length_mm] : NO_SHEET} label={label}>
      {() =>
        sheet && (
          <>
            <SheetView job={job} sheet={sheet} />
            {children}
          </>
        )
      }
    </Stage>
  );
}

/** While something is not known, its place says so. */
export function NotYet({ job }: { job: Job }) {
  const busy = useBusy(job);
  return (
    <Typography variant="body2" color="text.secondary">
      {busy
        ? "The file is still being looked at; this comes with the check."
        : "Not known: the file was not checked."}
    </Typography>
  );
}
