// @vitest-environment jsdom
import { screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { JobRow } from "../api/client";
import { answer, Refusal } from "../testing/server";
import { show } from "../testing/show";
import { aJob, aWork } from "../testing/values";
import { Desk } from "./Desk";

const rows = (...jobs: Partial<JobRow>[]) =>
  jobs.map((job, i) => aJob({ id: i + 1, ...job } as Parameters<typeof aJob>[0]) as JobRow);
const names = () => screen.getAllByRole("listitem").map((row) => row.querySelector("p")?.textContent);

describe("the Desk", () => {
  it("does not count what it does not know yet", () => {
    answer({ "GET /api/jobs": [] });
    show(<Desk />);
    expect(screen.getByRole("button", { name: "all · …" })).toBeTruthy();
    expect(screen.getByLabelText("loading")).toBeTruthy();
  });

  it("says so when there is nothing, and when nothing fits", async () => {
    answer({ "GET /api/jobs": rows({ name: "Seals" }) });
    const person = show(<Desk />);
    expect(await screen.findByRole("button", { name: "all · 1" })).toBeTruthy();
    await person.type(screen.getByLabelText("Search"), "tern");
    expect(screen.getByText("No job fits the filter.")).toBeTruthy();
  });

  it("says why it cannot show the jobs", async () => {
    answer({ "GET /api/jobs": new Refusal(503, "The server is being restarted.") });
    show(<Desk />);
    expect((await screen.findByRole("alert")).textContent).toContain("is being restarted");
  });

  it("filters by state and finds by name or customer", async () => {
    answer({
      "GET /api/jobs": rows(
        { name: "Open", asks: 1, stops: null, looks: null },
        { name: "Halted", stops: 2, looks: 1 },
        { name: "Doubtful", stops: 0, looks: 3 },
        { name: "Done", reached: 5, customer: "Tideway" },
      ),
    });
    const person = show(<Desk />);
    for (const [filter, expected] of [
      ["asks something · 1", ["Open"]],
      ["stopped · 1", ["Halted"]],
      ["to look at · 1", ["Doubtful"]],
      ["ready to cut · 1", ["Done"]],
      ["all · 4", ["Open", "Halted", "Doubtful", "Done"]],
    ] as const) {
      await person.click(await screen.findByRole("button", { name: filter }));
      expect(names()).toEqual(expected);
    }
    await person.type(screen.getByLabelText("Search"), "tideWAY");
    expect(names()).toEqual(["Done"]);
  });

  it("shows what holds a job up, or how far the work on it is", async () => {
    answer({
      "GET /api/jobs": rows(
        { name: "Halted", stops: 2, holds: "Too little bleed.", due: null },
        { name: "Worked on", id: 9 },
      ),
    });
    show(<Desk />, [aWork({ job_id: 9, share: 0.4, what: "checking lines" })]);
    expect((await screen.findByText(/Too little bleed/)).textContent).toBe("2 stops: Too little bleed.");
    expect(screen.getByText("no date")).toBeTruthy();
    expect(screen.getByText("due 03.02")).toBeTruthy();
    expect(screen.getByText("checking lines")).toBeTruthy();
    expect(screen.getByLabelText("progress of Worked on").getAttribute("aria-valuenow")).toBe("40");
  });
});
