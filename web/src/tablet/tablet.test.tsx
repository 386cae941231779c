// @vitest-environment jsdom
/** The tablet beside the cutter: one step at a time, what is said of it, and what is asked of whoever stands there. */
import { screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { AtCutter } from "../api/client";
import { aBed, aRelease, aSheet } from "../testing/bench";
import { answer, asked } from "../testing/server";
import { show } from "../testing/show";
import { AtSheet } from "./AtSheet";
import { ReadCode } from "./ReadCode";

type Sheet = ReturnType<typeof aSheet>;

const at = (sheet: Partial<Sheet>, values: Partial<AtCutter> = {}): AtCutter => ({
  release: aRelease({ code: "S1-AB", sheet: aSheet({ done: [1, 2, 3, 4], ...sheet }) }),
  code: "S1-AB",
  material: "White film",
  kept_at: "rack 4",
  mirrored: false,
  leader_mm: 100,
  marks: 2,
  tools: [
    {
      role: "kiss-cut",
      side: "front",
      tool: 1,
      force_gf: 90,
      speed_mm_s: 400,
      passes: 1,
      tested: "",
      aligning: false,
    },
  ],
  pauses: [{ before: 2, words: "Put tool 3 into the holder." }],
  pieces: [1, 2, 3, 4].map((number) => ({ number, bounds: [number * 50, 10, number * 50 + 40, 50] })),
  look_out: [],
  time_s: 90,
  ...values,
});

const { aligned } = aBed();
const bed = aBed({ aligned: aligned && { ...aligned, trouble: "" } });
const RUN = {
  moves: [],
  stops: [],
  landed: true,
  total_s: 90,
  cut_mm: 1,
  travel_mm: 1,
  width_mm: 600,
  length_mm: 300,
  operations: [],
  pieces: [1, 2, 3, 4].map((number) => ({ number, at_s: number * 20 })),
};
const here = (values: AtCutter, answers: Record<string, unknown> = {}) => {
  answer({
    "GET /api/bench/5/bed": bed,
    "GET /api/bench/5/play": RUN,
    "GET /api/bench": [],
    "GET /api/works": [],
    ...answers,
  });
  return show(<AtSheet at={values} />);
};
const sent = (to: string) => asked.filter((one) => one.to === to).at(-1)?.body;
const step = () => document.querySelector("[aria-current=step]")?.textContent;

describe("a sheet at the cutter", () => {
  it("says why it is not loaded yet, and takes a reason", async () => {
    const values = at({ waits_for: "drying" });
    const person = here(values, { "POST /api/queues/cutter/3/early": { rip: [], cutter: [] } });
    expect(screen.getByText(/^Wet until/)).toBeTruthy();
    await person.type(screen.getByLabelText("Why it need not dry"), "a sample");
    await person.click(screen.getByRole("button", { name: "Do not wait" }));
    await waitFor(() => expect(sent("POST /api/queues/cutter/3/early")).toEqual({ reason: "a sample" }));
  });

  it.each([
    [{ held: true }, "It is held in the queue."],
    [{ waits_for: "print" }, "It is not printed yet."],
    [{ waits_for: "laminating" }, "Laminate it first"],
    [{ refused: "Mark 2 lies off the media." }, "Mark 2 lies off the media."],
  ] as const)("%o is not loaded", (sheet, words) => {
    here(at(sheet as Partial<Sheet>));
    expect(screen.getByText(words)).toBeTruthy();
    expect(screen.queryByRole("button", { name: "It is loaded" })).toBeNull();
  });

  it("shows the edge that goes in first, and where its roll is", async () => {
    const person = here(at({}), { "POST /api/bench/5/load": bed });
    expect(screen.getByText(/This edge goes in first/)).toBeTruthy();
    expect(screen.getByText(/White film, from rack 4/)).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "It is loaded" }));
    await waitFor(() => expect(sent("POST /api/bench/5/load")).toMatchObject({ side: "front" }));
  });

  it("goes from tools to marks to the cut as they are said to be done", async () => {
    const said = { "POST /api/bench/5/marks-said": at({ stage: "loaded" }), "POST /api/bench/5/begin": bed };
    const person = here(at({ stage: "loaded" }), said);
    expect(await screen.findByText("90 gf")).toBeTruthy();
    expect(screen.getByText("not tested: cut the figure first")).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "The tools are in" }));
    expect(step()).toBe("Marks");
    await person.click(screen.getByRole("button", { name: "Found the marks" }));
    await waitFor(() => expect(step()).toBe("Cut"));
    expect(sent("POST /api/bench/5/marks-said")).toEqual({ marks: "found" });
    expect(screen.getByText("Before 2: Put tool 3 into the holder.")).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "Begin the cut" }));
    await waitFor(() => expect(sent("POST /api/bench/5/begin")).toEqual({ side: "front" }));
  });

  it("does not go on while marks are lost, and says what to do", async () => {
    const lost = { "GET /api/bench/5/bed": aBed(), "POST /api/bench/5/marks-said": at({ stage: "loaded" }) };
    const person = here(at({ stage: "loaded" }), lost);
    await person.click(await screen.findByRole("button", { name: "The tools are in" }));
    expect(screen.getByRole("button", { name: "Found the marks" })).toHaveProperty("disabled", true);
    await person.click(screen.getByRole("button", { name: "Did not" }));
    await waitFor(() => expect(sent("POST /api/bench/5/marks-said")).toEqual({ marks: "lost" }));
    expect(screen.getByRole("button", { name: "Look again" })).toBeTruthy();
  });

  it("of another code is named, and an unread one wants an eye", async () => {
    const another = aBed({ known: false, code_read: "S1-XY", code_of: 8, code_of_name: "Flags" });
    const person = here(at({ stage: "loaded" }), { "GET /api/bench/5/bed": another });
    await person.click(await screen.findByRole("button", { name: "The tools are in" }));
    expect(screen.getByText("This sheet is S1-XY: “Flags”.")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Cut “Flags” instead" })).toBeTruthy();
    expect(screen.queryByRole("button", { name: /I have looked/ })).toBeNull();
  });

  it("is said to be cut, or how far it has come", async () => {
    const person = here(at({ stage: "cutting", done: [] }), { "POST /api/bench/5/stood": bed });
    await person.click(await screen.findByRole("button", { name: "It is cut" }));
    await waitFor(() => expect(sent("POST /api/bench/5/stood")).toEqual({ side: "front", stood_s: 90 }));
  });

  it("that lost its power is looked at before anything else", async () => {
    here(at({ stage: "stopped", unsure: true, done: [] }));
    expect(await screen.findByText(/The power was gone/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Go on|Begin/ })).toBeNull();
  });

  it("has its spoilt pieces ordered again", async () => {
    const answers = {
      "POST /api/queues/cutter/3/spoilt": { rip: [], cutter: [] },
      "POST /api/queues/cutter/3/cut-again": { jobs: [9] },
    };
    const person = here(at({ stage: "cut" }), answers);
    await person.click(screen.getByRole("button", { name: "piece 2" }));
    await person.click(screen.getByRole("button", { name: "piece 4" }));
    await person.click(screen.getByRole("button", { name: "Order 2 again" }));
    await waitFor(() => expect(sent("POST /api/queues/cutter/3/spoilt")).toEqual({ pieces: [2, 4] }));
    expect(await screen.findByText(/2 pieces ordered again/)).toBeTruthy();
  });
});

describe("which sheet", () => {
  it("is typed where no camera is given", async () => {
    const person = show(<ReadCode />);
    await person.click(screen.getByRole("button", { name: "Read the code with the camera" }));
    expect(await screen.findByText(/gives no camera/)).toBeTruthy();
    const open = screen.getByRole("button", { name: "Open" });
    expect(open).toHaveProperty("disabled", true);
    await person.type(screen.getByLabelText("The code, as S1-ABCDEFGHIJ"), "s1-ab");
    expect(open).toHaveProperty("disabled", false);
  });
});
