// @vitest-environment jsdom
/** A sheet that jobs share: what lies on it, what would fit, copies by hand, its release. */
import { screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { Route, Routes } from "react-router";
import type { JobRow, Shared } from "../api/client";
import { answer, asked, forget, Refusal } from "../testing/server";
import { show } from "../testing/show";
import { aJob, anItem, aSheet, aLayout } from "../testing/values";
import { SharedPage } from "./SharedPage";

beforeEach(forget);

const row = (values: Partial<JobRow>): JobRow => aJob(values as Parameters<typeof aJob>[0]) as JobRow;
const aShare = (values: Partial<Shared["shares"][number]> = {}): Shared["shares"][number] => ({
  job: row({ id: 7, name: "Round seals" }),
  quantity: 2,
  ordered: 6,
  free: 6,
  turn: "quarter",
  revision: 1,
  changed: "",
  current: true,
  ...values,
});

const aShared = (values: Partial<Shared> = {}): Shared => ({
  id: 3,
  name: "Friday roll",
  version: 5,
  material_id: "film-1370",
  material: "White film, roll 1370 mm",
  destination: "house",
  price_m2: 6.5,
  layout: aLayout(),
  shares: [aShare()],
  offered: [],
  sheets: [
    aSheet({
      columns: 0,
      length_mm: 500,
      items: [anItem({ copies: 2 })],
      placements: [
        [1, 0, 0, 1, 50, 160],
        [1, 0, 0, 1, 150, 160],
      ],
    }),
  ],
  cuts: [],
  error: "",
  found: "abc",
  current: true,
  busy: false,
  stops: 0,
  released: false,
  release_ids: [],
  work: null,
  rehearsal: null,
  rehearsal_stop: "",
  log: [],
  ...values,
});

const opened = (sheet: Shared) => {
  answer({
    "GET /api/shared-sheets/3": sheet,
    "GET /api/shelf": { materials: [], destinations: [], tools: [], page_sizes: [], may_edit: false },
    "PATCH /api/shared-sheets/3": sheet,
  });
  return show(
    <Routes>
      <Route path="/shared/:id" element={<SharedPage />} />
    </Routes>,
    [],
    "/shared/3",
  );
};
const patched = () => asked.findLast(({ to }) => to === "PATCH /api/shared-sheets/3")?.body;

describe("what lies on it", () => {
  it("is told with what is ordered, what waits, what stops it and what was made again", async () => {
    opened(
      aShared({
        shares: [
          aShare({ job: row({ stops: 1, holds: "The name is a miss." }), changed: "“Seals” has changed." }),
        ],
        stops: 1,
      }),
    );
    const share = (await screen.findByRole("list", { name: "jobs on the sheet" })).textContent;
    for (const words of ["of 6", "4 more wait", "The name is a miss.", "“Seals” has changed."])
      expect(share).toContain(words);
    expect(screen.getByRole("button", { name: "Release the sheet" })).toHaveProperty("disabled", true);
    expect(screen.getByText("4.45"), "1370 × 500 mm at 6.50 a square metre").toBeTruthy();
  });

  it("is changed in number, and taken off, but never to nothing", async () => {
    const person = opened(aShared({ shares: [aShare(), aShare({ job: row({ id: 8, name: "Dots" }) })] }));
    const field = await screen.findByLabelText("copies of Round seals");
    await person.clear(field);
    await person.type(field, "4{Enter}");
    await waitFor(() =>
      expect(patched()).toEqual({
        version: 5,
        shares: [
          { job: 7, quantity: 4, turn: "quarter" },
          { job: 8, quantity: 2, turn: "quarter" },
        ],
      }),
    );
    await person.click(screen.getByRole("button", { name: "take Dots off" }));
    await waitFor(() => expect(patched()).toMatchObject({ shares: [{ job: 7 }] }));
  });

  it("is what one wants it to be: what would fit is put on", async () => {
    const person = opened(aShared({ offered: [{ job: row({ id: 9, name: "Terns", stops: 2 }), free: 12 }] }));
    await person.click(await screen.findByRole("tab", { name: "Would fit · 1" }));
    expect(screen.getByText(/12 copies/).textContent).toContain("2 stops open");
    await person.click(screen.getByRole("button", { name: "put Terns on the sheet" }));
    await waitFor(() =>
      expect(patched()).toMatchObject({ shares: [{ job: 7 }, { job: 9, quantity: 12, turn: "quarter" }] }),
    );
  });

  it("says where nothing else waits, and why it cannot be shown", async () => {
    const person = opened(aShared());
    await person.click(await screen.findByRole("tab", { name: "Would fit · 0" }));
    expect(screen.getByText(/No other job waits/)).toBeTruthy();
    expect(screen.getByRole("button", { name: "Release the sheet" })).toHaveProperty("disabled", false);
  });

  it("names a sheet that is not there, with a way back", async () => {
    answer({ "GET /api/shared-sheets/3": new Refusal(404, "There is no shared sheet 3 here.") });
    show(
      <Routes>
        <Route path="/shared/:id" element={<SharedPage />} />
      </Routes>,
      [],
      "/shared/3",
    );
    expect((await screen.findByRole("alert")).textContent).toContain("There is no shared sheet 3 here.");
    expect(screen.getByRole("link", { name: "Back to the Desk" })).toBeTruthy();
  });
});

describe("copies by hand", () => {
  it("are chosen and moved by keys, told of when they lie too near, and kept where they were put", async () => {
    const person = opened(aShared());
    await person.click(await screen.findByRole("button", { name: "Place copies by hand" }));
    const [first, second] = screen.getAllByRole("button", { name: /^copy/ });
    expect(screen.getByRole("button", { name: "Keep them so" })).toHaveProperty("disabled", true);
    second?.focus();
    await person.keyboard("{Enter}{Shift>}{ArrowLeft}{ArrowLeft}{/Shift}");
    expect(screen.getByRole("alert").textContent).toContain("2 copies lie too near");
    expect(first?.getAttribute("aria-label")).toContain("too near to another");
    await person.click(screen.getByRole("button", { name: "Step back" }));
    await person.keyboard("r");
    await person.click(screen.getByRole("button", { name: "Keep them so" }));
    await waitFor(() => {
      const { placed } = patched() as { placed: { matrix: number[]; sheet: number }[] };
      expect(placed.map((copy) => copy.sheet)).toEqual([1, 1]);
      expect(placed[0]?.matrix).toEqual([1, 0, 0, 1, 50, 160]);
      // one step of 10 mm to the left stands
      expect(placed[1]?.matrix[4]).toBeCloseTo(140, 9);
    });
  });

  it("stay under the hand where the server refuses them", async () => {
    const person = opened(aShared());
    await person.click(await screen.findByRole("button", { name: "Place copies by hand" }));
    const copy = screen.getAllByRole("button", { name: /^copy/ })[1];
    copy?.focus();
    await person.keyboard("{Enter}{ArrowUp}");
    const moved = copy?.getAttribute("d");
    answer({
      "PATCH /api/shared-sheets/3": new Refusal(409, "“Friday roll” was changed after you had looked."),
    });
    await person.click(screen.getByRole("button", { name: "Keep them so" }));
    expect(await screen.findByText(/was changed after you had looked/)).toBeTruthy();
    expect(screen.getAllByRole("button", { name: /^copy/ })[1]?.getAttribute("d")).toBe(moved);
  });

  it("are let go without a trace", async () => {
    const person = opened(aShared());
    await person.click(await screen.findByRole("button", { name: "Place copies by hand" }));
    screen.getAllByRole("button", { name: /^copy/ })[0]?.focus();
    await person.keyboard("{Enter}{ArrowUp}");
    await person.click(screen.getByRole("button", { name: "Let go" }));
    expect(await screen.findByRole("button", { name: "Place copies by hand" })).toBeTruthy();
    expect(patched()).toBeUndefined();
  });
});
