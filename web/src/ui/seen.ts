/** What an operator sees when the figure of a test cut is weeded. */
import type { SeenOutcome } from "../api/client";

export const SEEN: [SeenOutcome, string][] = [
  ["too-shallow", "Too shallow"],
  ["right", "Right"],
  ["into-the-liner", "Into the liner"],
  ["through", "Right through"],
];

/** What can be seen of a role: what parts everything cannot go too deep. */
export const seenOf = (role: string) =>
  ["through-cut", "perforation"].includes(role) ? SEEN.slice(0, 2) : SEEN;

/** The same in a sentence, as it is found at the figure. */
export const SEEN_WORDS: Record<SeenOutcome, string> = {
  "too-shallow": "the figure does not come away; the corners hang on.",
  right: "the figure comes away clean, and nothing behind it is cut.",
  "into-the-liner": "the figure comes away, and the liner is cut into.",
  through: "the figure falls out; it was not to.",
};
