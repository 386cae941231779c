// @vitest-environment jsdom
/** What was released: packages with their files, what was measured on them, and what was done before. */
import { cleanup, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Job, LineFormat } from "../api/client";
import { asked, answer } from "../testing/server";
import { show } from "../testing/show";
import { aFinding, aJob, aSheet } from "../testing/values";
import { aRelease } from "../testing/bench";
import { AlsoAs } from "./release/AlsoAs";
import { Release } from "./stations/Release";
import { nearestRole } from "./viewState";

const released = (job: Partial<Job> = {}) => show(<Release job={aJob(job)} />);

describe("what is released", () => {
  it("is so many copies, on as many sheets as it takes", () => {
    const two = aSheet({ placements: Array(5).fill([1, 0, 0, 1, 0, 0]), count: 2 });
    released({ sheet: two, more_sheets: [aSheet({ number: 2, count: 2 })] });
    expect(screen.getByRole("button", { name: "Release 6 copies" })).toHaveProperty("disabled", false);
    expect(screen.getByText(/A package for each of 2 sheets/)).toBeTruthy();
  });

  it.each([
    ["both", /print PDF \(art and marks/],
    ["cut", /nothing is printed. Writes the cut file and the ticket/],
    ["print", /nothing is cut. Writes the print PDF and the ticket/],
  ] as const)("is written as it goes through the machines: %s", (makes, words) => {
    released({ sheet: aSheet({ makes }) });
    expect(screen.getByText(words)).toBeTruthy();
    expect(screen.queryAllByText("Lines also as")).toHaveLength(makes === "print" ? 0 : 1);
  });

  it("is written in further formats where they are wanted", async () => {
    answer({ "POST /api/jobs/7/release": { id: 5 } });
    const person = released();
    await person.click(screen.getByRole("checkbox", { name: "DXF" }));
    await person.click(screen.getByRole("checkbox", { name: "ISO 6983 code" }));
    await person.click(screen.getByRole("checkbox", { name: "DXF" }));
    await person.click(screen.getByRole("button", { name: /^Release 1 copy/ }));
    await waitFor(() =>
      expect(asked.find((one) => one.to === "POST /api/jobs/7/release")?.body).toMatchObject({
        also: ["gcode"],
        revision: 1,
        found: "f".repeat(64),
      }),
    );
  });

  it.each([
    ["it was released just so", { released: true }],
    ["what was found is of before", { current: false }],
    ["it does not fit", { sheet: aSheet({ error: "Does not fit on the film." }) }],
    ["a stop is open", { findings: [aFinding()] }],
    ["nothing is laid out yet", { sheet: null }],
  ] as [string, Partial<Job>][])("is not offered where %s", (_, job) => {
    released(job);
    expect(screen.getByRole("button", { name: /^Release/ })).toHaveProperty("disabled", true);
  });

  it("is offered where a stop was accepted by a person", () => {
    released({ findings: [aFinding({ decision: { who: "ada" } as never })] });
    expect(screen.getByRole("button", { name: /^Release/ })).toHaveProperty("disabled", false);
  });
});

describe("a package", () => {
  const files = [
    { name: "seals-print.pdf", bytes: 120_000, sha256: "a" },
    { name: "seals-cut.plt", bytes: 900, sha256: "b" },
  ];
  const made = (values: object) => aRelease({ files, worst_off_mm: 0.0123, ...values } as never);

  it("lists its files to be taken, how exact the cut is as written, and leads to the bench", () => {
    released({
      releases: [made({})],
      log: [{ when: "2027-02-03T09:00:00Z", who: "ada", what: "Released" }] as never,
    });
    const own = document.querySelector('[data-release="5"]') as HTMLElement;
    expect(within(own).getByRole("link", { name: "seals-cut.plt" }).getAttribute("href")).toBe(
      "/api/bench/5/files/seals-cut.plt",
    );
    expect(own.textContent).toContain("0.0123 mm");
    expect(within(own).getByRole("link", { name: "Go to the bench" }).getAttribute("href")).toBe(
      "/bench?release=5",
    );
    expect(screen.getByText(/ada: Released/)).toBeTruthy();
  });

  it("says which sheet it is of, and that others share it", () => {
    released({ releases: [made({ sheets_in_all: 3, sheet_number: 2, shared_id: 4 })] });
    expect(screen.getByText(/sheet 2 of 3, shared with other jobs/)).toBeTruthy();
  });

  it("says whether its print follows the standard, and what keeps it from that", () => {
    released({ releases: [made({ pdf_x: { standard: "PDF/X-4", follows: true, hindered_by: [] } })] });
    expect(screen.getByText("The print PDF follows")).toBeTruthy();
    cleanup();
    const hindered = { standard: "PDF/X-4", follows: false, hindered_by: ["1 object is in RGB"] };
    released({ releases: [made({ pdf_x: hindered })] });
    expect(screen.getByText(/does not follow PDF\/X-4: 1 object is in RGB./)).toBeTruthy();
  });
});

describe("formats for the lines", () => {
  it("are all but the one that every package has", async () => {
    const onFormats = vi.fn();
    const formats: LineFormat[] = ["svg"];
    const person = show(<AlsoAs formats={formats} onFormats={onFormats} />);
    expect(screen.queryByRole("checkbox", { name: "HP-GL" })).toBeNull();
    await person.click(screen.getByRole("checkbox", { name: "PDF" }));
    expect(onFormats).toHaveBeenLastCalledWith(["svg", "pdf"]);
    await person.click(screen.getByRole("checkbox", { name: "SVG" }));
    expect(onFormats).toHaveBeenLastCalledWith([]);
  });
});

describe("the line under the hand", () => {
  const job = aJob({
    seen: {
      drawn: [
        { role: "kiss-cut", path: "M0 0L100 0", ink: "", hidden: false, made: false },
        { role: "through-cut", path: "M0 4L100 4", ink: "", hidden: false, made: false },
      ],
    } as unknown as Job["seen"],
  });

  it("is the nearest of those within reach", () => {
    expect(nearestRole(job, [50, 1.5], 3)).toBe("kiss-cut");
    expect(nearestRole(job, [50, 2.6], 3)).toBe("through-cut");
    expect(nearestRole(job, [50, 20], 3)).toBeNull();
    expect(nearestRole(aJob(), [50, 1], 3)).toBeNull();
  });
});
