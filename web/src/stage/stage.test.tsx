// @vitest-environment jsdom
/** The stage: what is in view and how near, by hand and keys; places told, lines laid, and what tools take. */
import { fireEvent, screen } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { show } from "../testing/show";
import type { Box, View } from "./geometry";
import { Stage } from "./Stage";
import { RULER } from "./useView";

const BOUNDS: Box = [0, 0, 100, 100];
/** A square's outline: the tape is caught by its corners and sides. */
const SQUARE = { role: "kiss-cut", ink: "K", path: "M20 20L80 20L80 80L20 80Z", hidden: false };

beforeEach(() => localStorage.clear());

/** A stage with what it was drawn with last. */
function staged(more: Partial<Parameters<typeof Stage>[0]> = {}) {
  let view: View = { k: 0, x: 0, y: 0 };
  const person = show(
    <Stage bounds={BOUNDS} label="Artwork" {...more}>
      {(now) => {
        view = now;
        return <circle data-testid="art" r={1} />;
      }}
    </Stage>,
  );
  const stage = screen.getByRole("application");
  return {
    person,
    stage,
    view: () => view,
    press: (key: string, more: object = {}) => fireEvent.keyDown(stage, { key, ...more }),
    /** Where a place in mm is on the screen. */
    at: ([x, y]: [number, number]) => ({ clientX: view.x + x * view.k, clientY: view.y - y * view.k }),
  };
}

const settled = () => vi.waitFor(() => undefined, 1);

describe("what is in view", () => {
  it("is all of it to begin with, beside the rulers and in the middle", async () => {
    const { view } = staged();
    await settled();
    const { k, x, y } = view();
    const [left, right] = [x, x + 100 * k];
    const [top, bottom] = [y - 100 * k, y];
    expect(k).toBeGreaterThan(0);
    expect(left).toBeGreaterThanOrEqual(RULER);
    expect(right).toBeLessThanOrEqual(800);
    expect(top).toBeGreaterThanOrEqual(0);
    expect(bottom).toBeLessThanOrEqual(600 - RULER);
    expect((top + bottom) / 2).toBeCloseTo((600 - RULER) / 2, 3);
  });

  it("is what is wanted first, where only a part is", async () => {
    const whole = staged();
    await settled();
    const near = whole.view().k;
    document.body.innerHTML = "";
    const part = staged({ opens: [40, 40, 60, 60] });
    await settled();
    expect(part.view().k).toBeCloseTo(5 * near, 3);
  });

  it("comes nearer and goes further by keys, and back to all of it", async () => {
    const { press, view } = staged();
    await settled();
    const { k } = view();
    press("+");
    await vi.waitFor(() => expect(view().k).toBeCloseTo(1.4 * k, 3));
    press("-");
    press("-");
    await vi.waitFor(() => expect(view().k).toBeCloseTo(k / 1.4, 3));
    press("f");
    await vi.waitFor(() => expect(view().k).toBeCloseTo(k, 6));
  });

  it("moves by the arrow keys, and is as large as life by 0", async () => {
    const { press, view } = staged();
    await settled();
    const { x, y } = view();
    press("ArrowLeft");
    await vi.waitFor(() => expect(view().x).toBeCloseTo(x + 80, 6));
    press("ArrowDown");
    await vi.waitFor(() => expect(view().y).toBeCloseTo(y - 80, 6));
    press("0");
    await vi.waitFor(() => expect(view().k).toBeCloseTo(96 / 25.4, 6));
    expect(screen.getByRole("button", { name: /^zoom 100 %/ })).toBeTruthy();
  });

  it("goes to a place that is asked for, with room round it", async () => {
    const { view } = staged({ goTo: { box: [50, 50, 52, 52] } });
    await settled();
    const { k, x, y } = view();
    const middle = [(x + 51 * k) / 1, y - 51 * k];
    expect(k).toBeGreaterThan(30);
    expect(middle[0]).toBeCloseTo(RULER + (800 - RULER) / 2, 0);
    expect(middle[1]).toBeCloseTo((600 - RULER) / 2, 0);
  });

  it("leaves keys to the browser that are pressed with Ctrl, and lets a tool have its own", () => {
    const own = vi.fn();
    const { press, view } = staged({ moreKeys: { "Shift+R": own } });
    const { k } = view();
    press("+", { ctrlKey: true });
    press("R", { shiftKey: true });
    expect(own).toHaveBeenCalledOnce();
    expect(view().k).toBe(k);
  });
});

describe("the tape", () => {
  it("is laid by pulling, is caught by lines, and says what it measures", async () => {
    const { person, stage, at } = staged({ lines: [SQUARE] });
    await settled();
    await person.click(screen.getByRole("button", { name: "Tape" }));
    fireEvent.pointerDown(stage, at([20.3, 50]));
    fireEvent.pointerMove(stage, { ...at([79.6, 50]), buttons: 1 });
    fireEvent.pointerUp(stage, at([79.6, 50]));
    expect(stage.textContent, "from side to side of the line").toContain("60.0 mm");
  });

  it("is laid by keys too: from the middle to the middle", async () => {
    const { stage, press } = staged();
    await settled();
    press("t");
    expect(screen.getByRole("button", { name: "Tape" }).getAttribute("aria-pressed")).toBe("true");
    press("Enter");
    for (let i = 0; i < 2; i++) press("ArrowLeft");
    await settled();
    press("Enter");
    await vi.waitFor(() => expect(stage.textContent).toMatch(/\d+\.\d+ mm/));
    press("Escape");
    expect(screen.getByRole("button", { name: "Tape" }).getAttribute("aria-pressed")).toBe("false");
  });
});

describe("a cut through the material", () => {
  it("is heard of once the line is laid, and goes when the tool does", async () => {
    const onSection = vi.fn();
    const { person, stage, at, press } = staged({ onSection });
    await settled();
    await person.click(screen.getByRole("button", { name: "Cut open" }));
    fireEvent.pointerDown(stage, at([10, 50]));
    fireEvent.pointerMove(stage, { ...at([90, 50]), buttons: 1 });
    expect(onSection).not.toHaveBeenCalled();
    fireEvent.pointerUp(stage, at([90, 50]));
    const [[x0, y0], [x1, y1]] = onSection.mock.lastCall?.[0] as [[number, number], [number, number]];
    expect([x0, y0, x1, y1].map((mm) => Number(mm.toFixed(3)))).toEqual([10, 50, 90, 50]);
    press("c");
    expect(onSection).toHaveBeenLastCalledWith(null);
  });

  it("is none where the hand only pressed, and there is no tool where nothing can be cut open", async () => {
    const onSection = vi.fn();
    const { person, stage, at } = staged({ onSection });
    await settled();
    await person.click(screen.getByRole("button", { name: "Cut open" }));
    fireEvent.pointerDown(stage, at([10, 50]));
    fireEvent.pointerUp(stage, at([10, 50]));
    expect(onSection).toHaveBeenLastCalledWith(null);
    document.body.innerHTML = "";
    staged();
    expect(screen.queryByRole("button", { name: "Cut open" })).toBeNull();
  });
});

describe("the hand", () => {
  it("tells where it is, and that it has left", async () => {
    const onPoint = vi.fn();
    const { stage, at } = staged({ onPoint });
    await settled();
    fireEvent.pointerMove(stage, at([25, 75]));
    const [x, y] = onPoint.mock.lastCall?.[0] as [number, number];
    expect([x, y].map((mm) => Number(mm.toFixed(6)))).toEqual([25, 75]);
    expect(stage.textContent).toContain("25.0 mm, 75.0 mm");
    fireEvent.pointerLeave(stage);
    expect(onPoint).toHaveBeenLastCalledWith(null);
  });

  it("presses a place, by a click or by Enter in the middle, but not with a tool", async () => {
    const onPick = vi.fn();
    const { person, stage, at, press } = staged({ onPick });
    await settled();
    fireEvent.click(stage, at([30, 40]));
    const [[x, y], within] = onPick.mock.lastCall as [[number, number], number];
    expect([x, y].map((mm) => Number(mm.toFixed(6)))).toEqual([30, 40]);
    expect(within).toBeGreaterThan(0);
    press("Enter");
    expect(onPick).toHaveBeenCalledTimes(2);
    await person.click(screen.getByRole("button", { name: "Tape" }));
    fireEvent.click(stage, at([30, 40]));
    expect(onPick).toHaveBeenCalledTimes(2);
  });

  it("draws where that is taken, from where it was pressed to where it is let go", async () => {
    const onDraw = { press: vi.fn(), pull: vi.fn(), done: vi.fn() };
    const { stage, at } = staged({ onDraw, onPick: vi.fn() });
    await settled();
    fireEvent.pointerDown(stage, at([10, 10]));
    fireEvent.pointerMove(stage, { ...at([20, 10]), buttons: 1 });
    fireEvent.pointerUp(stage, at([20, 10]));
    expect(onDraw.press).toHaveBeenCalledOnce();
    expect(onDraw.pull).toHaveBeenCalledOnce();
    expect(onDraw.done).toHaveBeenCalledOnce();
  });

  it("does nothing to the stage where it works in a panel that lies over it", async () => {
    const onPick = vi.fn();
    const { press, view } = staged({ onPick, over: <button>in the panel</button> });
    await settled();
    const before = view();
    fireEvent.click(screen.getByRole("button", { name: "in the panel" }));
    fireEvent.keyDown(screen.getByRole("button", { name: "in the panel" }), { key: "+" });
    expect(onPick).not.toHaveBeenCalled();
    expect(view()).toBe(before);
    press("Escape");
  });
});

describe("the bar below", () => {
  it("changes the unit of the rulers, and fits", async () => {
    const { person, press, view } = staged();
    await settled();
    const { k } = view();
    await person.click(screen.getByRole("button", { name: "rulers in millimetres" }));
    expect(screen.getByRole("button", { name: "rulers in inches" })).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "rulers in inches" }));
    press("+");
    await person.click(screen.getByRole("button", { name: "Fit" }));
    await vi.waitFor(() => expect(view().k).toBeCloseTo(k, 6));
    await person.click(screen.getByRole("button", { name: "Actual size" }));
    await vi.waitFor(() => expect(view().k).toBeCloseTo(96 / 25.4, 6));
  });
});
