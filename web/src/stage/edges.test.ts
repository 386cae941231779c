import { describe, expect, it } from "vitest";
import type { EdgeProfile } from "../api/client";
import { landed, middleOf, movedCut, NOWHERE, ribbon } from "./edges";

const profile: EdgeProfile = {
  hole: false,
  length_mm: 4,
  worst: 0,
  points: [0, 0, 100, 0, 200, 0, 300, 0],
  normals: [0, -1000, 0, -1000, 0, -1000, 0, -1000],
  coloured: [1, 1, 0, 0],
  outside: [300, 200, 0, 0],
  inside: [0, 0, 150, 150],
  beyond: [0, 0, 600, 600],
  weight: [1000, 1000, 1000, 1000],
  kinds: [0, 0, 1, 1],
};

describe("the ribbon", () => {
  it("runs out along colour as far as was measured", () => {
    expect(ribbon(profile, "over", 0)).toBe("M0.00 0.00L1.00 0.00L1.00 -2.00L0.00 -3.00Z");
  });
  it("runs in over a blank border", () => {
    expect(ribbon(profile, "border", 0)).toBe("M2.00 0.00L3.00 0.00L3.00 1.50L2.00 1.50Z");
  });
  it("is never too narrow to be seen, and empty for a kind that is not there", () => {
    expect(ribbon(profile, "border", 2)).toContain("2.00 2.00");
    expect(ribbon(profile, "risk", 1)).toBe("");
  });
  it("closes where the whole contour is of one kind", () => {
    expect(
      ribbon({ ...profile, kinds: [4, 4, 4, 4] }, "risk", 1).startsWith(
        "M0.00 0.00L1.00 0.00L2.00 0.00L3.00 0.00L0.00 0.00L",
      ),
    ).toBe(true);
  });
});

describe("a cut that lands off", () => {
  it("turns and stretches about the middle of all contours", () => {
    expect(middleOf([profile])).toEqual([1.5, 0]);
    expect(landed([2.5, 0], [1.5, 0], { ...NOWHERE, stretch_x: 10, dx: 1 })[0]).toBeCloseTo(3.6);
    const [x, y] = landed([2.5, 0], [1.5, 0], { ...NOWHERE, turn: 90 });
    expect(x).toBeCloseTo(1.5);
    expect(y).toBeCloseTo(1);
  });
  it("is drawn moved", () => {
    expect(movedCut([profile], { ...NOWHERE, dy: 0.5 })).toBe("M0.00 0.50L1.00 0.50L2.00 0.50L3.00 0.50Z");
  });
});
