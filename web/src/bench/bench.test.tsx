// @vitest-environment jsdom
/** The bench: where marks should lie, jogging, where a run stops, and the worst piece of a rehearsal. */
import { act, renderHook } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Bed, BedMark } from "../api/client";
import { partedPath } from "../job/release/Rehearsal";
import { carriageFor, expected, nextMark, useJog } from "./jog";
import { haltAt, lastBefore } from "./playing";

const mark = (number: number, meant: [number, number], values: Partial<BedMark> = {}): BedMark => ({
  number,
  kind: "bracket-in",
  meant,
  place: null,
  how: "",
  why: "",
  residual_mm: null,
  ...values,
});

describe("marks", () => {
  it("are expected by the nearest one that is known", () => {
    const second = mark(2, [500, 0]);
    const marks = [
      mark(1, [0, 0], { place: [2, 1], how: "hand" }),
      second,
      mark(3, [500, 300], { place: [503, 305], how: "camera" }),
    ];
    expect(expected(second, marks)).toEqual([503, 5]);
    expect(expected(second, [second])).toEqual([500, 0]);
  });

  it("are taken in turn; one that was left out is not asked for again", () => {
    const marks = [mark(1, [0, 0], { place: [1, 1] }), mark(2, [9, 0], { how: "left out" }), mark(3, [9, 9])];
    expect(nextMark(marks)?.number).toBe(3);
    expect(nextMark(marks.slice(0, 2))).toBeUndefined();
  });

  it("lie under the pointer, not under the blade", () => {
    expect(carriageFor([10, 20], { pointer: { x_mm: 1.5, y_mm: -0.5 } } as Bed)).toEqual([8.5, 20.5]);
  });
});

describe("jogging", () => {
  it("goes by the step that is shown, finer and coarser", () => {
    const { result } = renderHook(() => useJog([100, 50]));
    const press = (key: string) => act(() => result.current.keys[key]?.());
    expect(result.current.step).toBe(2);
    press("ArrowRight");
    press("ArrowUp");
    expect(result.current.at).toEqual([102, 52]);
    press("[");
    expect(result.current.step).toBe(0.5);
    press("ArrowLeft");
    expect(result.current.at).toEqual([101.5, 52]);
    for (let i = 0; i < 9; i++) press("[");
    expect(result.current.step).toBe(0.02);
    press("ArrowDown");
    expect(result.current.at).toEqual([101.5, 51.98]);
    for (let i = 0; i < 9; i++) press("]");
    expect(result.current.step).toBe(50);
  });
});

describe("a run", () => {
  const stops = [
    { at_s: 5, before: 1, words: "", time_s: 15 },
    { at_s: 30, before: 2, words: "Put tool 3 in", time_s: 90 },
  ];
  it("stops where a person is needed, until that is done", () => {
    expect(haltAt(stops, 10, 0)).toBeUndefined();
    expect(haltAt(stops, 30, 0)?.before).toBe(2);
    expect(haltAt(stops, 31, 2)).toBeUndefined();
  });

  it("goes on behind the stops that it had passed when it was stopped", () => {
    expect(lastBefore(stops, 0)).toBe(0);
    expect(lastBefore(stops, 29)).toBe(1);
    expect(lastBefore(stops, 125)).toBe(2);
    expect(haltAt(stops, 125, lastBefore(stops, 125))).toBeUndefined();
  });
});

describe("the cut of the worst piece", () => {
  it("is broken between its contours", () => {
    const line = [
      [0, 0],
      [1, 0],
      [2, 0],
      [40, 0],
      [41, 0],
    ];
    expect(partedPath(line)).toBe("M0 0L1 0L2 0M40 0L41 0");
  });
});
