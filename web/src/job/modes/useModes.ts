/** The modes of the stage, and the one that is shown. A new one is a hook in a file of its own and a row here. */
import type { ModeInput, ModeView } from "./mode";
import { useColour } from "./useColour";
import { useCompare } from "./useCompare";
import { useEdges } from "./useEdges";
import { useInks, useLoad } from "./useInks";
import { useLayers } from "./useLayers";
import { usePoint } from "./usePoint";
import { modes as say } from "../../texts/modes";

export const MODES = [
  ["colour", say.colour],
  ["inks", say.inks],
  ["load", say.inkLoad],
  ["layers", say.layers],
  ["compare", say.compare],
  ["edges", say.edge],
  ["point", say.point],
] as const;
export type Mode = (typeof MODES)[number][0];

export const modeOf = (said: string | null): Mode => MODES.find(([id]) => id === said)?.[0] ?? "colour";

export function useModes(mode: Mode, input: Omit<ModeInput, "active">): ModeView {
  const views: Record<Mode, ModeView> = {
    colour: useColour({ ...input, active: mode === "colour" }),
    inks: useInks({ ...input, active: mode === "inks" }),
    load: useLoad({ ...input, active: mode === "load" }),
    layers: useLayers({ ...input, active: mode === "layers" }),
    compare: useCompare({ ...input, active: mode === "compare" }),
    edges: useEdges({ ...input, active: mode === "edges" }),
    point: usePoint({ ...input, active: mode === "point" }),
  };
  return views[mode];
}
