// @vitest-environment jsdom
/** The making of lines: the sentence changes what is made, and small geometry is right. */
import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import { render } from "@testing-library/react";
import { aJob, anOrder } from "../../testing/values";
import { LinePart } from "./LinePart";
import {
  asPreset,
  firstMake,
  makeIn,
  onItself,
  presetName,
  rolesInFile,
  allInnerTo,
  smallerTo,
  turnedInner,
  usual,
  withLineSet,
  withoutLine,
  type Edit,
  type Make,
} from "./make";
import { nodesNow } from "./nodesNow";
import type { MadeLine } from "../../api/client";
import type { Point } from "../../stage/geometry";
import { inBox } from "./useInnerBox";
import { OutlinePart } from "./OutlinePart";
import { holds, moved, pathThrough, rightmost, signedDistance, type Node } from "./paths";
import { penPath } from "./usePen";

const SQUARE = "M0 0L10 0L10 10L0 10Z";

describe("an address that asks for a make", () => {
  it("begins with just that, and with what a line of its role usually has", () => {
    expect(makeIn(JSON.stringify({ lines: [{ role: "perforation", offset_mm: 4 }] }))).toEqual({
      lines: [{ role: "perforation", offset_mm: 4, cut_mm: 4, tie_mm: 0.5, least_ties: 4 }],
    });
    expect(makeIn("1")).toBeUndefined();
    expect(makeIn("{ ")).toBeUndefined();
  });
});

describe("what is made to begin with", () => {
  it("is what the order asks for, each line where it usually lies", () => {
    const job = aJob({
      order: anOrder({ roles: ["kiss-cut", "perforation"], edge: "border", border_mm: 3 }),
    });
    expect(firstMake(job).lines.map((line) => [line.role, line.offset_mm])).toEqual([
      ["kiss-cut", 3],
      ["perforation", 6],
    ]);
  });

  it("lies inside the colour where this runs over the cut", () => {
    const job = aJob({ order: anOrder({ roles: ["through-cut"], edge: "bleed", bleed_mm: 4 }) });
    expect(firstMake(job).lines[0]?.offset_mm).toBe(-4);
  });

  it("is what the lines of the page were made of, where they were made", () => {
    const made = { lines: [{ role: "kiss-cut", offset_mm: 1 }] };
    const job = aJob();
    const seen = { ...job.seen, made } as unknown as typeof job.seen;
    expect(firstMake({ ...job, seen })).toEqual(made);
  });
});

describe("lines that the file has", () => {
  const drawn = (role: string, made = false) => ({
    role,
    ink: "",
    path: "M0 0L9 0L9 9Z",
    hidden: false,
    made,
  });
  const withLines = (roles: string[], lines: ReturnType<typeof drawn>[]) => {
    const job = aJob({ order: anOrder({ roles: roles as never }) });
    return { ...job, seen: { ...job.seen, drawn: lines } as unknown as typeof job.seen };
  };
  it("are what missing ones are made from", () => {
    const job = withLines(["kiss-cut", "back-cut"], [drawn("kiss-cut")]);
    expect(firstMake(job)).toEqual({
      source: "line",
      line: "kiss-cut",
      lines: [{ role: "back-cut", offset_mm: 1.3 }],
    });
  });
  it("count only where they were not made here", () => {
    expect(rolesInFile(withLines([], [drawn("kiss-cut", true), drawn("through-cut")]))).toEqual([
      "through-cut",
    ]);
  });
});

describe("a line along another", () => {
  const both: Make = { lines: [{ role: "kiss-cut", offset_mm: 2 }, onItself({ role: "kiss-cut" })] };
  it("keeps to it under its new role", () => {
    const next = withLineSet(both, 0, { role: "through-cut", offset_mm: 2 });
    expect(next.lines[1]?.along).toBe("through-cut");
  });
  it("stays where it lay when the other goes", () => {
    expect(withoutLine(both, 0).lines).toEqual([
      { role: "perforation", offset_mm: 2, cut_mm: 4, tie_mm: 0.5, least_ties: 4 },
    ]);
  });
  it("goes with a drawn line", () => {
    expect(usual("back-cut", [{ role: "kiss-cut", drawn: "M 0 0 L 9 9" }])).toEqual({
      role: "back-cut",
      along: "kiss-cut",
      offset_mm: 1.3,
    });
  });
});

describe("an offset", () => {
  const typed = async (offset_mm: number, text: string, side?: string) => {
    const change = vi.fn();
    render(
      <LinePart
        line={{ role: "kiss-cut", offset_mm }}
        made={[]}
        editing={false}
        onChange={change}
        onEdit={vi.fn()}
        onRemove={vi.fn()}
      />,
    );
    if (side) {
      await userEvent.click(screen.getByRole("combobox", { name: "side" }));
      await userEvent.click(screen.getByRole("option", { name: side }));
    }
    const field = screen.getByLabelText("offset, mm");
    await userEvent.clear(field);
    await userEvent.type(field, `${text}{Enter}`);
    return (change.mock.lastCall?.[0] as { offset_mm?: number } | undefined)?.offset_mm;
  };
  it.each([
    [2, "-1", undefined, -1],
    [-2, "-2", undefined, -2],
    [-2, "3", undefined, -3],
    [-2, "+3", undefined, 3],
    [0, "1", "inside", -1],
  ])("of %s with %s typed, side %s, is %s", async (before, text, side, after) => {
    expect(await typed(before, text, side)).toBe(after);
  });
});

describe("a preset", () => {
  const make: Make = {
    keep_at: [[1, 2]],
    bridge_mm: 2,
    lines: [
      { role: "kiss-cut", offset_mm: 3, edits: [{ do: "add", at: [1, 1] }] },
      { role: "kiss-cut", drawn: "M 0 0 L 1 1" },
    ],
  };
  it("has nothing that belongs to one artwork alone", () => {
    expect(asPreset(make)).toEqual({ bridge_mm: 2, lines: [{ role: "kiss-cut", offset_mm: 3 }] });
  });
  it("is called by what it makes", () => {
    expect(presetName(asPreset(make), (role) => role.replace("-", " "))).toBe("3 mm border, round, kiss cut");
  });
});

describe("inner contours", () => {
  it("are turned over, and back again", () => {
    const once = turnedInner({ lines: [] }, [5, 5], true);
    expect(once.drop_at).toEqual([[5, 5]]);
    const twice = turnedInner(once, [5, 5], false);
    expect(twice.drop_at).toBeUndefined();
    expect(twice.keep_at).toEqual([[5, 5]]);
  });

  const found = [1, 20, 300].map((area_mm2, i) => ({ at: [10 * i, 10 * i], area_mm2, kept: true, path: "" }));
  const [small, large] = [found[0], found[2]] as [(typeof found)[0], (typeof found)[0]];

  it("in a box go together, however it was pulled", () => {
    const two: [Point, Point][] = [
      [
        [12, 12],
        [-1, -1],
      ],
      [
        [-1, 12],
        [12, -1],
      ],
    ];
    for (const box of two) expect(inBox(found, box).map((one) => one.area_mm2)).toEqual([1, 20]);
    expect(allInnerTo({ lines: [], keep_at: [[0, 0]] }, found, false)).toEqual({
      lines: [],
      drop_at: found.map((one) => one.at),
    });
  });

  it("that are smaller than one become as it is, by a limit where they are left out", () => {
    const gone = smallerTo({ lines: [], drop_at: [[20, 20]] }, found, { ...large, kept: false });
    expect(gone).toEqual({ lines: [], inner: { drop_below_mm2: 300.01 } });
    const kept = smallerTo({ lines: [], inner: "drop", keep_at: [[20, 20]] }, found, large);
    expect(kept.keep_at).toEqual([
      [0, 0],
      [10, 10],
      [20, 20],
    ]);
    expect(smallerTo({ lines: [], inner: "drop" }, found, { ...small, kept: false }).inner).toBe("drop");
  });
});

describe("geometry", () => {
  it("tells inside from outside, and how far", () => {
    expect(holds(SQUARE, [5, 5])).toBe(true);
    expect(holds(SQUARE, [15, 5])).toBe(false);
    expect(signedDistance(SQUARE, [13, 5])).toBeCloseTo(3);
    expect(signedDistance(SQUARE, [8, 5])).toBeCloseTo(-2);
    expect(rightmost(SQUARE)?.[0]).toBe(10);
  });
  it("moves a node with its handles", () => {
    const nodes: Node[] = [
      [0, 0, -1, 0, 1, 0, 0],
      [9, 0, 8, 0, 10, 0, 0],
    ];
    expect(moved(nodes, 1, [9, 5])[1]).toEqual([9, 5, 8, 5, 10, 5, 0]);
    expect(pathThrough(nodes, false)).toBe("M0 0C1 0 8 0 9 0");
  });
  describe("nodes that a hand has changed", () => {
    const corner = (x: number, y: number): Node => [x, y, x, y, x, y, 1];
    const line = (...nodes: Node[]) => ({ line: 0, closed: true, nodes }) as unknown as MadeLine;
    const square = [line(corner(0, 0), corner(10, 0), corner(10, 10), corner(0, 10))];
    const makeOf = (...edits: Edit[]) => ({ lines: [{ role: "kiss-cut", edits }] }) as unknown as Make;
    const places = (...edits: Edit[]) =>
      nodesNow(square, makeOf(), makeOf(...edits), 0).flatMap((one) =>
        one.nodes.map(([x, y]) => [x, y].join(" ")),
      );
    const up: Edit = { do: "move", at: [10, 0], to: [10, 0.1] };
    const again: Edit = { do: "move", at: [10, 0.1], to: [10, 0.2] };

    it("are where it has left them before the server says so, one change after the other", () => {
      expect(places(up, again)).toEqual(["0 0", "10 0.2", "10 10", "0 10"]);
      expect(places(up, { do: "add", at: [5, 0.05] })).toEqual(["0 0", "5 0.05", "10 0.1", "10 10", "0 10"]);
      expect(places({ do: "add", at: [0, 5] }).at(-1)).toBe("0 5");
      expect(places(up, { do: "delete", at: [10, 0.1] })).toEqual(["0 0", "10 10", "0 10"]);
      expect(places({ do: "delete", at: [5, 5] }), "no node is near").toHaveLength(4);
    });

    it("are the server's as soon as it knows the change, and where one was taken back", () => {
      expect(nodesNow(square, makeOf(up), makeOf(up), 0)).toEqual(square);
      expect(nodesNow(square, makeOf(up, again), makeOf(up), 0)).toEqual(square);
      const [first] = nodesNow(square, makeOf(up), makeOf(up, { do: "move", at: [0, 0], to: [0, 1] }), 0);
      expect(first?.nodes.map(([x, y]) => [x, y])).toEqual([
        [0, 1],
        [10, 0],
        [10, 10],
        [0, 10],
      ]);
    });
  });
  it("draws with the pen, straight and bent", () => {
    const straight = [
      { at: [0, 0] as [number, number], handle: null },
      { at: [4, 0] as [number, number], handle: null },
      { at: [4, 4] as [number, number], handle: [4, 6] as [number, number] },
    ];
    expect(penPath(straight, false)).toBe(
      "M 0.000 0.000 L 4.000 0.000 C 4.000 0.000 4.000 2.000 4.000 4.000",
    );
    expect(penPath(straight, true)).toMatch(/Z$/);
  });
});

describe("the sentence", () => {
  it("takes a figure by Enter and goes up by the arrow key", async () => {
    const change = vi.fn();
    const line = usual("kiss-cut", []);
    render(
      <LinePart
        line={line}
        made={[]}
        editing={false}
        onChange={change}
        onEdit={vi.fn()}
        onRemove={vi.fn()}
      />,
    );
    const field = screen.getByLabelText("offset, mm");
    await userEvent.clear(field);
    await userEvent.type(field, "3,5{Enter}");
    expect(change).toHaveBeenLastCalledWith({ role: "kiss-cut", offset_mm: 3.5 });
    await userEvent.type(field, "{ArrowUp}");
    expect(change).toHaveBeenLastCalledWith({ role: "kiss-cut", offset_mm: 2.5 });
    expect(screen.getByTestId("made").textContent).toBe("Nothing of it yet.");
  });

  it("asks for cuts and ties where a line is perforated", () => {
    const line = usual("perforation", []);
    render(
      <LinePart
        line={line}
        made={[]}
        editing={false}
        onChange={vi.fn()}
        onEdit={vi.fn()}
        onRemove={vi.fn()}
      />,
    );
    expect(screen.getByLabelText<HTMLInputElement>("tie, mm").value).toBe("0.5");
    expect(screen.getByLabelText<HTMLInputElement>("least ties").value).toBe("4");
  });

  it("leaves out what stays as it is by default", async () => {
    const change = vi.fn();
    const make: Make = { bridge_mm: 3, lines: [usual("kiss-cut", [])] };
    render(
      <OutlinePart
        inFile={[]}
        make={make}
        made={null}
        pointing="inner"
        onPointing={vi.fn()}
        onChange={change}
      />,
    );
    const gaps = screen.getByLabelText("gaps bridged up to, mm");
    await userEvent.clear(gaps);
    await userEvent.type(gaps, "0{Enter}");
    expect(change).toHaveBeenLastCalledWith({ lines: make.lines });
  });
});
