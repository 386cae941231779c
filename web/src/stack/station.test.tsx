// @vitest-environment jsdom
/** The station of stacks and the machines: what is asked, shown, refused, and pressed. */
import { fireEvent, screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import type { Sewn, StackBed, StackPackage, StackShown, StackWanted } from "../api/client";
import { haltOf, SewingMachine } from "../bench/SewingMachine";
import { StackCutter } from "../bench/StackCutter";
import { answer, asked, Refusal } from "../testing/server";
import { show } from "../testing/show";
import { aJob } from "../testing/values";
import { StackStation } from "./StackStation";
import { BEGINNINGS, layer } from "./wanted";

type Layer = StackShown["layers"][number];
const aLayer = (values: Partial<Layer>): Layer => ({
  number: 0,
  name: "face",
  fabric: "Twill",
  colour: "#EEEEEE",
  thread: "#112233",
  path: "M0 0L40 0L40 30Z",
  contours: 1,
  cut_mm: 140,
  area_mm2: 1200,
  cut_as: 2,
  lay: "Lay “face” over all of it.",
  force_gf: 170,
  own_um: 360,
  reaches_um: 378,
  outcome: "right",
  time_s: 12,
  ...values,
});
const LAYERS = [
  aLayer({}),
  aLayer({ number: 1, name: "border", cut_as: 1, lay: "Load “border”, on its carrier.", own_um: 360 }),
];
const SHOWN: StackShown = {
  why: "The outline of the art.",
  outline: "M0 0L1 1Z",
  bounds: [0, 0, 40, 30],
  layers: LAYERS,
  seams: [
    {
      layer: 1,
      colour: "#445566",
      stop: "Lay “border” (twill).",
      kinds: [{ begins: 0, kind: "satin" }],
      points: [0, 0, 1, 0, 2, 0],
    },
    {
      layer: 0,
      colour: "#112233",
      stop: "Lay “face” (twill).",
      kinds: [{ begins: 0, kind: "tack-down" }],
      points: [5, 5, 6, 6],
    },
  ],
  figures: {
    count: 5,
    jumps: 2,
    trims: 1,
    stops: 1,
    colours: 2,
    thread_mm: 3500,
    longest_mm: 1.4,
    time_s: 70,
    stitches_min: 600,
  },
  said: ["900 gf cut “face” and 40 µm into “border”, which is to stay whole."],
  fabrics: [
    {
      id: "twill",
      title: "Twill",
      thickness_um: 300,
      adhesive_um: 60,
      colour: "#EEEEEE",
      shrinks: 0.005,
      pull_mm: 0.1,
    },
    {
      id: "felt",
      title: "Felt",
      thickness_um: 1100,
      adhesive_um: 60,
      colour: "#889977",
      shrinks: 0.01,
      pull_mm: 0.2,
    },
  ],
  refused: "",
};
const PACKAGE: StackPackage = {
  id: 4,
  job_id: 7,
  job_name: "Round seals",
  layers: ["face", "border"],
  files: [
    { name: "1-border-cut.plt", format: "hpgl", layer: 1, sha256: "", bytes: 10 },
    { name: "stitches.dst", format: "dst", layer: null, sha256: "", bytes: 10 },
  ],
  worst_off_mm: 0.017,
  cut: 0,
  current: true,
  created: "2027-01-01T08:00:00Z",
};
const TWO = BEGINNINGS[1]?.[2];
const at = "/api/jobs/7/stack";

beforeEach(() => answer({ [`POST ${at}/shown`]: SHOWN, [`GET ${at}/drawn`]: [] }));

describe("the station", () => {
  it("offers stacks to begin with, and writes the one that is chosen", async () => {
    const job = aJob();
    answer({
      [`POST ${at}`]: { ...job, stack: TWO, version: 4 },
      [`POST ${at}/write`]: { id: 9, job_version: 4 },
      "GET /api/works": [],
      "GET /api/jobs/7": { ...job, stack: TWO, version: 4 },
    });
    const person = show(<StackStation job={job} />);
    await person.click(screen.getByRole("button", { name: /Two layers/ }));
    expect(await screen.findByText(/which is to stay whole/)).toBeTruthy();
    expect(screen.getByText(/Not test-cut yet: face, border/)).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "Write the files" }));
    await waitFor(() => expect(asked.some(({ to }) => to === `POST ${at}/write`)).toBe(true));
    const kept = asked.find(({ to }) => to === `POST ${at}`)?.body;
    expect(kept).toEqual({ stack: TWO, version: 3 });
    expect(asked.find(({ to }) => to === `POST ${at}/write`)?.body).toEqual({ version: 4 });
  });

  it("offers what the file draws as a stack of its own, with no offset", async () => {
    const drawn = (name: string, area_mm2: number) => ({
      key: `layer:${name}`,
      by: "layer",
      words: `the layer “${name}”`,
      path: "M0 0L9 0L9 9Z",
      area_mm2,
    });
    answer({ [`GET ${at}/drawn`]: [drawn("pen 2", 100), drawn("pen 1", 400)] });
    const person = show(<StackStation job={aJob()} />);
    const button = await screen.findByRole("button", { name: /As it is drawn by layers: pen 2, pen 1/ });
    await person.click(button);
    await screen.findByText(/which is to stay whole/);
    const sent = asked.find(({ to }) => to === `POST ${at}/shown`)?.body as { stack: StackWanted };
    expect(sent.stack.layers.map((one) => [one.name, one.drawn, one.offset_mm])).toEqual([
      ["pen 2", "layer:pen 2", 0],
      ["pen 1", "layer:pen 1", 0],
    ]);
    expect(screen.getByRole("combobox", { name: "what pen 2 is drawn as" }).textContent).toContain("pen 2");
  });

  it("says why nothing can be made, and writes nothing then", async () => {
    answer({
      [`POST ${at}/shown`]: { ...SHOWN, layers: [], seams: [], refused: "Nothing is left of “face”." },
    });
    show(<StackStation job={aJob({ stack: TWO })} />);
    expect(await screen.findByText("Nothing is left of “face”.")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Write the files" })).toHaveProperty("disabled", true);
  });

  it("shows what was written, with every file", async () => {
    show(<StackStation job={aJob({ stack: TWO, stacks: [PACKAGE] })} />);
    expect(await screen.findByRole("link", { name: "stitches.dst" })).toHaveProperty(
      "pathname",
      "/api/stacks/4/files/stitches.dst",
    );
    expect(screen.getByRole("link", { name: "Go to the bench with the stack" })).toBeTruthy();
  });

  it("changes layers by sentences, and takes each change back", async () => {
    const person = show(<StackStation job={aJob()} />);
    await person.click(screen.getByText("Two layers"));
    const offset = await screen.findByLabelText("offset of face, mm");
    fireEvent.keyDown(offset, { key: "ArrowUp" });
    await waitFor(() => expect(offset).toHaveProperty("value", "0.5"));
    fireEvent.click(screen.getByLabelText("Add a zigzag to face"));
    expect(screen.getByLabelText("width of the zigzag of face, mm")).toHaveProperty("value", "2.5");
    fireEvent.click(screen.getByLabelText("Leave the tack-down of face out"));
    expect(screen.queryByLabelText("spacing of the tack-down of face, mm")).toBeNull();
    for (let i = 0; i < 3; i++) fireEvent.click(screen.getByText("Undo"));
    expect(screen.getByLabelText("offset of face, mm")).toHaveProperty("value", "0");
    fireEvent.click(screen.getByText("Redo"));
    expect(screen.getByLabelText("offset of face, mm")).toHaveProperty("value", "0.5");
  });

  it("has layers named, added below and moved", async () => {
    const person = show(<StackStation job={aJob()} />);
    await person.click(screen.getByText("Two layers"));
    const name = await screen.findByLabelText("name of face");
    fireEvent.change(name, { target: { value: "word" } });
    fireEvent.keyDown(name, { key: "Enter" });
    fireEvent.click(screen.getByText("Add a layer below"));
    fireEvent.click(screen.getByLabelText("word down"));
    const order = [...document.querySelectorAll("[data-layer]")].map((one) => one.getAttribute("data-layer"));
    expect(order).toEqual(["border", "word", "layer 3"]);
  });

  it("corrects the force by what a test cut shows, and cuts it again until it is right", async () => {
    const test = {
      force_gf: 170,
      own_um: 360,
      reached_um: 351,
      seen: "too-shallow",
      corrected_gf: { "too-shallow": 180, right: 170, "into-the-liner": 160, through: 150 },
    };
    answer({ [`POST ${at}/test`]: test });
    const person = show(<StackStation job={aJob()} />);
    await person.click(screen.getByRole("button", { name: /Two layers/ }));
    await screen.findByRole("region", { name: "face" });
    await person.click(screen.getByRole("button", { name: "Cut" }));
    const [first] = await screen.findAllByRole("button", { name: "Test cut" });
    if (first) await person.click(first);
    expect(await screen.findByText(/hangs on by threads/)).toBeTruthy();
    answer({ [`POST ${at}/test`]: { ...test, force_gf: 180, seen: "right" } });
    await person.click(screen.getByRole("button", { name: "border: hangs on" }));
    expect(await screen.findByText(/what lies below is whole/)).toBeTruthy();
    const tests = asked.filter(({ to }) => to === `POST ${at}/test`).map(({ body }) => body as never);
    expect(tests.at(-1)).toMatchObject({
      layer: 1,
      stack: { layers: [{}, { force_gf: 180, passed: false }] },
    });
    expect(screen.getByText(/Not test-cut yet: face, border/)).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "border: right" }));
    await waitFor(() => {
      const sent = asked.filter(({ to }) => to === `POST ${at}/shown`).at(-1)?.body;
      expect(sent).toMatchObject({ stack: { layers: [{}, { force_gf: 170, passed: true }] } });
    });
    expect(screen.getByText("Not test-cut yet: face.", { exact: false })).toBeTruthy();
  });

  it("plays the stitches and says which they are", async () => {
    const person = show(<StackStation job={aJob()} />);
    await person.click(screen.getByRole("button", { name: /Two layers/ }));
    await screen.findByRole("region", { name: "face" });
    await person.click(screen.getByRole("button", { name: "Sew" }));
    expect(await screen.findByText("Time at 600 stitches a minute")).toBeTruthy();
    await person.click(await screen.findByRole("button", { name: "Stop at 3: Lay “face” (twill)." }));
    expect(screen.getByTestId("stitch")).toHaveProperty("textContent", "Stitch 3 of 5: satin of border");
    fireEvent.change(screen.getByLabelText("stitch"), { target: { value: 4 } });
    expect(screen.getByTestId("stitch")).toHaveProperty("textContent", "Stitch 4 of 5: tack-down of face");
    await person.click(screen.getByLabelText("PES"));
    await waitFor(() => expect(asked.at(-1)?.body).toMatchObject({ stack: { formats: ["dst", "pes"] } }));
  });

  it("says what the server refuses", async () => {
    answer({ [`POST ${at}/shown`]: new Refusal(409, "The job is at revision 2 by now.") });
    show(<StackStation job={aJob({ stack: TWO })} />);
    expect(await screen.findByText("The job is at revision 2 by now.")).toBeTruthy();
  });
});

const aBed = (values: Partial<StackBed> = {}): StackBed => ({
  package: PACKAGE,
  bounds: [0, 0, 40, 30],
  layers: LAYERS,
  cut: [],
  next: 1,
  origin_mm: [0, 0],
  zero_mm: [-5, -5],
  ...values,
});
const CUT = {
  number: 1,
  paths: ["M0 0L1 1"],
  frame: "",
  deep_um: 351,
  outcome: "too-shallow" as const,
  off_mm: [0, 0],
  inside_mm: null,
};

describe("the cutter", () => {
  it("says what is to be laid and cuts it", async () => {
    answer({ "POST /api/stacks/4/cut": aBed({ cut: [CUT], next: 0 }), "GET /api/stacks": [] });
    const person = show(<StackCutter bed={aBed()} />);
    expect(screen.getByText("Load “border”, on its carrier.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: /new origin/ })).toBeNull();
    await person.click(screen.getByRole("button", { name: "It is laid: cut “border”" }));
    await waitFor(() => expect(asked.some(({ to }) => to === "POST /api/stacks/4/cut")).toBe(true));
  });

  it("warns before a new origin, and returns to the old one", async () => {
    answer({
      "POST /api/stacks/4/origin": aBed({ cut: [CUT], next: 0, origin_mm: [6, 0] }),
      "GET /api/stacks": [],
    });
    const person = show(<StackCutter bed={aBed({ cut: [CUT], next: 0 })} />);
    expect(screen.getByText(/It is not cut through/)).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "Set a new origin…" }));
    expect(screen.getByText(/the stack is spoilt/)).toBeTruthy();
    await person.type(screen.getByLabelText("To the right, mm"), "6");
    await person.click(screen.getByRole("button", { name: "Set it all the same" }));
    expect(asked.at(-1)?.body ?? asked.at(-2)?.body).toEqual({ x_mm: 6, y_mm: 0 });
  });

  it("says that a layer lies over the edge of the one below", () => {
    const over = { ...CUT, number: 0, outcome: "right" as const, inside_mm: -3.02 };
    show(<StackCutter bed={aBed({ cut: [CUT, over], next: null, origin_mm: [6, 0] })} />);
    expect(screen.getByText(/3.02 mm over the edge/)).toBeTruthy();
    expect(screen.getByText("All layers are cut")).toBeTruthy();
  });
});

describe("the sewing machine", () => {
  const run: Sewn = {
    begins: { at_s: 0, before: 0, words: "Lay “border” (twill).", lays: 1 },
    seams: [
      { colour: "#445566", points: [0, 0, 1, 0], at_s: [0, 1] },
      { colour: "#112233", points: [5, 5, 6, 6], at_s: [7, 8] },
    ],
    halts: [{ at_s: 1, before: 1, words: "Lay “face” (twill).", lays: 0 }],
    total_s: 8,
    thread_mm: 2400,
    count: 4,
    trims: 1,
    refused: "",
  };

  it("stands at a stop until the fabric is laid", async () => {
    answer({ "GET /api/stacks/4/sewn": run });
    const person = show(<SewingMachine bed={aBed()} />);
    expect(await screen.findByText("Lay “border” (twill).")).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "Sew it" }));
    expect(await screen.findByText("The machine stands.")).toBeTruthy();
    expect(screen.getByText("Stitch 2 of 4, 1 s of 8 s")).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "It is laid, go on" }));
    expect(await screen.findByText("Sewn to its end.")).toBeTruthy();
  });

  it("refuses in words, and has nothing to do for a stack that is cut only", async () => {
    answer({ "GET /api/stacks/4/sewn": { ...run, seams: [], halts: [], refused: "The hoop holds less." } });
    show(<SewingMachine bed={aBed()} />);
    expect(await screen.findByText(/The hoop holds less/)).toBeTruthy();
    show(<SewingMachine bed={aBed({ package: { ...PACKAGE, files: [] } })} />);
    expect(screen.getByText(/it is cut only/)).toBeTruthy();
  });

  it("knows the stop that is reached and not done", () => {
    expect(haltOf(run.halts, 0.5, 0)).toBeUndefined();
    expect(haltOf(run.halts, 1, 0)).toBe(run.halts[0]);
    expect(haltOf(run.halts, 5, 1)).toBeUndefined();
    expect(layer("x").force_gf).toBeNull();
  });
});
