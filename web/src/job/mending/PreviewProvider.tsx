/** Holds the mend that is looked at beforehand, for the cards that begin it and the stage that shows it. */
import { useMemo, useState, type ReactNode } from "react";
import { useMend, usePreview } from "../../api/changes";
import type { Job, Mend } from "../../api/client";
import { useWork } from "../../api/progress";
import { PreviewContext, type Looked, type Previewing } from "./previewing";

export function PreviewProvider({ job, children }: { job: Job; children: ReactNode }) {
  const [asked, setAsked] = useState<{ mend: Mend; revision: number } | null>(null);
  const begun = usePreview(job.id);
  const mending = useMend(job.id);
  const work = useWork(begun.data?.id);
  // What was made on another revision is no preview any more.
  const holds = asked !== null && asked.revision === job.revision;
  const value = useMemo<Previewing>(() => {
    const leave = () => {
      setAsked(null);
      begun.reset();
    };
    const known = holds ? (work.data ?? begun.data ?? null) : null;
    return {
      mend: holds ? asked.mend : null,
      revision: asked?.revision ?? 0,
      work: known,
      looked: known?.state === "done" ? (known.result as unknown as Looked) : null,
      error: begun.error?.message ?? (known?.state === "failed" ? known.error : ""),
      begin: (mend) => {
        setAsked({ mend, revision: job.revision });
        begun.mutate(mend);
      },
      leave,
      carryOut: () => {
        if (asked) mending.mutate(asked.mend);
        leave();
      },
    };
  }, [asked, begun, holds, job.revision, mending, work.data]);
  return <PreviewContext.Provider value={value}>{children}</PreviewContext.Provider>;
}
