// @vitest-environment jsdom
/** The panel of a sheet: what stands there while nothing is laid out, what fits instead, nesting, copies by hand. */
import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { artOf } from "../stage/Art";
import { answer } from "../testing/server";
import { show } from "../testing/show";
import { aLayout, anItem, aSheet, aWork } from "../testing/values";
import { manyCopies, SheetPanel } from "./SheetPanel";
import type { Target } from "./target";

const aTarget = (values: Partial<Target> = {}): Target =>
  ({
    sheets: [aSheet()],
    layout: aLayout(),
    arts: [{ source: artOf(7, "a"), media: [0, 0, 80, 60] }],
    material: "film-1370",
    price: null,
    copies: 24,
    error: "",
    known: true,
    busy: false,
    nesting: null,
    bare: null,
    fits: [],
    rectangles: [],
    change: { run: vi.fn(), isPending: false, error: null },
    nest: { run: vi.fn(), isPending: false, error: null },
    ...values,
  }) as unknown as Target;

function shown(target: Target) {
  answer({ "GET /api/shelf": { materials: [], page_sizes: [], destinations: [] } });
  return show(
    <SheetPanel
      target={target}
      label="Sheet"
      material="film-1370"
      head={<p>the head</p>}
      foot={<p>the foot</p>}
      waiting={<p>not laid out yet</p>}
    />,
  );
}

describe("a sheet", () => {
  it("that is not known yet waits, with its form at hand", () => {
    shown(aTarget({ sheets: [], known: false }));
    expect(screen.getByText("not laid out yet")).toBeTruthy();
    expect(screen.getByRole("region", { name: "layout" })).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Place copies by hand" })).toBeNull();
    expect(screen.getByText("the foot")).toBeTruthy();
  });

  it("says that it is being laid out while it is", () => {
    shown(aTarget({ busy: true }));
    expect(screen.getByText("Laying out…")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Place copies by hand" })).toHaveProperty("disabled", true);
  });

  it("that does not fit offers what would, the best first, each in one press", async () => {
    const run = vi.fn();
    const fits = [
      { words: "On A3", change: { media: { title: "A3" } } },
      { words: "With a gap of 2 mm", change: { gap_mm: 2 } },
    ] as unknown as Target["fits"];
    const person = shown(
      aTarget({
        sheets: [],
        error: "80 × 60 mm does not fit on 70 mm.",
        bare: aSheet({ placements: [] }),
        fits,
        change: { run, isPending: false, error: null },
      }),
    );
    expect(screen.getByText(/does not fit on 70 mm/)).toBeTruthy();
    expect(screen.getByTestId("machine"), "the bare media is shown").toBeTruthy();
    const [best, other] = [
      screen.getByRole("button", { name: "On A3" }),
      screen.getByRole("button", { name: "With a gap of 2 mm" }),
    ];
    expect(best.className).toContain("contained");
    expect(other.className).toContain("outlined");
    await person.click(other);
    expect(run).toHaveBeenCalledWith({ gap_mm: 2 });
  });

  it("shows what nesting has found so far, with what it comes to", () => {
    const result = { placed: [{ matrix: [1, 0, 0, 1, 5, 5], item: 0 }], length_mm: 312.4 };
    shown(aTarget({ price: 10, busy: true, nesting: aWork({ kind: "nest", result }) }));
    expect(
      screen.getByText(/Nested so far: 312 mm, 4.28\. What you see can be kept: press Stop\./),
    ).toBeTruthy();
  });

  it("is one of several, and stays within them when there are fewer", async () => {
    const sheets = [
      aSheet({ count: 3 }),
      aSheet({ number: 2, count: 3, code: "S2" }),
      aSheet({ number: 3, count: 3 }),
    ];
    const person = shown(aTarget({ sheets }));
    await person.click(screen.getByRole("button", { name: "the next sheet" }));
    expect(screen.getByText("Sheet 2 of 3")).toBeTruthy();
    expect(screen.getByText("S2")).toBeTruthy();
  });

  it("shows where cuts may land off when that is asked for", async () => {
    const misplacement = {
      worst_mm: 0.6,
      mean_mm: 0.3,
      at: [90, 10],
      allowed_mm: 0.5,
      side_mm: 20,
      cells: [[10, 10, 0.2]],
    };
    const person = shown(aTarget({ sheets: [aSheet({ misplacement })] }));
    expect(screen.queryByTestId("misplacement")).toBeNull();
    await person.click(screen.getByRole("button", { name: "Show where" }));
    expect(screen.getByTestId("misplacement")).toBeTruthy();
  });

  it("has a rectangle for its marks to be taken hold of, where they stand round one", () => {
    const marks = { ...aLayout().marks, around: [50, 60, 400, 300] };
    shown(aTarget({ layout: aLayout({ marks }) }));
    expect(screen.getByRole("group", { name: "marks" }).textContent).toContain(
      "it can be dragged on the stage",
    );
    cleanup();
    shown(aTarget({ layout: aLayout({ marks, makes: "cut" }) }));
    expect(screen.queryByRole("group", { name: "marks" })).toBeNull();
  });
});

describe("copies by hand on a sheet", () => {
  const TWO = aSheet({
    items: [anItem()],
    item_of: [0, 0],
    columns: 0,
    rows: 0,
    gap_mm: 5,
    placed_of: "print",
    placements: [
      [1, 0, 0, 1, 100, 150],
      [1, 0, 0, 1, 300, 150],
    ],
  });

  it("are chosen by a key, moved, and kept with those of the other sheets", async () => {
    const run = vi.fn();
    const other = aSheet({ number: 2, count: 2, placements: [[1, 0, 0, 1, 40, 160]] });
    const target = aTarget({
      sheets: [{ ...TWO, count: 2 }, other],
      change: { run, isPending: false, error: null },
    });
    const person = shown(target);
    await person.click(screen.getByRole("button", { name: "Place copies by hand" }));
    const stage = screen.getByRole("application");
    expect(screen.queryByRole("region", { name: "layout" }), "all else waits").toBeNull();
    const copy = document.querySelector("[data-copy]");
    expect(copy).toBeTruthy();
    fireEvent.pointerDown(copy as Element, { button: 0, pointerId: 1 });
    fireEvent.pointerUp(copy as Element, { pointerId: 1 });
    await screen.findByText(/1 copy chosen/);
    fireEvent.keyDown(stage, { key: "ArrowRight" });
    fireEvent.keyDown(stage, { key: "ArrowUp", shiftKey: true });
    await person.click(screen.getByRole("button", { name: "Keep them so" }));
    expect(run.mock.lastCall?.[0]).toEqual({
      placed: [
        { matrix: [1, 0, 0, 1, 40, 160], item: 0, sheet: 2 },
        { matrix: [1, 0, 0, 1, 101, 160], item: 0, sheet: 1 },
        { matrix: [1, 0, 0, 1, 300, 150], item: 0, sheet: 1 },
      ],
      placed_of: "print",
    });
  });

  it("are let go, and the form is there again", async () => {
    const person = shown(aTarget({ sheets: [TWO] }));
    await person.click(screen.getByRole("button", { name: "Place copies by hand" }));
    await person.click(screen.getByRole("button", { name: "Let go" }));
    await waitFor(() => expect(screen.getByRole("region", { name: "layout" })).toBeTruthy());
  });

  it("are too many to be placed one by one, and are painted then", () => {
    const many = aSheet({ placements: Array(3_000).fill([1, 0, 0, 1, 0, 0]) });
    shown(aTarget({ sheets: [many] }));
    expect(screen.getByRole("button", { name: "Too many copies to place by hand" })).toHaveProperty(
      "disabled",
      true,
    );
    expect(manyCopies(many, [])).toBeDefined();
    expect(manyCopies(TWO, [])).toBeUndefined();
    expect(manyCopies(undefined, [])).toBeUndefined();
  });
});
