/** What the help shows: nothing, the place where one stands, or the entry of a finding or a refusal. */
import { createContext, use } from "react";

export interface Helping {
  /** null: closed; empty: of the place; else the id of a check or the code of a refusal. */
  entry: string | null;
  show: (entry: string | null) => void;
}

export const HelpContext = createContext<Helping>({ entry: null, show: () => {} });
export const useHelp = () => use(HelpContext);
