// @vitest-environment jsdom
/** A row of the Desk: what was ordered in a line, how far the job is, what holds it up or is under way. */
import { screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { JobRow, Work } from "../api/client";
import { STATIONS, stationAt } from "../job/stations/names";
import { answer, asked } from "../testing/server";
import { show } from "../testing/show";
import { aJob, anOrder, aWork } from "../testing/values";
import { orderLine } from "./orderLine";
import { Row } from "./Row";

const row = (values: Partial<JobRow> = {}, works: Work[] = []) =>
  show(<Row job={{ ...aJob(), ...values }} />, works);

describe("a row", () => {
  it("leads to its job, and says whose it is and what was ordered", () => {
    row();
    expect(screen.getByRole("link")).toHaveProperty("pathname", "/jobs/7");
    expect(screen.getByRole("link").textContent).toContain("Dune Press · 24 of 80 × 60 mm");
  });

  it.each([
    [0, "0 of 5 stations done"],
    [4, "4 of 5 stations done"],
    [5, "5 of 5 stations done"],
  ])("counts the stations that are done: %i", (reached, words) => {
    row({ reached });
    const pips = screen.getByRole("img", { name: words });
    expect([...pips.children].map((pip) => pip.getAttribute("title"))).toEqual([
      "Check",
      "Lines",
      "Sheet",
      "Cut",
      "Release",
    ]);
  });

  it("tells what was done by itself, and takes it back by one press", async () => {
    answer({ "POST /api/jobs/7/undo": aWork() });
    const person = row({ did: ["Rename to Kiss Cut", "Overprint"], version: 1 });
    expect(screen.getByText("Done by itself: Rename to Kiss Cut, Overprint.")).toBeTruthy();
    await person.click(screen.getByRole("button", { name: /^take back what was done to/ }));
    await waitFor(() =>
      expect(asked.find((one) => one.to === "POST /api/jobs/7/undo")?.body).toEqual({ version: 1 }),
    );
  });

  it("takes nothing back while the last of its taking in still runs: the press would be refused", () => {
    row({ did: ["Overprint"], work: aWork() }, [aWork()]);
    expect(screen.getByRole("button", { name: /^take back/ })).toHaveProperty("disabled", true);
  });

  it("says what holds the job up, with its stops before it", () => {
    row({ stops: 2, holds: "Colour ends too soon." });
    expect(screen.getByText(/Colour ends too soon/).textContent).toBe("2 stops: Colour ends too soon.");
  });

  it("says instead what is being done, and how far it is", () => {
    row({ work: aWork({ share: 0.25 }) }, [aWork({ share: 0.25 })]);
    expect(screen.getByText("reading the artwork")).toBeTruthy();
    expect(screen.getByLabelText("progress of Round seals").getAttribute("aria-valuenow")).toBe("25");
    expect(screen.queryByText("Ready to release")).toBeNull();
  });

  it("tells the day it is due, or that nobody said one", () => {
    row();
    expect(screen.getByText("due 03.02")).toBeTruthy();
    document.body.innerHTML = "";
    row({ due: null });
    expect(screen.getByText("no date")).toBeTruthy();
  });

  it("names the lines of the order by their signs", () => {
    row({ roles: ["kiss-cut", "back-cut"] });
    expect(screen.getByText("kiss cut")).toBeTruthy();
    expect(screen.getByText("back cut")).toBeTruthy();
  });
});

describe("an order in a line", () => {
  it("leaves out what nobody said", () => {
    const bare = orderLine(aJob({ order: anOrder({ width_mm: null, height_mm: null }), size_mm: [] }));
    expect(bare).toContain("24");
    expect(bare).not.toContain("null");
    expect(bare).not.toContain("undefined");
  });
});

describe("the stations", () => {
  it("are found by the address that names them, and by no other", () => {
    expect(STATIONS.map(([key]) => stationAt(key))).toEqual(STATIONS.map(([key]) => key));
    expect(stationAt("elsewhere")).toBeUndefined();
  });
});
