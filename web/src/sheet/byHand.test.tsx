// @vitest-environment jsdom
/** Copies moved by hand: chosen, nudged, turned, lined up and spread, kept within the room, and taken back. */
import { act, fireEvent, renderHook, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { show } from "../testing/show";
import { anItem, aSheet } from "../testing/values";
import { HandBar } from "./HandBar";
import { useByHand, type ByHand } from "./useByHand";

const SQUARE = anItem({
  outline: [
    [0, 0],
    [20, 0],
    [20, 20],
    [0, 20],
  ],
});
const at = (x: number, y: number): [number, number, number, number, number, number] => [1, 0, 0, 1, x, y];
/** Three squares of 20 mm in a room of 0, 0 to 300, 200; the gap is 5 mm. */
const SHEET = aSheet({
  items: [SQUARE],
  item_of: [0, 0, 0],
  placements: [at(10, 10), at(50, 30), at(120, 60)],
  room: [0, 0, 300, 200],
  endless: false,
  gap_mm: 5,
});

const hand = () => renderHook(() => useByHand(SHEET)).result;
const places = (of: ByHand) => of.copies.map((copy) => [copy.matrix[4], copy.matrix[5]]);

describe("copies by hand", () => {
  it("are chosen one by one, more of them with Shift, and let go the same way", () => {
    const held = hand();
    act(() => held.current.choose([0]));
    act(() => held.current.choose([2], true));
    expect([...held.current.chosen]).toEqual([0, 2]);
    expect(held.current.box).toEqual([10, 10, 140, 80]);
    act(() => held.current.choose([0], true));
    expect([...held.current.chosen]).toEqual([2]);
    act(() => held.current.choose([]));
    expect(held.current.box).toBeNull();
  });

  it("move alone, and no others with them", () => {
    const held = hand();
    act(() => held.current.choose([1]));
    expect(held.current.touched).toBe(false);
    act(() => held.current.nudge(3, -2));
    expect(places(held.current)).toEqual([
      [10, 10],
      [53, 28],
      [120, 60],
    ]);
    expect(held.current.touched).toBe(true);
  });

  it("stay within the room where cuts may lie, together as they were", () => {
    const held = hand();
    act(() => held.current.choose([0, 1]));
    act(() => held.current.nudge(-500, -500));
    expect(places(held.current).slice(0, 2)).toEqual([
      [0, 0],
      [40, 20],
    ]);
  });

  it("follow a drag from where it began, and one step back is the whole drag", () => {
    const held = hand();
    act(() => held.current.choose([0]));
    act(() => held.current.begin());
    act(() => held.current.drag(5, 0));
    act(() => held.current.drag(9, 4));
    expect(places(held.current)[0]).toEqual([19, 14]);
    act(() => held.current.back());
    expect(places(held.current)[0]).toEqual([10, 10]);
    expect(held.current.canGoBack).toBe(false);
  });

  it("turn about the middle of all that are chosen", () => {
    const held = hand();
    act(() => held.current.choose([0, 1]));
    act(() => held.current.turn(180));
    expect(held.current.box?.map((mm) => Number(mm.toFixed(6)))).toEqual([10, 10, 70, 50]);
    expect(held.current.copies[0]?.matrix.slice(0, 4)).toEqual([-1, 0, 0, -1]);
  });

  it("are lined up, and get equal gaps between the first and the last", () => {
    const held = hand();
    act(() => held.current.choose([0, 1, 2]));
    act(() => held.current.align("bottom"));
    expect(places(held.current).map(([, y]) => y)).toEqual([10, 10, 10]);
    act(() => held.current.spread(true));
    expect(places(held.current).map(([x]) => x)).toEqual([10, 65, 120]);
  });

  it("are said to lie too near where they were brought so, and only those", () => {
    const held = hand();
    act(() => held.current.choose([1]));
    act(() => held.current.place(32, 10));
    expect([...held.current.clashes].sort()).toEqual([0, 1]);
    act(() => held.current.place(36, 10));
    expect(held.current.clashes.size).toBe(0);
  });
});

function Bar({ onKeep = () => undefined }: { onKeep?: () => void }) {
  const held = useByHand(SHEET);
  return (
    <>
      <button onClick={() => held.choose([0, 1])}>choose two</button>
      <HandBar hand={held} pending={false} error={null} onKeep={onKeep} onLetGo={() => undefined} />
      <output>{JSON.stringify(held.box)}</output>
    </>
  );
}

describe("the bar", () => {
  const box = () => JSON.parse(screen.getByRole("status").textContent ?? "null") as number[] | null;

  it("offers what can be done with as many as are chosen", async () => {
    const person = show(<Bar />);
    expect(screen.getByRole("button", { name: "Turn by" })).toHaveProperty("disabled", true);
    expect(screen.getByRole("button", { name: "Keep them so" })).toHaveProperty("disabled", true);
    await person.click(screen.getByRole("button", { name: "choose two" }));
    expect(screen.getByText(/2 copies chosen/)).toBeTruthy();
    expect(screen.getByRole("button", { name: "left edges in a line" })).toHaveProperty("disabled", false);
    expect(screen.getByRole("button", { name: "Equal gaps across" })).toHaveProperty("disabled", true);
  });

  it("puts what is chosen into a corner, or where its figures say", async () => {
    const person = show(<Bar />);
    await person.click(screen.getByRole("button", { name: "choose two" }));
    await person.click(screen.getByRole("button", { name: "Upper right" }));
    expect(box()).toEqual([240, 160, 300, 200]);
    const x = screen.getByLabelText("X, mm");
    fireEvent.change(x, { target: { value: "25" } });
    fireEvent.keyDown(x, { key: "Enter" });
    expect(box()?.[0]).toBe(25);
    await person.click(screen.getByRole("button", { name: "Step back" }));
    expect(box()?.[0]).toBe(240);
  });

  it("keeps them when it is pressed, once something has moved", async () => {
    const onKeep = vi.fn();
    const person = show(<Bar onKeep={onKeep} />);
    await person.click(screen.getByRole("button", { name: "choose two" }));
    await person.click(screen.getByRole("button", { name: "lower edges in a line" }));
    await person.click(screen.getByRole("button", { name: "Keep them so" }));
    expect(onKeep).toHaveBeenCalledOnce();
  });
});
