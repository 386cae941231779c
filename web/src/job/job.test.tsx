// @vitest-environment jsdom
import { screen, waitFor } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import type { Job, Work } from "../api/client";
import { Bench } from "../bench/Bench";
import { Login } from "../people/Login";
import { answer, asked, Refusal } from "../testing/server";
import { show } from "../testing/show";
import { aCut, aFinding, aJob, anItem, aSheet, aWork, anOperation, aLayout } from "../testing/values";
import { JobPage } from "./JobPage";

type Operation = NonNullable<Job["cut"]>["operations"][number];

const SHELF = { materials: [{ id: "film-1370", title: "White film" }], destinations: [], tools: [] };
const UNKNOWN: Partial<Job> = { seen: null, stops: null, looks: null, sheet: null, cut: null, revision: 0 };
const kiss = {
  role: "kiss-cut",
  number: 1,
  force_gf: 90,
  speed_mm_s: 400,
  passes: 1,
  cut_mm: null,
  tie_mm: null,
};
const operation = anOperation({
  tool: kiss as unknown as Operation["tool"],
  contours: 8,
  strokes: 8,
  cut_mm: 7540,
  travel_mm: 2560,
  time_s: 84,
  words: "kiss cut",
});
const CUT = aCut({ operations: [operation], roles: ["kiss-cut"], cut_mm: 7540, travel_mm: 2560, time_s: 84 });
const THROUGH = {
  ...operation,
  role: "through-cut",
  tool: { ...kiss, role: "through-cut", number: 3 },
} as Operation;
const BOTH = aCut({
  operations: [operation, THROUGH],
  pauses: [{ before: 1, words: "Put tool 3 into the holder.", time_s: 90 }],
  roles: ["kiss-cut", "through-cut", "perforation"],
  time_s: 258,
});

function at(station: string, job: Job | Refusal, works: Work[] = []) {
  answer({
    "GET /api/jobs/7": job,
    "GET /api/shelf": SHELF,
    "PATCH /api/jobs/7": job instanceof Refusal ? {} : job,
  });
  return show(
    <Routes>
      <Route path="/jobs/:id/:station" element={<JobPage />} />
    </Routes>,
    works,
    `/jobs/7/${station}`,
  );
}
const patched = () => asked.findLast((one) => one.to === "PATCH /api/jobs/7")?.body;

describe("a job that is being read", () => {
  const works = [aWork({ kind: "take-in", what: "reading the artwork" })];

  it.each(["sheet", "cut", "release"])(
    "says at %s that nothing is known yet, and not that there is nothing",
    async (station) => {
      at(station, aJob({ ...UNKNOWN, work: works[0] }), works);
      expect(await screen.findByText(/Taking in: reading the artwork/)).toBeTruthy();
      expect(screen.queryByText(/There is no line to cut/)).toBeNull();
      expect(screen.getAllByText("not yet")).toHaveLength(5);
      expect(screen.queryByText(/revision/)).toBeNull();
    },
  );

  it("is stopped by a button", async () => {
    answer({ "POST /api/works/1/cancel": aWork({ state: "cancelled" }) });
    const person = at("sheet", aJob({ ...UNKNOWN, work: works[0] }), works);
    await person.click(await screen.findByRole("button", { name: "Stop" }));
    await waitFor(() => expect(asked.map((one) => one.to)).toContain("POST /api/works/1/cancel"));
  });
});

describe("what became of work", () => {
  it("is said where it failed", async () => {
    at(
      "sheet",
      aJob({ work: aWork({ kind: "mend", state: "failed", error: "There is no ink “Kis Cut”." }) }),
    );
    expect((await screen.findByRole("alert")).textContent).toBe(
      "Mending did not finish. There is no ink “Kis Cut”.",
    );
  });

  it("is offered anew with what answers the stop that it would bring", async () => {
    const then = [
      {
        kind: "overprint",
        settings: { ink: "White" },
        label: "Let White overprint",
        says: "",
        safe: false,
        then: [],
      },
    ];
    const instead = {
      kind: "recolour",
      settings: { to: "White" },
      label: "Draw it in White",
      safe: false,
      says: "",
      then,
    };
    answer({ "POST /api/jobs/7/mends": aWork() });
    const person = at(
      "check",
      aJob({ work: aWork({ kind: "mend", state: "failed", error: "A stop.", instead }) }),
    );
    await person.click(
      await screen.findByRole("button", { name: "Draw it in White, then let White overprint" }),
    );
    const sent = () => asked.find((one) => one.to === "POST /api/jobs/7/mends")?.body;
    await waitFor(() => expect(sent()).toMatchObject({ kind: "recolour", then: [{ kind: "overprint" }] }));
  });

  it("is said where it was stopped and what stands is of before", async () => {
    at("sheet", aJob({ current: false, work: aWork({ state: "cancelled" }) }));
    expect((await screen.findByRole("status")).textContent).toContain("Checking was stopped.");
  });

  it("is not said where all is as it should be", async () => {
    at("sheet", aJob({ work: aWork({ state: "cancelled" }) }));
    expect(await screen.findByLabelText("Columns")).toBeTruthy();
    expect(screen.queryByRole("alert")).toBeNull();
    expect(screen.queryByRole("status")).toBeNull();
  });

  it("names a job that is not there, with a way back", async () => {
    at("check", new Refusal(404, "There is no job 7 here."));
    expect((await screen.findByRole("alert")).textContent).toContain("There is no job 7 here.");
    expect(screen.getByRole("link", { name: "Back to the Desk" })).toBeTruthy();
  });
});

describe("the sheet", () => {
  it("says what does not fit", async () => {
    at("sheet", aJob({ sheet: aSheet({ columns: 0, error: "60 columns do not fit. Choose 4 or fewer." }) }));
    expect((await screen.findByRole("alert")).textContent).toContain("Choose 4 or fewer.");
    expect(screen.queryByText("Waste")).toBeNull();
    expect(screen.getByLabelText("Columns"), "where fewer can be chosen").toBeTruthy();
  });

  it("warns of what is left out and of what was noted", async () => {
    at(
      "sheet",
      aJob({
        sheet: aSheet({ items: [anItem({ left_out: ["crease"] })], notes: ["The bleed of copies meets."] }),
      }),
    );
    const told = (await screen.findAllByRole("alert")).map((one) => one.textContent);
    expect(told).toEqual(["Not on the sheet, since not ordered: crease", "The bleed of copies meets."]);
  });

  it("is laid out by what is typed; what is left empty is left to the program", async () => {
    const person = at("sheet", aJob({ layout: aLayout({ columns: 3 }) }));
    const columns = await screen.findByLabelText("Columns");
    expect(columns).toHaveProperty("value", "3");
    await person.clear(columns);
    await person.type(screen.getByLabelText("Gap, mm"), "4,5");
    await waitFor(() =>
      expect(patched()).toEqual({
        version: 3,
        columns: null,
        gap_mm: 4.5,
        turned: null,
        marks: { kind: "bracket-in", around: "art" },
        code: true,
        mirror: null,
        length_mm: null,
        fill: "quantity",
        media: null,
        makes: "both",
        inks: null,
        frame_mm: null,
      }),
    );
  });

  it("asks which length is to be filled, instead of laying out one copy", async () => {
    const person = at("sheet", aJob({ layout: aLayout({ fill: "length" }) }));
    expect((await screen.findByRole("alert")).textContent).toContain("Which length is to be filled?");
    await person.type(screen.getByLabelText("longest sheet, mm"), "1 m{Enter}");
    expect(screen.queryByRole("alert")).toBeNull();
    await waitFor(() => expect(patched()).toMatchObject({ fill: "length", length_mm: 1000 }));
  });

  it("takes what was set back, in one press", async () => {
    const person = at("sheet", aJob());
    await person.type(await screen.findByLabelText("Columns"), "3");
    await waitFor(() => expect(patched()).toMatchObject({ columns: 3 }));
    await waitFor(() =>
      expect(screen.getByRole("button", { name: "Undo" })).toHaveProperty("disabled", false),
    );
    await person.click(screen.getByRole("button", { name: "Undo" }));
    await waitFor(() => expect(patched()).toMatchObject({ columns: null }));
    expect(screen.getByLabelText("Columns")).toHaveProperty("value", "");
  });

  it("offers what would fit, each in one press", async () => {
    answer({ "GET /api/jobs/7/fits": [{ words: "Take A3", change: { media: { title: "A3" } } }] });
    const person = at("sheet", aJob({ sheet: aSheet({ columns: 0, error: "It fits nowhere on A4." }) }));
    await person.click(await screen.findByRole("button", { name: "Take A3" }));
    await waitFor(() => expect(patched()).toEqual({ version: 3, media: { title: "A3" } }));
  });

  it("does not lose a gap that is no number", async () => {
    const person = at("sheet", aJob());
    await person.type(await screen.findByLabelText("Gap, mm"), "wide");
    expect(screen.getByRole("alert").textContent).toContain("“wide” cannot be read");
    await person.keyboard("{Enter}");
    expect(patched()).toBeUndefined();
  });
});

describe("the cut", () => {
  it("shows each operation with its lengths and its time", async () => {
    at("cut", aJob({ cut: CUT }));
    expect(await screen.findByText(/8 contours, 7.54 m cut, 2.56 m/)).toBeTruthy();
    expect(screen.getAllByText("1 min 24 s").length).toBeGreaterThan(1);
  });

  it.each([
    ["button", "Cut the through cut earlier", { cut_order: ["through-cut", "kiss-cut"] }],
    ["switch", "Cut the kiss cut", { cut_only: ["through-cut"] }],
    ["switch", "Cut the perforation", { cut_only: null }],
  ])("is put into another order, and roles are switched off and on: %s %s", async (role, name, asked) => {
    const person = at("cut", aJob({ cut: BOTH }));
    await person.click(await screen.findByRole(role, { name }));
    await waitFor(() => expect(patched()).toEqual({ version: 3, ...asked }));
  });

  it("says where a person has to change the tool, and what an order would destroy", async () => {
    at("cut", aJob({ cut: { ...BOTH, said: ["The through cut comes before the kiss cut."] } }));
    expect(await screen.findByText(/Pause: Put tool 3 into the holder/)).toBeTruthy();
    expect(screen.getByRole("alert").textContent).toContain("comes before the kiss cut");
    expect(screen.getByRole("button", { name: "Cut in the usual order" })).toBeTruthy();
  });

  it("leaves force to the machine where the field is emptied", async () => {
    const person = at("cut", aJob({ cut: CUT }));
    await person.clear(await screen.findByLabelText("Force, gf for kiss-cut"));
    await person.click(screen.getByRole("button", { name: "Keep" }));
    await waitFor(() => expect(patched()).toEqual({ version: 3, tools: [{ ...kiss, force_gf: null }] }));
  });

  it("keeps a tool that was changed, and offers it only then", async () => {
    const person = at("cut", aJob({ cut: CUT }));
    const force = await screen.findByLabelText("Force, gf for kiss-cut");
    expect(screen.queryByRole("button", { name: "Keep" })).toBeNull();
    await person.clear(force);
    await person.type(force, "110");
    await person.click(screen.getByRole("button", { name: "Keep" }));
    await waitFor(() => expect(patched()).toEqual({ version: 3, tools: [{ ...kiss, force_gf: 110 }] }));
  });

  it("says that there is nothing to cut when that is known", async () => {
    at("cut", aJob());
    expect(await screen.findByText("There is no line to cut.")).toBeTruthy();
  });
});

describe("the release", () => {
  it("is blocked by an open stop, each named once, with the way to it", async () => {
    const near = aFinding({ id: "ink.near-name", key: "1" });
    const findings = [near, { ...near, key: "2" }, aFinding({ key: "3" })];
    at("release", aJob({ stops: 3, findings }));
    expect((await screen.findByRole("alert")).textContent).toContain(
      "3 stops are open: ink.near-name, edge.bleed.",
    );
    expect(screen.getByRole("button", { name: "Release 1 copy" })).toHaveProperty("disabled", true);
    expect(screen.getByRole("link", { name: "Mend them in Check" }).getAttribute("href")).toBe(
      "/jobs/7/check",
    );
  });

  it("is not offered for what is out of date, or while work goes on", async () => {
    at("release", aJob({ current: false }));
    expect(await screen.findByRole("button", { name: /^Release/ })).toHaveProperty("disabled", true);
  });

  it("sends the job, and says what the server says", async () => {
    answer({ "POST /api/jobs/7/release": new Refusal(409, "1 stop is open. Mend them first.") });
    const person = at("release", aJob());
    await person.click(await screen.findByRole("button", { name: "Release 1 copy" }));
    expect((await screen.findByRole("alert")).textContent).toContain("1 stop is open.");
  });
});

describe("the bench and the door", () => {
  it("says that nothing waits", async () => {
    answer({ "GET /api/bench": [] });
    show(<Bench />);
    expect(screen.getByLabelText("loading")).toBeTruthy();
    expect(await screen.findByText(/Nothing waits/)).toBeTruthy();
  });

  it("says why it cannot show what waits", async () => {
    answer({ "GET /api/bench": new Refusal(503, "The server is being restarted.") });
    show(<Bench />);
    expect((await screen.findByRole("alert")).textContent).toContain("restarted");
  });

  it("says why somebody is not let in", async () => {
    answer({ "POST /api/login": new Refusal(401, "Name and password do not go together.") });
    const person = show(<Login />);
    await person.type(screen.getByLabelText("Name"), "ada");
    await person.type(screen.getByLabelText("Password"), "wrong{Enter}");
    expect((await screen.findByRole("alert")).textContent).toContain("do not go together");
    expect(asked[0]?.body).toEqual({ name: "ada", password: "wrong", code: "" });
  });
});
