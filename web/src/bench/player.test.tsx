// @vitest-environment jsdom
/** The cutter's run in time: what is cut by then, where it waits for a person, and how it goes on. */
import { act, fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Playback, Release, Side } from "../api/client";
import { answer, asked } from "../testing/server";
import { show } from "../testing/show";
import { aBed, aRelease, aSheet } from "../testing/bench";
import { Player } from "./Player";
import { cutSoFar, dOf, haltAt, lastBefore, type Move } from "./playing";

const move = (values: Partial<Move> = {}): Move => ({
  operation: 0,
  tool: 1,
  force_gf: 90,
  speed_mm_s: 400,
  start_s: 0,
  end_s: 10,
  points: [
    [0, 0],
    [60, 0],
    [60, 40],
  ],
  ...values,
});

const STOP = { at_s: 10, before: 1, words: "Put tool 3 into the holder.", time_s: 90 };
const RUN: Playback = {
  moves: [
    move(),
    move({ operation: 1, tool: 3, force_gf: undefined, speed_mm_s: undefined, start_s: 100, end_s: 120 }),
  ],
  stops: [STOP],
  landed: true,
  total_s: 120,
  cut_mm: 200,
  travel_mm: 50,
  width_mm: 600,
  length_mm: 300,
  operations: [{ role: "kiss-cut" }, { role: "through-cut" }],
  pieces: [],
};

type Stage = NonNullable<Release["sheet"]>["stage"];

const played = async (
  run: Playback = RUN,
  bed = aBed(),
  stage: Stage = "loaded",
  sides: Side[] = ["front"],
  cut: Side[] = [],
) => {
  answer({
    "GET /api/bench/5/play": run,
    "POST /api/bench/5/begin": bed,
    "POST /api/bench/5/stood": bed,
    "GET /api/bench": [],
  });
  show(<Player made={aRelease({ sides, cut, sheet: aSheet({ stage }) })} bed={bed} />);
  await screen.findByText("At the blade");
};
const begin = async () => {
  fireEvent.click(screen.getByRole("button", { name: "Begin the cut" }));
  await screen.findByRole("button", { name: "Stop" });
};
/** How far the server was told that it has come. */
const kept = () =>
  asked.filter((one) => one.to.includes("stood")).map((one) => (one.body as { stood_s: number }).stood_s);
const strokes = () => screen.getByTestId("strokes").textContent;
const goTo = (seconds: number) =>
  fireEvent.change(screen.getByRole("slider", { name: "time" }), { target: { value: seconds } });

/** Let run ahead, past the stop on the way. */
const toTheEnd = async () => {
  goTo(120);
  fireEvent.click(await screen.findByRole("button", { name: "It is done, go on" }));
  await screen.findByRole("button", { name: "Stop" });
  goTo(120);
};

describe("a stroke", () => {
  it("is cut by its share of the way, and by corners as they come", () => {
    expect(cutSoFar(move(), 0)).toEqual([[0, 0]]);
    expect(cutSoFar(move(), 3)).toEqual([
      [0, 0],
      [30, 0],
    ]);
    expect(cutSoFar(move(), 8)).toEqual([
      [0, 0],
      [60, 0],
      [60, 20],
    ]);
    expect(cutSoFar(move(), 99)).toEqual(move().points);
    expect(dOf(move().points)).toBe("M0 0L60 0L60 40");
  });

  it("of no time is cut at once", () => {
    expect(cutSoFar(move({ end_s: 0 }), 1)).toEqual(move().points);
  });
});

describe("a stop", () => {
  it("is where the run waits, until somebody has said that it is done", () => {
    expect(haltAt([STOP], 9.9, 0)).toBeUndefined();
    expect(haltAt([STOP], 10, 0)).toBe(STOP);
    expect(haltAt([STOP], 50, 1)).toBeUndefined();
  });

  it("of the machine alone holds nobody up", () => {
    expect(haltAt([{ ...STOP, words: "" }], 10, 0)).toBeUndefined();
  });

  it("is passed by who goes behind it with the slider", () => {
    expect(lastBefore([STOP], 9)).toBe(0);
    expect(lastBefore([STOP], 11)).toBe(1);
  });
});

describe("the player", () => {
  beforeEach(() => void vi.useFakeTimers({ shouldAdvanceTime: true }));
  afterEach(() => void vi.useRealTimers());

  it("shows the tool at the blade, what it is told, and how much is done", async () => {
    await played();
    expect(screen.getByText("kiss cut")).toBeTruthy();
    expect(screen.getByText("90 gf")).toBeTruthy();
    expect(strokes()).toBe("0 of 2");
    expect(screen.getByText(/Drawn where it lands on the print/)).toBeTruthy();
    goTo(105);
    expect(screen.getByText("through cut")).toBeTruthy();
    expect(screen.getAllByText("left to the machine")).toHaveLength(2);
    expect(screen.getByText("down")).toBeTruthy();
    expect(strokes()).toBe("1 of 2");
  });

  it("says that it is drawn where it is meant, where no sheet was looked at", async () => {
    await played({ ...RUN, landed: false });
    expect(screen.getByText(/Drawn where it is meant/)).toBeTruthy();
  });

  it("runs to the stop, waits there, and goes on behind it when it is done", async () => {
    await played();
    await begin();
    await act(() => vi.advanceTimersByTimeAsync(1_500));
    expect(screen.getByText("The machine stands.")).toBeTruthy();
    expect(kept()).toEqual([10]);
    expect(screen.getByText(/Put tool 3 into the holder/)).toBeTruthy();
    expect(screen.getByRole("button", { name: "Go on from here" })).toHaveProperty("disabled", true);
    expect(strokes()).toBe("1 of 2");
    fireEvent.click(screen.getByRole("button", { name: "It is done, go on" }));
    await screen.findByRole("button", { name: "Stop" });
    await act(() => vi.advanceTimersByTimeAsync(2_000));
    expect(screen.queryByText("The machine stands.")).toBeNull();
    expect(strokes()).toBe("2 of 2");
    expect(screen.getByText(/It is cut/)).toBeTruthy();
    expect(kept()).toEqual([10, 120]);
  });

  it("is only looked at by the slider: nothing is said to be cut", async () => {
    await played();
    goTo(120);
    expect(strokes()).toBe("2 of 2");
    expect(screen.queryByText(/It is cut/)).toBeNull();
    expect(kept()).toEqual([]);
  });

  it("begins where the sheet stands, wherever somebody has looked", async () => {
    await played();
    goTo(115);
    await begin();
    expect(strokes()).toBe("0 of 2");
    await act(() => vi.advanceTimersByTimeAsync(1_500));
    expect(screen.getByText("The machine stands.")).toBeTruthy();
    expect(kept()).toEqual([10]);
  });

  it("that has begun is let run ahead to its next stop, and never back", async () => {
    await played();
    await begin();
    goTo(120);
    expect(screen.getByText("The machine stands.")).toBeTruthy();
    await waitFor(() => expect(kept()).toEqual([10]));
    goTo(2);
    goTo(120);
    expect(strokes()).toBe("1 of 2");
    expect(screen.queryByText(/It is cut/)).toBeNull();
    expect(kept()).toEqual([10]);
  });

  it("asks how far a cut has come that was begun elsewhere", async () => {
    await played(RUN, aBed(), "cutting");
    expect(screen.getByText(/that was begun elsewhere/)).toBeTruthy();
    goTo(115);
    fireEvent.click(screen.getByRole("button", { name: "It had come so far" }));
    await waitFor(() => expect(kept()).toEqual([115]));
  });

  it("waits at a stop that it came to before it was left", async () => {
    await played(RUN, aBed({ stood_s: 10 }), "stopped");
    expect(screen.getByText("The machine stands.")).toBeTruthy();
  });

  it("keeps where it was stopped, so that it goes on there", async () => {
    await played();
    await begin();
    await act(() => vi.advanceTimersByTimeAsync(200));
    fireEvent.click(screen.getByRole("button", { name: "Stop" }));
    await waitFor(() => expect(kept()).toHaveLength(1));
    const [seconds = 0] = kept();
    expect(seconds).toBeGreaterThan(0);
    expect(seconds).toBeLessThan(10);
    expect(screen.getByRole("button", { name: "Go on from here" })).toBeTruthy();
  });

  it("says at its end what comes next: weeding, or the back", async () => {
    await played();
    await begin();
    await toTheEnd();
    expect(await screen.findByText(/It is cut. Weed the first piece/)).toBeTruthy();
    document.body.innerHTML = "";
    await played(RUN, aBed(), "loaded", ["front", "back"]);
    await begin();
    await toTheEnd();
    expect(await screen.findByText(/turn it over sideways/)).toBeTruthy();
  });

  it("only shows what is cut, and sends nobody to a back that is cut too", async () => {
    await played(RUN, aBed({ stood_s: 120 }), "cut", ["front", "back"], ["front", "back"]);
    expect(screen.getByText(/It is cut. Weed the first piece/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Show the cut" }));
    await act(() => vi.advanceTimersByTimeAsync(200));
    fireEvent.click(screen.getByRole("button", { name: "Stop" }));
    expect(kept()).toEqual([]);
    expect(asked.map((one) => one.to)).not.toContain("POST /api/bench/5/begin");
  });

  it("begins where the sheet stood when it was left, behind the stops that it had passed", async () => {
    await played(RUN, aBed({ stood_s: 110 }));
    expect(screen.queryByText("The machine stands.")).toBeNull();
    expect(strokes()).toBe("1 of 2");
    expect(screen.getByRole("button", { name: "Go on from here" })).toBeTruthy();
  });
});
