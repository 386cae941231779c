/** The pages of the Shelf, in groups: a page for each kind of thing, and those of the shop as a whole. */
import type { KindId } from "../api/client";

export interface Place {
  /** In the address. */
  name: string;
  words: string;
  kind?: KindId;
}

const of = (kind: KindId, words: string): Place => ({ name: kind, words, kind });

export const GROUPS: readonly (readonly [string, readonly Place[]])[] = [
  [
    "Where jobs go",
    [
      of("destination", "Destinations"),
      of("printer", "Printers"),
      of("cutter", "Cutters"),
      of("marks", "Mark settings"),
    ],
  ],
  [
    "What they are made of",
    [
      of("material", "Materials"),
      { name: "media", words: "Rolls and sheets" },
      of("fabric", "Fabrics"),
      of("thread", "Threads"),
    ],
  ],
  [
    "How they are made",
    [
      of("check-sheet", "Check sheets"),
      of("recipe", "Recipes"),
      of("lines", "Line presets"),
      of("tool", "Tool settings"),
      of("holder", "Holders"),
      of("perforation", "Perforations"),
    ],
  ],
  [
    "Whom they are for",
    [of("customer", "Customers"), of("letter", "Letters"), of("file-names", "Name patterns")],
  ],
  [
    "The shop",
    [
      { name: "shop", words: "Shop, and moving it" },
      { name: "people", words: "People" },
      { name: "log", words: "Log" },
    ],
  ],
];

const PLACES = GROUPS.flatMap(([, places]) => places);
/** Names that pages had before, in addresses that people have kept. */
const BEFORE: Record<string, string> = {
  destinations: "destination",
  tools: "tool",
  checks: "check-sheet",
  recipes: "recipe",
};
export const placeOf = (name: string): Place | undefined =>
  PLACES.find((one) => one.name === (BEFORE[name] ?? name));
export const wordsOf = (kind: KindId): string => PLACES.find((one) => one.kind === kind)?.words ?? kind;
