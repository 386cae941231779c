/** The pages of the Shelf, in groups: a page for each kind of thing, and those of the shop as a whole. */
import type { KindId } from "../api/client";
import { shelf as say } from "../texts/shelf";

export interface Place {
  /** In the address. */
  name: string;
  words: string;
  kind?: KindId;
}

const of = (kind: KindId, words: string): Place => ({ name: kind, words, kind });

export const GROUPS: readonly (readonly [string, readonly Place[]])[] = [
  [
    say.whereJobsGo,
    [
      of("destination", say.destinations),
      of("printer", say.printers),
      of("cutter", say.cutters),
      of("marks", say.markSettings),
    ],
  ],
  [
    say.whatTheyAreMadeOf,
    [
      of("material", say.materials),
      { name: "media", words: say.rollsAndSheets },
      of("fabric", say.fabrics),
      of("thread", say.threads),
    ],
  ],
  [
    say.howTheyAreMade,
    [
      of("check-sheet", say.checkSheets),
      of("recipe", say.recipes),
      of("lines", say.linePresets),
      of("tool", say.toolSettings),
      of("holder", say.holders),
      of("perforation", say.perforations),
    ],
  ],
  [
    say.whomTheyAreFor,
    [
      of("customer", say.customers),
      of("letter", say.letters),
      of("file-names", say.namePatterns),
      of("watched", say.watchedFolders),
    ],
  ],
  [
    say.theShop,
    [
      { name: "shop", words: say.shopAndMovingIt },
      { name: "people", words: say.people },
      { name: "log", words: say.log },
      { name: "running", words: say.whatRuns },
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
