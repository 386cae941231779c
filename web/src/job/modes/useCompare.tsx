/** Before and after: two revisions over each other, with a divider. */
import { useCallback, useState } from "react";
import type { View } from "../../stage/geometry";
import { CompareBar, ComparedArt } from "./Compare";
import type { ModeInput, ModeView } from "./mode";

export function useCompare({ job, media }: ModeInput): ModeView {
  const [chosen, setChosen] = useState({ before: 1, after: 0, share: 0.5 });
  const { before, share } = chosen;
  const after = chosen.after || job.revision;
  const draw = useCallback(
    (view: View, size: [number, number]) => (
      <ComparedArt
        job={job}
        before={before}
        after={after}
        share={share}
        media={media}
        view={view}
        size={size}
      />
    ),
    [job, before, after, share, media],
  );
  const panel = (
    <CompareBar
      job={job}
      before={before}
      after={after}
      share={share}
      onChange={(next) => setChosen((old) => ({ ...old, ...next }))}
    />
  );
  return { draw, panel, ownLines: true };
}
