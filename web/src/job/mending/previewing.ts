/** A mend that is looked at before it is done: one at a time for a job. */
import { createContext, useContext } from "react";
import type { Mend, Work } from "../../api/client";

export interface Looked {
  said: string;
  proof: Record<string, unknown>;
  places: [number, number, number, number][];
}

export interface Previewing {
  /** The mend that is looked at, or is being made for it; null for none. */
  mend: Mend | null;
  work: Work | null;
  /** What it came to, once it is there. */
  looked: Looked | null;
  /** The revision that it was made on. */
  revision: number;
  begin: (mend: Mend) => void;
  leave: () => void;
  carryOut: () => void;
  error: string;
}

export const PreviewContext = createContext<Previewing | null>(null);

/** The preview of the job on the screen; null where there is no stage to show it on. */
export const usePreviewing = () => useContext(PreviewContext);
