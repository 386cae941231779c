/** The stage with the sheets of a job, and what stands there while there is none. */
import { Typography } from "@mui/material";
import { useMemo, useState } from "react";
import type { Job, Sheet } from "../../api/client";
import { useBusy } from "../../api/progress";
import { BladeWay } from "../../cut/BladeWay";
import { HeadShown, Numbers } from "../../cut/OnSheet";
import type { Head } from "../../cut/time";
import { MediaLook } from "../../sheet/MediaLook";
import { Pager } from "../../sheet/Pager";
import { manyCopies, NO_SHEET } from "../../sheet/SheetPanel";
import { SheetView } from "../../sheet/SheetView";
import { artOfJob } from "../../sheet/target";
import { Stage } from "../../stage/Stage";
import { stations as say } from "../../texts/stations";

interface Props {
  job: Job;
  label: string;
  /** The cut whose beginnings and blade are shown over it. */
  cut?: NonNullable<Job["cut"]>;
  /** Where the head is at the moment that is pointed to. */
  head?: Head | null;
  /** Hears which sheet is shown, from 0. */
  onShown?: (index: number) => void;
}

export function SheetStage({ job, label, cut, head, onShown }: Props) {
  const sheets = [job.sheet, ...job.more_sheets].filter((one): one is Sheet => !!one && !one.error);
  const [wanted, setWanted] = useState(0);
  const shown = Math.min(wanted, Math.max(sheets.length - 1, 0));
  const sheet = sheets[shown];
  const arts = useMemo(() => [artOfJob(job)], [job]);
  const canvas = useMemo(() => manyCopies(sheet, arts), [sheet, arts]);
  const show = (next: number) => {
    setWanted(next);
    onShown?.(next);
  };
  return (
    <Stage
      bounds={sheet ? [0, 0, sheet.width_mm, sheet.length_mm] : NO_SHEET}
      label={label}
      canvas={canvas}
      onTop={(view) =>
        head && sheet && <HeadShown head={head} view={view} width={sheet.width_mm} flipped={sheet.mirrored} />
      }
      tools={<Pager count={sheets.length} shown={shown + 1} onShow={(next) => show(next - 1)} />}
    >
      {(view) =>
        sheet && (
          <>
            <SheetView sheet={sheet} arts={arts} />
            <MediaLook sheet={sheet} view={view} />
            {cut && <BladeWay cut={cut} view={view} width={sheet.width_mm} flipped={sheet.mirrored} />}
            {cut && <Numbers sheet={sheet} view={view} />}
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
      {busy ? say.theFileIsStillBeing : say.notKnownTheFileWas}
    </Typography>
  );
}
