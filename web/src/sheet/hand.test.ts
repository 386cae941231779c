/** Copies moved by hand: turning, snapping, lining up, gaps, and what lies too near. */
import { describe, expect, it } from "vitest";
import type { Box, Point } from "../stage/geometry";
import {
  alignment,
  at,
  boxOf,
  clashing,
  equalGaps,
  inside,
  intoRoom,
  movedBy,
  outlineOf,
  snapped,
  tooNear,
  turnedAbout,
  type Copy,
} from "./hand";

const SQUARE: Point[] = [
  [0, 0],
  [10, 0],
  [10, 10],
  [0, 10],
];
const copy = (x: number, y: number): Copy => ({ item: 0, matrix: [1, 0, 0, 1, x, y] });
const ROOM: Box = [0, 0, 100, 100];

describe("a copy", () => {
  it("keeps its size when it is turned, and is back where it was after four quarters", () => {
    let turned = copy(20, 5);
    for (let i = 0; i < 4; i++) turned = turnedAbout(turned, [25, 10], 90);
    expect(turned).toEqual(copy(20, 5));
    const slanted = turnedAbout(copy(20, 5), [25, 10], 33);
    const [a, b, c, d] = slanted.matrix;
    expect(a * d - b * c).toBeCloseTo(1, 12);
    expect(at(slanted.matrix, [5, 5])[0]).toBeCloseTo(25, 9);
  });

  it("is pushed back into the room, upwards without end on a roll", () => {
    expect(intoRoom([-4, 95, 6, 105], ROOM, false)).toEqual([4, -5]);
    expect(intoRoom([-4, 95, 6, 105], ROOM, true)).toEqual([4, 0]);
    expect(intoRoom([10, 10, 20, 20], ROOM, false)).toEqual([0, 0]);
  });

  it("snaps to the edges of others, to the gap beside them and to the room, and to nothing out of reach", () => {
    const other: Box = [40, 40, 50, 50];
    expect(snapped([51.5, 41, 61.5, 51], [other], ROOM, 2, 3)).toMatchObject({
      dx: 0.5,
      dy: -1,
      x: 52,
      y: 40,
    });
    expect(snapped([1, 70, 11, 80], [other], ROOM, 2, 3)).toMatchObject({ dx: -1, x: 0, dy: 0, y: null });
    expect(snapped([70, 20, 80, 30], [other], ROOM, 2, 0.5)).toEqual({ dx: 0, dy: 0, x: null, y: null });
  });
});

describe("several copies", () => {
  const boxes: Box[] = [
    [0, 0, 10, 10],
    [14, 5, 24, 15],
    [50, 20, 70, 40],
  ];

  it("are lined up by a side or their middles", () => {
    expect(alignment(boxes, "left")).toEqual([
      [0, 0],
      [-14, 0],
      [-50, 0],
    ]);
    expect(alignment(boxes, "top").map(([, dy]) => dy)).toEqual([30, 25, 0]);
    expect(alignment(boxes, "centre").map(([, dy]) => dy)).toEqual([15, 10, -10]);
  });

  it("get equal gaps between the first and the last, which stay", () => {
    const moves = equalGaps(boxes, true);
    expect(moves).toEqual([
      [0, 0],
      [11, 0],
      [0, 0],
    ]);
  });

  it("that lie nearer than the gap are found, those that lie in each other too, and touching ones without a gap not", () => {
    const outlines = [SQUARE];
    const copies = [copy(0, 0), copy(12, 0), copy(40, 0), copy(45, 5)];
    expect([...clashing(copies, outlines, [0], 3)].sort()).toEqual([0, 1]);
    expect([...clashing(copies, outlines, [0], 2)]).toEqual([]);
    expect([...clashing(copies, outlines, [3], 2)].sort()).toEqual([2, 3]);
    const small: Point[] = SQUARE.map(([x, y]) => [4 + x / 10, 4 + y / 10]);
    expect(tooNear(SQUARE, small, 0)).toBe(true);
    expect(tooNear(SQUARE, outlineOf(movedBy(copy(0, 0), 10, 0), outlines), 0)).toBe(false);
    expect(inside(SQUARE, [5, 5]) && !inside(SQUARE, [15, 5])).toBe(true);
    expect(boxOf(outlineOf(copy(3, 4), outlines))).toEqual([3, 4, 13, 14]);
  });
});
