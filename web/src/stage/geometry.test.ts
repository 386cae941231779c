import { describe, expect, it } from "vitest";
import { fit, minutes, rulerStep, toMm, toScreen, type Box } from "./geometry";

describe("the stage's geometry", () => {
  it("puts y upwards and comes back to the same millimetres", () => {
    const view = { k: 2, x: 10, y: 100 };
    expect(toScreen(view, [5, 20])).toEqual([20, 60]);
    expect(toMm(view, toScreen(view, [5, 20]))).toEqual([5, 20]);
  });
  it("fits a box whole and in the middle", () => {
    const box: Box = [10, 10, 110, 60];
    const view = fit(box, 640, 480);
    const [left, top] = toScreen(view, [10, 60]);
    const [right, bottom] = toScreen(view, [110, 10]);
    expect(left).toBeCloseTo(640 - right);
    expect(top).toBeCloseTo(480 - bottom);
    expect(right - left).toBeLessThanOrEqual(600.001);
  });
  it("takes ruler steps of 1, 2 or 5 that are wide enough to read", () => {
    expect(rulerStep(1)).toBe(100);
    expect(rulerStep(4)).toBe(20);
    expect(rulerStep(100)).toBe(1);
  });
  it("says times as people do", () => {
    expect(minutes(59.4)).toBe("59 s");
    expect(minutes(125)).toBe("2 min 5 s");
  });
});
