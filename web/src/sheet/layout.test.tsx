// @vitest-environment jsdom
/** The form of a layout: what is set takes effect by itself, can be undone, and says what it still wants. */
import { act, fireEvent, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Media } from "../api/client";
import { answer } from "../testing/server";
import { show } from "../testing/show";
import { aLayout, aSheet } from "../testing/values";
import { LayoutForm } from "./LayoutForm";
import { MediaPart } from "./MediaPart";
import type { LayoutChange, Target } from "./target";
import { useForm } from "./useForm";

const SHELF = {
  materials: [
    {
      id: "film-1370",
      media: [
        { id: 3, title: "Film", width_mm: 1370, length_mm: 8000, roll: true, left_by: "", loaded: true },
        { id: 4, title: "Rest", width_mm: 600, length_mm: 450, roll: false, left_by: "Seals", loaded: false },
      ],
    },
  ],
  page_sizes: [{ name: "A3", width_mm: 297, length_mm: 420 }],
};

type Run = (change: LayoutChange, done?: () => void, refused?: () => void) => void;

const aTarget = (run: Run, values: Partial<Target> = {}): Target =>
  ({
    sheets: [aSheet()],
    layout: aLayout(),
    arts: [],
    rectangles: [],
    change: { run, isPending: false, error: null },
    ...values,
  }) as unknown as Target;

function Shown({ target }: { target: Target }) {
  const state = useForm(target);
  return (
    <>
      <LayoutForm target={target} sheet={target.sheets[0]} state={state} material="film-1370" />
      <button disabled={!state.undo} onClick={() => state.undo?.()}>
        Undo
      </button>
      {state.waits && <p>not yet in effect</p>}
    </>
  );
}

const choose = (label: string, words: string) => {
  fireEvent.mouseDown(
    screen.getByLabelText(label).parentElement?.querySelector('[role="combobox"]') as Element,
  );
  fireEvent.click(screen.getByRole("option", { name: words }));
};
const still = () => act(() => vi.advanceTimersByTimeAsync(450));
const type = (label: string, text: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value: text } });

describe("what is set of a layout", () => {
  beforeEach(() => {
    vi.useFakeTimers({ shouldAdvanceTime: true });
    answer({ "GET /api/shelf": SHELF });
  });
  afterEach(() => void vi.useRealTimers());

  it("takes effect once the hand is still, as one change", async () => {
    const run = vi.fn<Run>();
    show(<Shown target={aTarget(run)} />);
    type("Columns", "3");
    await act(() => vi.advanceTimersByTimeAsync(200));
    type("Columns", "31");
    expect(run).not.toHaveBeenCalled();
    expect(screen.getByText("not yet in effect")).toBeTruthy();
    await still();
    expect(run).toHaveBeenCalledOnce();
    expect(run.mock.lastCall?.[0]).toMatchObject({
      columns: 31,
      gap_mm: null,
      turned: null,
      fill: "quantity",
    });
  });

  it("takes figures alone for columns, and asks nothing of a sheet without any", async () => {
    const run = vi.fn<Run>();
    show(<Shown target={aTarget(run)} />);
    type("Columns", "4 across");
    expect(screen.getByLabelText("Columns")).toHaveProperty("value", "4");
    type("Columns", "0");
    await still();
    expect(run, "no columns are none").not.toHaveBeenCalled();
    type("Columns", "");
    await still();
    expect(run.mock.lastCall?.[0]).toMatchObject({ columns: null });
  });

  it("is undone step by step, and what an undo brings back is no step", async () => {
    const run = vi.fn<Run>((_, done) => done?.());
    show(<Shown target={aTarget(run)} />);
    expect(screen.getByRole("button", { name: "Undo" })).toHaveProperty("disabled", true);
    type("Columns", "3");
    await still();
    fireEvent.click(screen.getByRole("button", { name: "Undo" }));
    expect(screen.getByLabelText("Columns")).toHaveProperty("value", "");
    await still();
    expect(run.mock.lastCall?.[0]).toMatchObject({ columns: null });
    expect(screen.getByRole("button", { name: "Undo" })).toHaveProperty("disabled", true);
  });

  it("stays in its field where it was refused, and is not sent again by itself", async () => {
    const run = vi.fn<Run>((_, __, refused) => refused?.());
    show(<Shown target={aTarget(run, {})} />);
    type("Columns", "900");
    await still();
    await still();
    expect(run).toHaveBeenCalledOnce();
    expect(screen.getByLabelText("Columns")).toHaveProperty("value", "900");
    expect(screen.queryByText("not yet in effect")).toBeNull();
  });

  it("asks which length is to be filled before it sends anything", async () => {
    const run = vi.fn<Run>();
    show(<Shown target={aTarget(run)} />);
    choose("how many copies", "as many as fill that length");
    await still();
    expect(screen.getByRole("alert").textContent).toContain("Which length is to be filled?");
    expect(run).not.toHaveBeenCalled();
  });

  it("takes effect all the same where somebody goes elsewhere at once", async () => {
    const run = vi.fn<Run>();
    show(<Shown target={aTarget(run)} />);
    type("Columns", "5");
    (await import("@testing-library/react")).cleanup();
    expect(run.mock.lastCall?.[0]).toMatchObject({ columns: 5 });
  });

  it("has no rows and columns where copies were placed one by one, and a way back to them", () => {
    const run = vi.fn<Run>();
    const placed = [{ matrix: [1, 0, 0, 1, 0, 0], item: 0, sheet: 1 }];
    show(<Shown target={aTarget(run, { layout: aLayout({ placed }) })} />);
    expect(screen.queryByLabelText("Columns")).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "Back to rows and columns" }));
    expect(run).toHaveBeenCalledWith({ columns: null, gap_mm: null, turned: null });
  });

  it("wants no marks where it goes through one machine alone, and a frame only where it is only cut", async () => {
    const run = vi.fn<Run>();
    show(<Shown target={aTarget(run)} />);
    expect(screen.getByRole("group", { name: "marks" })).toBeTruthy();
    choose("makes", "cut only, nothing is printed");
    expect(screen.queryByRole("group", { name: "marks" })).toBeNull();
    expect(screen.getByLabelText(/weeding frame/)).toBeTruthy();
    choose("makes", "printed only, nothing is cut");
    expect(screen.queryByLabelText(/weeding frame/)).toBeNull();
    choose("order of inks", "colour, white, varnish");
    await still();
    expect(run.mock.lastCall?.[0]).toMatchObject({
      makes: "print",
      frame_mm: null,
      inks: ["colour", "white", "varnish"],
    });
  });
});

describe("what is loaded", () => {
  const loaded = async (media: Media | null, material = "film-1370") => {
    answer({ "GET /api/shelf": SHELF });
    const onMedia = vi.fn();
    show(<MediaPart material={material} media={media} onMedia={onMedia} />);
    await vi.waitFor(() => {
      fireEvent.mouseDown(screen.getByRole("combobox", { name: /What is loaded/ }));
      expect(screen.getAllByRole("option").length).toBeGreaterThan(2);
    });
    return onMedia;
  };

  it("is a roll or an offcut of the material from the Shelf, with what is left of it", async () => {
    const onMedia = await loaded(null);
    expect(screen.getByRole("option", { name: "Film, 1370 × 8000 mm · loaded" })).toBeTruthy();
    fireEvent.click(screen.getByRole("option", { name: "Rest, 600 × 450 mm, left by Seals" }));
    expect(onMedia).toHaveBeenCalledWith({
      title: "Rest",
      width_mm: 600,
      length_mm: 450,
      roll: false,
      turned: false,
    });
  });

  it("is a page size, any size, or the material as it usually comes", async () => {
    const onMedia = await loaded({ title: "A3", width_mm: 297, length_mm: 420, roll: false, turned: false });
    fireEvent.click(screen.getByRole("option", { name: "the material as it usually comes" }));
    expect(onMedia).toHaveBeenLastCalledWith(null);
    fireEvent.mouseDown(screen.getByRole("combobox", { name: /What is loaded/ }));
    fireEvent.click(screen.getByRole("option", { name: "any other size" }));
    expect(onMedia).toHaveBeenLastCalledWith(expect.objectContaining({ title: "Free size", roll: false }));
  });

  it("lists what there is of its own material alone", async () => {
    await loaded(null, "floor-1370");
    expect(screen.queryByRole("option", { name: /Film/ })).toBeNull();
    expect(screen.getByRole("option", { name: "A3, 297 × 420 mm" })).toBeTruthy();
  });

  it("is a sheet that can be loaded with its other edge first", async () => {
    answer({ "GET /api/shelf": SHELF });
    const onMedia = vi.fn();
    const media = { title: "A3", width_mm: 297, length_mm: 420, roll: false, turned: false };
    show(<MediaPart material="film-1370" media={media} onMedia={onMedia} />);
    choose("how the sheet is loaded", "long edge first");
    expect(onMedia).toHaveBeenCalledWith({ ...media, turned: true });
  });
});
