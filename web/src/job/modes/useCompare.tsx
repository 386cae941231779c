/** Before and after: two revisions over each other, with a divider. */
import { useCallback, useState } from "react";
import { usePreviewing } from "../mending/previewing";
import type { View } from "../../stage/geometry";
import { CompareBar, ComparedArt } from "./Compare";
import type { ModeInput, ModeView } from "./mode";

export function useCompare({ job, media, get, set }: ModeInput): ModeView {
  const [share, setShare] = useState(0.5);
  const [apart, setApart] = useState(false);
  const previewing = usePreviewing();
  const preview = previewing?.looked ? (previewing.work?.id ?? 0) : 0;
  const named = (name: string) => job.revisions.find((r) => r.number === Number(get(name)))?.number;
  const before = preview ? job.revision : (named("before") ?? job.revisions[0]?.number ?? 1);
  const after = named("after") ?? job.revision;
  const draw = useCallback(
    (view: View, size: [number, number]) => (
      <ComparedArt
        job={job}
        before={before}
        after={after}
        preview={preview}
        apart={apart}
        share={share}
        media={media}
        view={view}
        size={size}
      />
    ),
    [job, before, after, preview, apart, share, media],
  );
  const panel = (
    <CompareBar
      job={job}
      before={before}
      after={after}
      preview={preview}
      apart={apart}
      share={share}
      onChange={(next) => {
        if (next.share !== undefined) setShare(next.share);
        if (next.apart !== undefined) setApart(next.apart);
        if (next.before !== undefined) set({ before: String(next.before) });
        if (next.after !== undefined) set({ after: String(next.after) });
      }}
    />
  );
  return { draw, panel, ownLines: true };
}
