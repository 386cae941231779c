// @vitest-environment jsdom
import { useQueryClient } from "@tanstack/react-query";
import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { JobRow } from "../api/client";
import { answer, Refusal } from "../testing/server";
import { show } from "../testing/show";
import { aJob, aWork } from "../testing/values";
import { Desk } from "./Desk";

const rows = (...jobs: Partial<JobRow>[]) =>
  jobs.map((job, i) => aJob({ id: i + 1, ...job } as Parameters<typeof aJob>[0]) as JobRow);
const names = () => screen.getAllByRole("listitem").map((row) => row.querySelector("p")?.textContent);

/** A server with these jobs: it finds by name and gives pages, as the real one does. */
const desk = (found: JobRow[], counts: Record<string, number> = {}) => {
  const fitting = (query: URLSearchParams) =>
    found.filter((job) => `${job.name} ${job.customer}`.toLowerCase().includes(query.get("search") ?? ""));
  answer({
    "GET /api/customers": [],
    "GET /api/jobs/counts": (query: URLSearchParams) => ({ all: fitting(query).length, ...counts }),
    "GET /api/jobs": (query: URLSearchParams) => {
      const offset = Number(query.get("offset"));
      const group = query.get("group");
      return fitting(query)
        .filter((job) => group === "all" || job.holds === group)
        .slice(offset, offset + Number(query.get("limit")));
    },
  });
};

/** What tells the Desk that something has come in, without anybody's pointer. */
function Comes() {
  const client = useQueryClient();
  return <button onClick={() => void client.invalidateQueries()}>comes</button>;
}

describe("under somebody's pointer", () => {
  const reach = async () => {
    const found = rows({ name: "Seals" }, { name: "Rims", did: ["Overprint"] });
    desk(found);
    const person = show(
      <>
        <Desk />
        <Comes />
      </>,
    );
    await person.hover(await screen.findByText("Rims"));
    const after = rows(
      { id: 9, name: "Just in" },
      { id: 1, name: "Seals" },
      { id: 2, name: "Rims", holds: "Too little bleed." },
    );
    found.splice(0, 2, ...after);
    const comes = () => fireEvent.click(screen.getByText("comes"));
    return { person, comes };
  };

  it("no row takes another's place; what came in is counted, and shown once the pointer has left", async () => {
    const { person, comes } = await reach();
    comes();
    expect(await screen.findByText("One more has come in")).toBeTruthy();
    expect(names()).toEqual(["Seals", "Rims"]);
    expect(screen.getByText("Too little bleed."), "what is known of each now").toBeTruthy();
    expect(screen.getByText("Done by itself: Overprint."), "and no line less").toBeTruthy();
    await person.unhover(screen.getByText("Rims"));
    expect(names()).toEqual(["Just in", "Seals", "Rims"]);
    expect(screen.queryByText("Done by itself: Overprint.")).toBeNull();
  });

  it("what a press has brought about is seen though the pointer moves on", async () => {
    const { person, comes } = await reach();
    await person.click(screen.getByText("Rims"));
    await person.hover(screen.getByText("Seals"));
    comes();
    await waitFor(() => expect(names()).toEqual(["Just in", "Seals", "Rims"]));
  });

  it("what is asked for anew is shown at once", async () => {
    const { person } = await reach();
    fireEvent.change(screen.getByLabelText("Search"), { target: { value: "just" } });
    await waitFor(() => expect(names()).toEqual(["Just in"]));
    await person.unhover(screen.getByText("Just in"));
  });
});

describe("the Desk", () => {
  it("does not offer taking in to those who may not", async () => {
    desk([]);
    show(<Desk />, [], "/", ["see"]);
    expect(screen.queryByRole("button", { name: "Choose files" })).toBeNull();
    expect(screen.getByText(/ask whoever manages people/)).toBeTruthy();
  });

  it("does not count what it does not know yet", () => {
    desk([]);
    show(<Desk />);
    expect(screen.getByRole("button", { name: "all · …" })).toBeTruthy();
    expect(screen.getByLabelText("loading")).toBeTruthy();
  });

  it("says so when there is nothing, and when nothing fits", async () => {
    desk(rows({ name: "Seals" }));
    const person = show(<Desk />);
    expect(await screen.findByRole("button", { name: "all · 1" })).toBeTruthy();
    await person.type(screen.getByLabelText("Search"), "tern");
    expect(await screen.findByText("No job fits the filter.")).toBeTruthy();
  });

  it("says why it cannot show the jobs", async () => {
    answer({ "GET /api/jobs": new Refusal(503, "The server is being restarted.") });
    show(<Desk />);
    expect((await screen.findByRole("alert")).textContent).toContain("is being restarted");
  });

  it("asks for one group at a time, and finds by name or customer", async () => {
    desk(rows({ name: "Halted", state: "mend", holds: "mend" }, { name: "Done", customer: "tideway" }), {
      mend: 1,
    });
    const person = show(<Desk />);
    await person.click(await screen.findByRole("button", { name: "to mend · 1" }));
    await waitFor(() => expect(names()).toEqual(["Halted"]));
    await person.click(screen.getByRole("button", { name: "all · 2" }));
    await waitFor(() => expect(names()).toEqual(["Halted", "Done"]));
    await person.type(screen.getByLabelText("Search"), "tideway");
    await waitFor(() => expect(names()).toEqual(["Done"]));
    expect(await screen.findByRole("button", { name: "all · 1" })).toBeTruthy();
  });

  it("shows a page of many jobs, and more when asked", async () => {
    desk(rows(...Array.from({ length: 70 }, (_, i) => ({ name: `Job ${i}` }))));
    const person = show(<Desk />);
    const more = await screen.findByRole("button", { name: "Show more" });
    expect(names()).toHaveLength(60);
    await person.click(more);
    await waitFor(() => expect(names()).toHaveLength(70));
    expect(screen.queryByRole("button", { name: "Show more" })).toBeNull();
  });

  it("shows what holds a job up, or how far the work on it is", async () => {
    desk(
      rows({ name: "Halted", stops: 2, holds: "Too little bleed.", due: null }, { name: "Worked on", id: 9 }),
    );
    show(<Desk />, [aWork({ job_id: 9, share: 0.4, what: "checking lines" })]);
    expect((await screen.findByText(/Too little bleed/)).textContent).toBe("2 stops: Too little bleed.");
    expect(screen.getByText("no date")).toBeTruthy();
    expect(screen.getByText("due 03.02")).toBeTruthy();
    expect(screen.getByText("checking lines")).toBeTruthy();
    expect(screen.getByLabelText("progress of Worked on").getAttribute("aria-valuenow")).toBe("40");
  });

  it("marks what has just come in", async () => {
    desk(rows({ name: "Fresh", new: true }, { name: "Older", new: false }));
    show(<Desk />);
    await waitFor(() => expect(names()).toEqual(["Fresh", "Older"]));
    expect(screen.getAllByText("new")).toHaveLength(1);
  });
});
