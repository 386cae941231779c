// @vitest-environment jsdom
/** The strip of time, copies that are cut again, named perforations, and rehearsals. */
import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Tool } from "../api/client";
import { JobRehearsal } from "../job/release/Rehearsal";
import { answer, asked, Refusal } from "../testing/server";
import { show } from "../testing/show";
import { aCut, aFinding, aJob, anOperation, aLayout, aThing, aWhole } from "../testing/values";
import { Again } from "./Again";
import { PatternShelf } from "./Patterns";
import type { Head } from "./time";
import { TimeStrip } from "./TimeStrip";
import { ToolForm } from "./ToolForm";

const PERFORATION = {
  role: "perforation",
  number: 2,
  force_gf: 200,
  speed_mm_s: 250,
  passes: 1,
  cut_mm: 4,
  tie_mm: 0.5,
  tie_force_gf: 0,
} as unknown as Tool;
const CUT = aCut({
  time_s: 30,
  operations: [anOperation({ times: [[1, 9, 0, 0, 8, 0]] }), anOperation({ role: "through-cut" })],
  pauses: [{ before: 1, words: "Put tool 3 in", time_s: 10 }],
});
const patched = () => asked.filter((one) => one.to === "PATCH /api/jobs/7").at(-1)?.body;

describe("the strip of time", () => {
  it("says what is done at the moment that keys bring it to, and where the head is", () => {
    const heads: (Head | null)[] = [];
    show(<TimeStrip cut={CUT} onHead={(head) => heads.push(head)} />);
    const strip = screen.getByRole("slider", { name: "moment of the cut" });
    for (let i = 0; i < 10; i++) fireEvent.keyDown(strip, { key: "ArrowRight" });
    expect(screen.getByTestId("moment").textContent).toBe("5 s: kiss cut, tool down");
    expect(heads.at(-1)).toMatchObject({ at: [4, 0], down: true });
    fireEvent.keyDown(strip, { key: "PageUp" });
    expect(screen.getByTestId("moment").textContent).toContain("Put tool 3 in");
    expect(heads.at(-1)).toBeNull();
    fireEvent.blur(strip);
    expect(screen.getByTestId("moment").textContent).toBe("0");
  });

  it("is not there without a cut", () => {
    show(<TimeStrip cut={aCut()} onHead={() => undefined} />);
    expect(screen.queryByRole("slider")).toBeNull();
  });
});

describe("copies cut again", () => {
  it("are named by their numbers", async () => {
    answer({ "PATCH /api/jobs/7": aJob() });
    const person = show(<Again job={aJob()} count={24} />);
    await person.type(screen.getByLabelText("Only the copies"), "3, 22-");
    await person.click(screen.getByRole("button", { name: "Cut these" }));
    await waitFor(() => expect(patched()).toEqual({ version: 3, cut_copies: [3, 22, 23, 24] }));
  });

  it("that are none are not sent", async () => {
    const person = show(<Again job={aJob()} count={24} />);
    await person.type(screen.getByLabelText("Only the copies"), "30");
    expect(screen.getByText("“30” is none of the 1 to 24")).toBeTruthy();
    await person.keyboard("{Enter}");
    expect(patched()).toBeUndefined();
  });

  it("are all again when the field is emptied", async () => {
    answer({ "PATCH /api/jobs/7": aJob() });
    const person = show(<Again job={aJob({ layout: aLayout({ cut_copies: [2, 3] }) })} count={24} />);
    expect(screen.getByLabelText("Only the copies")).toHaveProperty("value", "2-3");
    await person.clear(screen.getByLabelText("Only the copies"));
    await person.click(screen.getByRole("button", { name: "Cut all" }));
    await waitFor(() => expect(patched()).toEqual({ version: 3, cut_copies: null }));
  });
});

describe("perforations", () => {
  const STAMP = aThing("perforation", "Stamp edge", { cut_mm: 2, tie_mm: 0.4, tie_force_gf: 30 });
  const listed = {
    kind: {},
    things: [STAMP, { ...STAMP, id: "old", title: "Old", retired: true }],
    may_edit: true,
  };

  it("of the shop are chosen by name, retired ones not", async () => {
    answer({ "GET /api/shelf/things": listed });
    const kept: Tool[] = [];
    const person = show(<ToolForm tool={PERFORATION} onKeep={(tool) => kept.push(tool)} />);
    await person.click(await screen.findByRole("combobox"));
    expect(screen.queryByRole("option", { name: "Old" })).toBeNull();
    await person.click(screen.getByRole("option", { name: "Stamp edge" }));
    await person.click(screen.getByRole("button", { name: "Keep" }));
    expect(kept[0]).toMatchObject({ cut_mm: 2, tie_mm: 0.4, tie_force_gf: 30, force_gf: 200 });
  });

  it("get a name", async () => {
    answer({ "GET /api/shelf/things": listed, "POST /api/shelf/things": aWhole(STAMP) });
    const person = show(<PatternShelf tool={PERFORATION} mayEdit />);
    await person.type(screen.getByLabelText("Name this pattern"), "Coarse");
    await person.click(screen.getByRole("button", { name: "Keep the name" }));
    await waitFor(() =>
      expect(asked.find((one) => one.to === "POST /api/shelf/things")?.body).toEqual({
        kind: "perforation",
        title: "Coarse",
        data: { cut_mm: 4, tie_mm: 0.5, tie_force_gf: 0 },
        note: "",
      }),
    );
  });

  it("are read alone by who may not change the Shelf", async () => {
    answer({ "GET /api/shelf/things": listed });
    show(<PatternShelf tool={PERFORATION} mayEdit={false} />);
    expect(await screen.findByText(/scored with 30 gf/)).toBeTruthy();
    expect(screen.queryByLabelText("Name this pattern")).toBeNull();
  });
});

describe("a rehearsal", () => {
  const found = {
    loads: 200,
    missed: 3,
    pieces: 4728,
    bare: 12,
    trimmed: 0,
    loose: 1,
    broken: 0,
    percent: 0.27,
    worst_mm: 0.914,
    p95_mm: 0.31,
    worst_load: 117,
    worst: {
      copy: 4,
      box: [0, 0, 10, 10],
      landed: [
        [1, 1],
        [2, 1],
        [2, 2],
      ],
      sha256: "a".repeat(64),
    },
  };
  const ready = { cut: CUT };

  it("is asked for", async () => {
    answer({ "POST /api/jobs/7/rehearse": { job_version: 3 }, "GET /api/jobs/7": aJob(ready) });
    const person = show(<JobRehearsal job={aJob(ready)} />);
    await person.click(screen.getByRole("button", { name: "Rehearse 200 loads" }));
    await waitFor(() =>
      expect(asked.find((one) => one.to === "POST /api/jobs/7/rehearse")?.body).toEqual({
        version: 3,
        loads: 200,
        seed: 1,
      }),
    );
  });

  it("tells how many pieces, what became of them, and shows the worst", () => {
    show(<JobRehearsal job={aJob({ ...ready, rehearsal: found })} />);
    expect(
      screen.getByText(/13 of 4728 pieces spoilt \(0.27 %\); 3 of 200 loads stop at a mark/),
    ).toBeTruthy();
    expect(screen.getByText("With bare media at the edge")).toBeTruthy();
    expect(screen.queryByText("With art trimmed")).toBeNull();
    expect(screen.getByText("0.91 mm, in load 117")).toBeTruthy();
    expect(screen.getByRole("img", { name: /the worst piece, copy 4/ })).toBeTruthy();
    expect(screen.queryByRole("alert")).toBeNull();
  });

  it("is a stop where the shop says so", () => {
    const findings = [aFinding({ id: "edge.rehearsed", severity: "stop" })];
    show(<JobRehearsal job={aJob({ ...ready, rehearsal: found, findings })} />);
    expect(screen.getByRole("alert").textContent).toContain("does not release this. Colour ends");
  });

  it("says what went wrong, and is not offered where nothing is cut", async () => {
    answer({
      "POST /api/jobs/7/rehearse": new Refusal(409, "There is no sheet."),
      "GET /api/jobs/7": aJob(ready),
    });
    const person = show(<JobRehearsal job={aJob(ready)} />);
    await person.click(screen.getByRole("button", { name: "Rehearse 200 loads" }));
    expect((await screen.findByRole("alert")).textContent).toContain("There is no sheet.");
  });

  it("needs something to cut", () => {
    show(<JobRehearsal job={aJob({ cut: aCut() })} />);
    expect(screen.getByRole("button", { name: "Rehearse 200 loads" })).toHaveProperty("disabled", true);
  });
});
