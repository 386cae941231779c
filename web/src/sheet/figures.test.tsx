// @vitest-environment jsdom
/** What a sheet comes to, what the machine needs of the media, and which of several sheets is shown. */
import { cleanup, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Sheet } from "../api/client";
import { show } from "../testing/show";
import { aLayout, anItem, aSheet } from "../testing/values";
import { MediaLook } from "./MediaLook";
import { Pager } from "./Pager";
import { costOf, SheetFigures, SheetNotes } from "./SheetFigures";
import { onSheet, type Target } from "./target";

const aTarget = (sheets: Sheet[], values: Partial<Target> = {}): Target =>
  ({ sheets, layout: aLayout(), price: null, ...values }) as unknown as Target;
const figures = (sheet: Sheet, values: Partial<Target> = {}, all = [sheet]) => {
  show(<SheetFigures target={aTarget(all, values)} sheet={sheet} />);
  return document.body.textContent ?? "";
};

describe("what a sheet comes to", () => {
  it("is told in rows and columns, with media, waste and the room that the machine needs", () => {
    const text = figures(aSheet({ placements: Array(8).fill([1, 0, 0, 1, 0, 0]) }));
    expect(text).toContain("Copies8 in 4 columns, 2 rows");
    expect(text).toContain("Media used1370 mm × 400 mm");
    expect(text).toContain("Waste20.0 %");
    expect(text).toContain("Leader, trailer100 mm, 50 mm");
    expect(text, "nobody said a price").not.toContain("costs");
  });

  it("of nested copies is told beside rows and columns, in media and in money", () => {
    const text = figures(aSheet({ columns: 0, rows: 0, rows_mm: 500 }), { price: 4 });
    expect(text).toContain("1, in rows");
    expect(text).toContain("In rows and columns it would be500 mm");
    expect(text).toContain("Media costs2.19, in rows 2.74");
  });

  it("costs what all of its sheets cost", () => {
    expect(costOf(aSheet(), 1000, 4.5)).toBeCloseTo(1.37 * 4.5, 9);
    const two = [aSheet({ count: 2 }), aSheet({ number: 2, count: 2 })];
    expect(figures(two[0] as Sheet, { price: 10 }, two)).toContain("Media costs10.96");
  });

  it("names what of several jobs lies on it, where they lie on several sheets", () => {
    const items = [anItem({ name: "Seals", copies: 3 }), anItem({ name: "Cards", copies: 5 })];
    expect(figures(aSheet({ items, count: 2 }))).toContain("· Seals3· Cards5");
    cleanup();
    expect(figures(aSheet({ items, count: 1 }))).not.toContain("· Seals");
  });

  it("says what it goes through where that is one machine alone", () => {
    const cut = figures(aSheet({ makes: "cut" }));
    expect(cut).toContain("It iscut only");
    expect(cut).not.toContain("Marks");
    expect(cut).not.toContain("Inks");
    cleanup();
    const print = figures(aSheet({ makes: "print", mirrored: true }));
    expect(print).toContain("Printedthe other way round");
    expect(print).toContain("white, colour, varnish");
  });

  it("warns of copies that lie on no sheet, of what was not ordered, and of what else is to be known", () => {
    expect(figures(aSheet({ left: 4 }))).toContain("4 copies of the order lie on no sheet.");
    cleanup();
    const items = [anItem({ left_out: ["crease"] }), anItem({ name: "Cards" })];
    show(<SheetNotes sheet={aSheet({ items, notes: ["The film is glossy."] })} />);
    const said = screen.getAllByRole("alert").map((one) => one.textContent);
    expect(said).toEqual([
      "Not on the sheet, since not ordered: crease of “Round seals”",
      "The film is glossy.",
    ]);
  });
});

describe("the media before the machine", () => {
  const look = (sheet: Sheet, k: number) =>
    show(
      <svg>
        <MediaLook sheet={sheet} view={{ k, x: 0, y: 0 }} />
      </svg>,
    );

  it("has a roller on either side, as far in as the machine says", () => {
    look(aSheet(), 1);
    const [left, right] = screen.getAllByTestId("roller");
    expect(Number(left?.getAttribute("x"))).toBe(4.5);
    expect(Number(right?.getAttribute("x"))).toBeCloseTo(1370 - 20.5, 9);
  });

  it("says in words what each part of it is for, where there is room for them", () => {
    look(aSheet(), 1);
    const text = screen.getByTestId("machine").textContent;
    expect(text).toContain("leader 100 mm; rollers on both sides");
    expect(text).toContain("room for the head 20 mm");
    expect(text).toContain("fed out 30 mm, then cut off");
    expect(text).toContain("this edge goes in first");
    cleanup();
    look(aSheet(), 0.1);
    expect(screen.getByTestId("machine").textContent, "no words larger than what they name").toBe("");
  });

  it("of a sheet is not cut off behind", () => {
    look(aSheet({ endless: false }), 1);
    expect(screen.getByTestId("machine").textContent).toContain("trailer 50 mm");
  });
});

describe("several sheets", () => {
  it("are gone through one by one, and one alone needs nothing for it", async () => {
    const onShow = vi.fn();
    const person = show(<Pager count={3} shown={1} onShow={onShow} />);
    expect(screen.getByText("Sheet 1 of 3")).toBeTruthy();
    expect(screen.getByRole("button", { name: "the sheet before" })).toHaveProperty("disabled", true);
    await person.click(screen.getByRole("button", { name: "the next sheet" }));
    expect(onShow).toHaveBeenCalledWith(2);
    cleanup();
    show(<Pager count={1} shown={1} onShow={onShow} />);
    expect(screen.queryByRole("group", { name: "sheets" })).toBeNull();
  });

  it("show a rectangle of the art round all copies of it", () => {
    const placements = [
      [1, 0, 0, 1, 10, 20],
      [0, 1, -1, 0, 200, 20],
    ];
    expect(onSheet([[0, 0, 40, 30]], aSheet({ placements }))).toEqual([[10, 20, 200, 60]]);
    expect(onSheet([[0, 0, 40, 30]], aSheet({ placements: [] }))).toEqual([]);
  });
});
