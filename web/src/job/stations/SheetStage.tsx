/** The stage with the sheets of a job, and what stands there while there is none. */
import { Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { Job, Sheet } from "../../api/client";
import { useBusy } from "../../api/progress";
import { MediaLook } from "../../sheet/MediaLook";
import { manyCopies, NO_SHEET } from "../../sheet/SheetPanel";
import { SheetView } from "../../sheet/SheetView";
import { artOfJob } from "../../sheet/target";
import { Stage } from "../../stage/Stage";

interface Props {
  job: Job;
  label: string;
  /** Hears which sheet is shown, from 0. */
  onShown?: (index: number) => void;
}

export function SheetStage({ job, label, onShown }: Props) {
  const sheets = [job.sheet, ...job.more_sheets].filter((one): one is Sheet => !!one && !one.error);
  const [wanted, setWanted] = useState(0);
  const shown = Math.min(wanted, Math.max(sheets.length - 1, 0));
  const sheet = sheets[shown];
  const show = (next: number) => {
    setWanted(next);
    onShown?.(next);
  };
  return (
    <Stage
      bounds={sheet ? [0, 0, sheet.width_mm, sheet.length_mm] : NO_SHEET}
      label={label}
      canvas={manyCopies(sheet, [artOfJob(job)])}
      tools={
        sheets.length > 1 && (
          <Stack direction="row" sx={{ alignItems: "center" }}>
            <Button disabled={!shown} onClick={() => show(shown - 1)} aria-label="the sheet before">
              ‹
            </Button>
            <Typography variant="body2">
              Sheet {shown + 1} of {sheets.length}
            </Typography>
            <Button
              disabled={shown === sheets.length - 1}
              onClick={() => show(shown + 1)}
              aria-label="the next sheet"
            >
              ›
            </Button>
          </Stack>
        )
      }
    >
      {(view) =>
        sheet && (
          <>
            <SheetView sheet={sheet} arts={[artOfJob(job)]} />
            <MediaLook sheet={sheet} view={view} />
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
