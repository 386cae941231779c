/** What an operator sees when the figure of a test cut is weeded. */
import type { SeenOutcome } from "../api/client";
import { common } from "../texts/common";
import { ui as say } from "../texts/ui";

export const SEEN: [SeenOutcome, string][] = [
  ["too-shallow", say.tooShallow],
  ["right", common.right],
  ["into-the-liner", say.intoTheLiner],
  ["through", say.rightThrough],
];

/** What can be seen of a role: what parts everything cannot go too deep. */
export const seenOf = (role: string) =>
  ["through-cut", "perforation"].includes(role) ? SEEN.slice(0, 2) : SEEN;

/** The same in a sentence, as it is found at the figure. */
export const SEEN_WORDS: Record<SeenOutcome, string> = {
  "too-shallow": say.theFigureDoesNotCome,
  right: say.theFigureComesAwayClean,
  "into-the-liner": say.theFigureComesAwayAnd,
  through: say.theFigureFallsOutIt,
};
