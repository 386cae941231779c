/** What every place is for, what is done there most often, its keys, and the words that it uses. For the first week. */
import { stationAt, type Station } from "../job/stations/names";

export interface Place {
  title: string;
  is: string;
  /** The commonest case, step by step. */
  first: string[];
  keys: [string, string][];
  /** Words as the glossary has them. */
  words: string[];
}

const STAGE: [string, string][] = [
  ["f", "all in view"],
  ["0", "actual size"],
  ["+  −", "nearer, further"],
  ["arrows", "move the view"],
  ["t", "tape: measure from place to place"],
  ["u", "mm or inches"],
  ["Esc", "put the tool away"],
];

/** The stations of a job, and the places beside them. */
export type PlaceName = Station | "desk" | "bench" | "shelf" | "shared";

export const PLACES: Record<PlaceName, Place> = {
  desk: {
    title: "Desk",
    is: "All jobs, what each waits for in words, and the way in for new files.",
    first: [
      "Drop a file anywhere, or a whole folder. One file opens by itself.",
      "If it asks something, the question stands on its row. Open it and answer.",
      "Work from the top: what is due first stands first.",
    ],
    keys: [],
    words: ["artwork", "stop, look, note", "line role"],
  },
  check: {
    title: "Check",
    is: "What was measured on the artwork, against the limits of the shop, and what can be mended.",
    first: [
      "Press “Mend all that is safe”. It says before what it would do, and can be undone.",
      "Go through the stops that are left with n; each shows its place, the value and the limit.",
      "Press the mend that stands first on the card, or “Look first” to see before and after.",
      "What only the customer can put right goes into the letter.",
      "What may stay as it is: say why, and accept it.",
    ],
    keys: [
      ["n", "next finding"],
      ["p", "the one before"],
      ["1 to 7", "what the stage shows"],
      ["c", "cut open"],
      ...STAGE,
    ],
    words: [
      "stop, look, note",
      "mend",
      "decision",
      "near miss",
      "bleed",
      "border",
      "tolerance",
      "ink load, total area coverage",
      "knocks out, overprints",
      "spot colour, ink",
    ],
  },
  lines: {
    title: "Lines",
    is: "The inks and lines of the file, each with what it is, and the place where lines are made.",
    first: [
      "Press “Make lines”. A line is shown at once, as the order asks for it.",
      "Change the words of the sentence: how far outside, how corners run, which inner contours are cut.",
      "Press an inner contour on the stage to cut it or to leave it out.",
      "Press “Make”. The file of before stays as a revision.",
    ],
    keys: [["c", "cut open along a line"], ...STAGE],
    words: ["line", "line role", "kiss cut", "through cut", "perforation", "back cut", "crease", "revision"],
  },
  sheet: {
    title: "Sheet",
    is: "How the copies lie on what is loaded, with the marks that the cutter looks for.",
    first: [
      "Choose what is loaded. Everything that you set is laid out at once, and can be undone.",
      "If it does not fit, it says what takes the room, and offers what would fit.",
      "“Nest” packs copies by their outline; “Place copies by hand” moves single ones.",
    ],
    keys: [
      ["r", "by hand: turn a quarter"],
      ["arrows", "by hand: move by 1 mm, with Shift by 10"],
      ["a", "by hand: choose all"],
      ...STAGE,
    ],
    words: ["bleed", "misregistration", "tolerance"],
  },
  cut: {
    title: "Cut",
    is: "In which order and with which tool the cutter works, and how long it takes.",
    first: [
      "Look at the strip: each colour is one tool over the sheet, hatched is a pause for a person.",
      "Set force and speed where the material wants it; the shop's own setting is taken otherwise.",
      "Switch off what is not to be cut today.",
    ],
    keys: [["← →", "on the strip: go through the cut"], ...STAGE],
    words: ["kiss cut", "through cut", "perforation", "back cut"],
  },
  release: {
    title: "Release",
    is: "Writes the print file for the RIP, the cut file for the cutter and the ticket, and reads them back.",
    first: [
      "If stops are open it says which. Mend them, or let them pass with a reason.",
      "Rehearse, if the edge is tight: so many loads are printed and cut on simulated machines.",
      "Press “Release”, then “Go to the bench”.",
    ],
    keys: STAGE,
    words: ["stop, look, note", "decision", "misregistration"],
  },
  stack: {
    title: "Stack of fabric",
    is: "Layers of fabric that are cut one on the other and sewn down.",
    first: [
      "Choose how many layers.",
      "Set fabric and offset of each.",
      "Write the stack: cutter and sewing machine get their files.",
    ],
    keys: STAGE,
    words: ["stack", "placement line", "tack-down", "satin", "underlay", "pull allowance"],
  },
  shared: {
    title: "Shared sheet",
    is: "One sheet for several jobs, so that little media is left over.",
    first: [
      "Put jobs that would fit on the sheet.",
      "Say how many of each.",
      "Release the sheet: all its jobs go with it.",
    ],
    keys: STAGE,
    words: ["bleed", "misregistration"],
  },
  bench: {
    title: "Bench",
    is: "The machines: what waits, what is printed and dries, what is cut.",
    first: [
      "Print it: choose the hot folder, then look at the sheet and at each plate.",
      "When it is dry, load it: the camera looks for the marks and says how the sheet lies.",
      "Press “Cut it”. The cut can be stopped, and goes on from there.",
    ],
    keys: [["arrows", "jog by the step that is shown"], ["[  ]", "a smaller, a larger step"], ...STAGE],
    words: ["plate", "misregistration"],
  },
  shelf: {
    title: "Shelf",
    is: "What the shop knows once for all jobs: destinations, media, tools, checks, recipes.",
    first: ["Choose a page on the left.", "What you change has a version, and who changed it and why."],
    keys: [],
    words: ["check sheet", "mend"],
  },
};

/** Which place an address is. */
export function placeAt(path: string): PlaceName {
  const [, first = "", , station = "check"] = path.split("/");
  if (first === "jobs") return stationAt(station) ?? "check";
  return first === "bench" || first === "shelf" || first === "shared" ? first : "desk";
}
