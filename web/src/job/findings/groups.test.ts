import { describe, expect, it } from "vitest";
import type { Finding, Job } from "../../api/client";
import { aFinding, aJob } from "../../testing/values";
import { ALL, groupOf, neighbour, pressed, shownOf, subjectsOf } from "./groups";

const accepted: Finding["decision"] = {
  verb: "accepted",
  who: "ada",
  when: "2027-01-02 10:00",
  reason: "Seen.",
};
const stop = aFinding({ id: "line.open", subject: "kiss-cut", where: [[10, 10, 20, 20]] });
const look = aFinding({ id: "ink.rgb", severity: "look", where: [[0, 0, 100, 100]] });
const note = aFinding({ id: "page.notes", severity: "note", subject: "Magenta" });
const done = aFinding({ id: "text.live", severity: "look", decision: accepted });
const all = [note, done, look, stop];
const ids = (findings: Finding[]) => findings.map((f) => f.id);

describe("groups of findings", () => {
  it("puts stops first and what is decided last", () => {
    expect(ids(shownOf(all, ALL))).toEqual(["line.open", "ink.rgb", "page.notes", "text.live"]);
    expect(groupOf(done)).toBe("settled");
  });

  it("filters by group and by what a finding is about, both at once", () => {
    expect(ids(shownOf(all, { group: "look", subject: "all" }))).toEqual(["ink.rgb"]);
    expect(ids(shownOf(all, { group: "all", subject: "kiss-cut" }))).toEqual(["line.open"]);
    expect(shownOf(all, { group: "look", subject: "kiss-cut" })).toEqual([]);
  });

  it("offers roles and inks that findings are about, each once", () => {
    const seen = { inks: [{ name: "Magenta" }], lines: [] } as unknown as Job["seen"];
    const layer = aFinding({ id: "layer.off", subject: "a layer" });
    expect(subjectsOf(aJob({ findings: [stop, { ...stop, key: "2" }, note, look, layer], seen }))).toEqual([
      "kiss-cut",
      "Magenta",
    ]);
    expect(subjectsOf(aJob({ findings: [note], seen: null }))).toEqual([]);
  });
});

describe("a press on the stage", () => {
  it("chooses the finding whose place it is, the first that stands there", () => {
    expect(pressed([stop, look], null, [15, 15])).toEqual({ subject: "all", key: stop.key });
    expect(pressed([stop, look], null, [60, 60])).toEqual({ subject: "all", key: look.key });
    expect(pressed([stop], null, [60, 60])).toEqual({ subject: "all" });
  });

  it("takes a millimetre beside a place for the place", () => {
    expect(pressed([stop], null, [20.9, 15]).key).toBe(stop.key);
    expect(pressed([stop], null, [21.1, 15]).key).toBeUndefined();
  });

  it("on a line, chooses the cards of that line, and its own place first", () => {
    expect(pressed([look, stop], "kiss-cut", [60, 60])).toEqual({ subject: "kiss-cut", key: stop.key });
    expect(pressed([look], "kiss-cut", [60, 60])).toEqual({ subject: "all", key: look.key });
    expect(pressed([], "kiss-cut", [60, 60])).toEqual({ subject: "all", key: null });
  });
});

describe("walking the findings", () => {
  it("goes round the end both ways, and begins at either end", () => {
    const walked = [stop, look, note];
    expect(neighbour(walked, stop.key, 1)).toBe(look);
    expect(neighbour(walked, note.key, 1)).toBe(stop);
    expect(neighbour(walked, stop.key, -1)).toBe(note);
    expect(neighbour(walked, null, 1)).toBe(stop);
    expect(neighbour(walked, "gone", -1)).toBe(note);
    expect(neighbour([], null, 1)).toBeUndefined();
  });
});
