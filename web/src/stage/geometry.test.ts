import { minutes } from "../ui/words";
import { describe, expect, it } from "vitest";
import {
  angle,
  distance,
  fit,
  length,
  rulerStep,
  runsOf,
  segmentsOf,
  snap,
  ticks,
  tilesOf,
  toMm,
  toScreen,
  trace,
  type Box,
} from "./geometry";

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

describe("lines on the stage", () => {
  const square = "M0 0L10 0L10 10L0 10Z";
  const drawn = (path: string, k: number, within: Box) => {
    const said: string[] = [];
    trace(
      {
        moveTo: (x, y) => said.push(`m${x},${y}`),
        lineTo: (x, y) => said.push(`l${x},${y}`),
        bezierCurveTo: (...at) => said.push(`c${at.slice(4).join()}`),
      },
      segmentsOf(path),
      k,
      within,
    );
    return said.join(" ");
  };
  it("closes a path with its last side and keeps curves as curves", () => {
    expect(drawn(square, 10, [-1, -1, 11, 11])).toBe("m0,0 l10,0 l10,10 l0,10 l0,0");
    expect(drawn("M0 0C0 5 5 10 10 10", 10, [-1, -1, 11, 11])).toBe("m0,0 c10,10");
  });
  it("leaves out what is not in view and begins again where it comes back", () => {
    expect(drawn(square, 10, [-1, -1, 2, 2])).toBe("m0,0 l10,0 m0,10 l0,0");
  });
  it("runs nodes closer than a pixel together, but never loses the end", () => {
    const close = "M0 0" + Array.from({ length: 100 }, (_, i) => `L${(i + 1) / 100} 0`).join("");
    const said = drawn(close, 4, [-1, -1, 2, 2]).split(" ");
    expect(said.length).toBeLessThan(12);
    expect(said.at(-1)).toBe("l1,0");
  });
  it("snaps to the nearest place on a line within reach, and to nothing beyond it", () => {
    const runs = runsOf(square);
    expect(snap(runs, [5, 0.4], 1)).toEqual([5, 0]);
    expect(snap(runs, [5, 3], 1)).toBeNull();
    const arc = runsOf("M10 0C10 5.5228 5.5228 10 0 10");
    const [x, y] = snap(arc, [7.2, 7.2], 1) ?? [0, 0];
    expect(Math.hypot(x, y)).toBeCloseTo(10, 1);
  });
  it("puts ticks outside a closed contour, whichever way it runs", () => {
    for (const path of [square, "M0 0L0 10L10 10L10 0Z"]) {
      const found = [
        ...ticks(runsOf(path), 4, [-20, -20, 20, 20]).matchAll(/M(\S+) (\S+)l(\S+) (\S+?)(?=M|$)/g),
      ];
      expect(found.length).toBeGreaterThan(8);
      for (const [, x, y, dx, dy] of found) {
        const [ex, ey] = [Number(x) + Number(dx), Number(y) + Number(dy)];
        expect(ex < 0 || ex > 10 || ey < 0 || ey > 10).toBe(true);
      }
    }
  });
  it("measures distance and angle, and says lengths as exactly as a pixel shows", () => {
    expect(distance([0, 0], [3, 4])).toBe(5);
    expect(angle([0, 0], [1, 1])).toBeCloseTo(45);
    expect(length(12.3456, "mm", 1)).toBe("12.3 mm");
    expect(length(12.3456, "mm", 200)).toBe("12.346 mm");
    expect(length(25.4, "in", 4)).toBe("1.000 in");
  });
});

describe("tiles", () => {
  const page: Box = [-5, -5, 205, 105];
  it("cover what is in view without a gap, on whole pixels of the page", () => {
    const [left, right] = tilesOf(page, [50.013, 20, 90, 60], 7.56);
    expect(left && right && left.box[2] === right.box[0]).toBe(true);
    for (const { box } of [left, right].filter((t) => t !== undefined)) {
      for (const v of [box[0], box[2]])
        expect(((v + 5) * 7.56) % 1).toBeCloseTo(Math.round(((v + 5) * 7.56) % 1), 6);
      expect(box[1] <= 20 && box[3] >= 60).toBe(true);
    }
    expect((left?.box[0] ?? 99) <= 50.013 && (right?.box[2] ?? 0) >= 90).toBe(true);
  });
  it("are as fine as the screen up to 6,400 % of actual size", () => {
    for (const pixelsPerMm of [0.5, 3.78, 30, (64 * 96) / 25.4])
      expect(tilesOf(page, page, pixelsPerMm)[0]?.ppi).toBeCloseTo(pixelsPerMm * 25.4, 6);
  });
  it("are none where the page is not in view", () => {
    expect(tilesOf(page, [300, 300, 400, 400], 8)).toEqual([]);
  });
});
