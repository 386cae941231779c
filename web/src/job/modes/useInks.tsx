/** One plate or several, or the ink load as heat, with the amounts under the pointer. */
import { useCallback, useMemo } from "react";
import { Picture } from "../../stage/Art";
import { MM_PER_INCH, type Box, type View } from "../../stage/geometry";
import { InkPanel } from "./InkPanel";
import type { ModeInput, ModeView } from "./mode";

function usePlates({ job, get, set, go, hear }: ModeInput, heat: boolean): ModeView {
  const plates = job.plates;
  const said = get("inks");
  const chosen = useMemo(() => (said === null ? null : said.split(",").map(Number)), [said]);
  const draw = useCallback(
    (view: View) => {
      if (!plates) return null;
      const inks = heat ? "" : (chosen ?? []).join(",");
      const query = `mode=${heat ? "heat" : "ink"}&inks=${inks}&of=${plates.sha256.slice(0, 12)}`;
      return (
        <Picture
          key={plates.sha256}
          box={plates.box as Box}
          sharp={view.k * MM_PER_INCH > plates.ppi * 2}
          href={`/api/jobs/${job.id}/plates?${query}`}
        />
      );
    },
    [job.id, plates, heat, chosen],
  );
  const panel = (
    <InkPanel
      job={job}
      chosen={chosen}
      heat={heat}
      hear={hear}
      onChoose={(next) => set({ inks: next ? next.join(",") : null })}
      onGo={go}
    />
  );
  return { draw, panel };
}

export const useInks = (input: ModeInput): ModeView => usePlates(input, false);
export const useLoad = (input: ModeInput): ModeView => usePlates(input, true);
