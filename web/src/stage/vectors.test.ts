/** What the server computes too comes to the same here: by the cases that its own test reads (tests/core/test_vectors.py). */
import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { clashing, type Matrix } from "../sheet/hand";
import { landed } from "./edges";
import type { Point } from "./geometry";

interface Cases {
  landing: { off: Record<string, number>; middle: Point; points: Point[]; landed: Point[] }[];
  near: { a: Point[]; b: Point[]; matrix: Matrix; gap: number; near: boolean }[];
}

const CASES = JSON.parse(
  readFileSync(new URL("../../../tests/data/vectors/sheet.json", import.meta.url), "utf8"),
) as Cases;
const STAYS: Matrix = [1, 0, 0, 1, 0, 0];

describe("a cut that lands off", () => {
  it.each(CASES.landing)("lands where the server has it: $off", ({ off, middle, points, landed: meant }) => {
    points.forEach((point, i) => {
      const [x, y] = landed(point, middle, {
        dx: 0,
        dy: 0,
        turn: 0,
        stretch_x: 0,
        stretch_y: 0,
        ...off,
      });
      expect(x).toBeCloseTo(meant[i]?.[0] ?? NaN, 6);
      expect(y).toBeCloseTo(meant[i]?.[1] ?? NaN, 6);
    });
  });
});

describe("copies that are too near", () => {
  it.each(CASES.near.map((one, i) => [i, one] as const))("are those of the server, case %i", (_, one) => {
    const copies = [
      { item: 0, matrix: STAYS },
      { item: 1, matrix: one.matrix },
    ];
    const found = clashing(copies, [one.a, one.b], [1], one.gap);
    expect(found.size > 0).toBe(one.near);
  });
});
