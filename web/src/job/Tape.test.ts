import { describe, expect, it } from "vitest";
import type { Job } from "../api/client";
import { aFinding, aJob, anOrder, aSheet } from "../testing/values";
import { stateOf } from "./Tape";
import type { Station } from "./stations/names";

const ALL: Station[] = ["check", "lines", "sheet", "cut", "release"];
const words = (job: Job) => ALL.map((station) => stateOf(job, station)[0]);
const bad = (job: Job) => ALL.map((station) => stateOf(job, station)[1]);

describe("the tape of stations", () => {
  it("says nothing of what was not looked at yet", () => {
    for (const job of [aJob({ seen: null, stops: null }), aJob({ stops: null }), aJob({ seen: null })]) {
      expect(words(job)).toEqual(ALL.map(() => "not yet"));
      expect(bad(job)).not.toContain(true);
    }
  });

  it("says of a clean job where it stands", () => {
    expect(words(aJob())).toEqual(["clean", "no line", "4 × 2", "nothing is cut", "ready"]);
    expect(bad(aJob())).not.toContain(true);
  });

  it("counts stops, those of lines apart, and leaves out what was let pass", () => {
    const line = aFinding({ id: "line.open" });
    const passed = aFinding({
      id: "ink.near-name",
      key: "passed",
      decision: { verb: "let pass", who: "ada", when: "2027-01-02 10:00", reason: "Known." },
    });
    const job = aJob({ stops: 2, findings: [line, aFinding(), passed] });
    expect(words(job).slice(0, 2)).toEqual(["2 stops left", "1 stop left"]);
    expect(bad(job)).toEqual([true, true, false, false, true]);
    expect(words(job)[4]).toBe("blocked");
  });

  it("says that a piece does not fit, and then knows of no cut", () => {
    const job = aJob({ sheet: aSheet({ error: "Too wide." }) });
    expect(words(job).slice(2)).toEqual(["does not fit", "not yet", "blocked"]);
    expect(words(aJob({ sheet: null })).slice(2, 4)).toEqual(["not yet", "not yet"]);
  });

  it("says that looks are open, and that it is printed only", () => {
    expect(words(aJob({ looks: 2 }))[4]).toBe("2 looks open");
    expect(words(aJob({ order: anOrder({ roles: [] }) }))[1]).toBe("print only");
  });

  it("says when it was released", () => {
    expect(words(aJob({ releases: [{ id: 1 } as Job["releases"][number]] }))[4]).toBe("released");
  });
});
