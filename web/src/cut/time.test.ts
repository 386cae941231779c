/** The time of a cut, where the head is, and copies as people name them. */
import { describe, expect, it } from "vitest";
import { aCut, anOperation } from "../testing/values";
import { copiesIn, headAt, partsOf, runsWords } from "./time";

const CUT = aCut({
  time_s: 35,
  operations: [
    anOperation({
      times: [
        [1, 3, 0, 0, 10, 0, 10, 10],
        [5, 9, 50, 0, 60, 0, 60, 10],
      ],
    }),
    anOperation({ role: "back-cut", mirrored: true, times: [[2, 4, 7, 7, 8, 8]] }),
  ],
  pauses: [{ before: 1, words: "Turn it over", time_s: 15 }],
});

describe("the parts of a cut", () => {
  it("lie one behind the other, pauses between operations", () => {
    expect(partsOf(CUT).map((part) => [part.kind, part.index, part.from, part.to])).toEqual([
      ["operation", 0, 0, 10],
      ["pause", 1, 10, 25],
      ["operation", 1, 25, 35],
    ]);
  });
});

describe("the head", () => {
  it("goes along a stroke while the tool is down", () => {
    expect(headAt(CUT, 2)).toEqual({ at: [10, 0], down: true, mirrored: false, operation: 0 });
    expect(headAt(CUT, 1.5)?.at).toEqual([5, 0]);
    expect(headAt(CUT, 9)?.at).toEqual([60, 10]);
  });

  it("is up between two strokes, and nowhere in a pause", () => {
    expect(headAt(CUT, 4)).toMatchObject({ down: false, at: [10, 10] });
    expect(headAt(CUT, 0.5)).toMatchObject({ down: false, at: [0, 0] });
    expect(headAt(CUT, 20)).toBeNull();
    expect(headAt(aCut(), 0)).toBeNull();
  });

  it("is on the turned sheet in a back cut", () => {
    expect(headAt(CUT, 28)).toMatchObject({ mirrored: true, operation: 1, at: [7.5, 7.5] });
  });
});

describe("copies that are named", () => {
  it("are numbers and runs of them, up to the last", () => {
    expect(copiesIn("3, 7-9, 12-", 14)).toEqual([3, 7, 8, 9, 12, 13, 14]);
    expect(copiesIn(" ", 14)).toBeNull();
    expect(copiesIn("2,2,1", 14)).toEqual([1, 2]);
  });

  it.each(["0", "15", "9-7", "x", "3;4", "1,,2"])("%s names none", (text) => {
    expect(typeof copiesIn(text, 14)).toBe("string");
  });

  it("are said as they are read", () => {
    expect(runsWords([3, 7, 8, 9, 12])).toBe("3, 7-9, 12");
    expect(runsWords([])).toBe("");
  });
});
