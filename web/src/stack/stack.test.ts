/** Stacks on screen: where the needle is, what is laid, layers moved and named. */
import { describe, expect, it } from "vitest";
import { countsOf, darker, laidAt, needleAt, seamAt, sewnAt } from "./stitches";
import { same } from "./useStack";
import { BEGINNINGS, changed, freeName, inOrder, layer, movedBy, sewing, without } from "./wanted";

const SEAMS = [
  { layer: 1, colour: "#112233", kinds: [{ kind: "placement" }], points: [0, 0, 1, 0] },
  { layer: 1, colour: "#112233", kinds: [{ kind: "satin" }], points: [2, 0, 3, 0, 4, 0] },
  { layer: 0, colour: "#445566", kinds: [{ kind: "tack-down" }], points: [5, 5, 6, 6] },
];
const COUNTS = countsOf(SEAMS);

describe("stitches", () => {
  it("are counted seam by seam, and each is found again", () => {
    expect(COUNTS).toEqual([0, 2, 5, 7]);
    expect([0, 1, 2, 4, 5, 6, 99].map((n) => seamAt(COUNTS, n))).toEqual([0, 0, 1, 1, 2, 2, 2]);
    expect(needleAt(SEAMS, COUNTS, 0)).toBeNull();
    expect(needleAt(SEAMS, COUNTS, 2)).toEqual([1, 0]);
    expect(needleAt(SEAMS, COUNTS, 3)).toEqual([2, 0]);
    expect(needleAt(SEAMS, COUNTS, 7)).toEqual([6, 6]);
    expect(seamAt([0], 0)).toBe(0);
  });

  it("are sewn by when the needle was down", () => {
    const times = [
      [0, 1],
      [5, 6, 7],
    ];
    expect([-1, 0, 0.5, 1, 4, 5, 6.5, 7, 50].map((t) => sewnAt(times, t))).toEqual([
      0, 1, 1, 2, 2, 3, 4, 5, 5,
    ]);
  });

  it("lie on fabric that is laid by then: not on its line alone", () => {
    expect([...laidAt(SEAMS, COUNTS, 1)]).toEqual([]);
    expect([...laidAt(SEAMS, COUNTS, 2)]).toEqual([1]);
    expect([...laidAt(SEAMS, COUNTS, 5)]).toEqual([1, 0]);
  });

  it("have a dark side", () => {
    expect(darker("#646464", 0.5)).toBe("rgb(50, 50, 50)");
    expect(darker("none")).toBe("#333333");
  });
});

describe("a stack", () => {
  it("keeps its layers apart by names that nobody has", () => {
    expect(freeName([layer("a"), layer("Layer 3")])).toBe("layer 4");
  });

  it("has layers moved, changed and taken out, and none smaller than the one above", () => {
    const list = ["a", "b", "c"];
    expect(movedBy(list, 2, -1)).toEqual(["a", "c", "b"]);
    expect(movedBy(list, 0, -1)).toBe(list);
    expect(without(list, 1)).toEqual(["a", "c"]);
    expect(changed([{ n: 1 }, { n: 2 }], 1, { n: 5 })).toEqual([{ n: 1 }, { n: 5 }]);
    const [top, low] = inOrder([layer("a", { offset_mm: -2 }), layer("b", { offset_mm: -2 })]);
    expect([top?.offset_mm, low?.offset_mm]).toEqual([-2, 0]);
  });

  it("begins with stitches for each layer, and a line to lay the lowest by", () => {
    for (const [, , stack] of BEGINNINGS) {
      expect(stack.layers.every((one) => one.stitches.some((s) => s.kind === "satin"))).toBe(true);
      expect(stack.layers.at(-1)?.stitches[0]?.kind).toBe("placement");
      expect(new Set(stack.layers.map((one) => one.name)).size).toBe(stack.layers.length);
    }
    expect(sewing("zigzag").spacing_mm).toBe(2);
  });

  it("is the same as one that says the same in another order", () => {
    expect(same({ a: 1, b: [{ c: null }] }, { b: [{ c: null }], a: 1 })).toBe(true);
    expect(same({ a: 1 }, { a: 2 })).toBe(false);
    expect(same({ a: 1 }, { a: 1, b: 2 })).toBe(false);
    expect(same([1, 2], [1])).toBe(false);
  });
});
