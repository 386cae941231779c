// @vitest-environment jsdom
/** Looking at the artwork: cut open, layer by layer, before and after, ahead of a mend, and in the customer's letter. */
import { cleanup, fireEvent, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Job, Mend, PageSeen, Section } from "../api/client";
import { answer, asked, Refusal } from "../testing/server";
import { show } from "../testing/show";
import { aFinding, aJob, aWork } from "../testing/values";
import { LetterDialog } from "./findings/LetterDialog";
import { PreviewPanel } from "./mending/PreviewPanel";
import type { Previewing } from "./mending/previewing";
import { proofWords } from "./mending/proofWords";
import { CompareBar } from "./modes/Compare";
import { does, LayerPanel } from "./modes/LayerPanel";
import { SectionStrip } from "./SectionStrip";

const sent = (to: string) => asked.filter((one) => one.to === to).at(-1)?.body;

const SECTION = {
  length_mm: 100,
  strata: [
    { kind: "film", thickness_um: 90, part: "face", resists_gf_um: 0.75 },
    { kind: "liner", thickness_um: 140, part: "carrier", resists_gf_um: 0.75 },
  ],
  inks: [{ name: "Cyan", colour: "#00AEEF", tints: [0, 0, 255, 255, 255, 0] }],
  crossings: [
    { role: "kiss-cut", at_mm: 20, top_um: 0, bottom_um: 90, outcome: "right" },
    { role: "kiss-cut", at_mm: 80, top_um: 0, bottom_um: 150, outcome: "into-the-liner" },
    { role: "back-cut", at_mm: 50, top_um: 100, bottom_um: 230, outcome: "right" },
  ],
} as unknown as Section;

describe("the material cut open", () => {
  const open = (section: unknown = SECTION) => {
    answer({ "GET /api/jobs/7/section": section });
    const onClose = vi.fn();
    const person = show(
      <SectionStrip
        job={aJob()}
        line={[
          [0, 10],
          [100, 10],
        ]}
        onClose={onClose}
      />,
    );
    return { person, onClose };
  };

  it("says in words what the drawing shows: strata, every cut and where, and what is wrong with its depth", async () => {
    open();
    const drawing = await screen.findByRole("img");
    expect(drawing.getAttribute("aria-label")).toBe(
      "100.0 mm across film, liner; kiss cut at 20.00 mm, kiss cut at 80.00 mm, into the liner, back cut at 50.00 mm",
    );
  });

  it("draws the strata at their thickness, one on the other", async () => {
    open();
    await screen.findByRole("img");
    const [film, liner] = ["film", "liner"].map((kind) => {
      const rect = document.querySelector(`[data-stratum="${kind}"] rect`);
      return { y: Number(rect?.getAttribute("y")), high: Number(rect?.getAttribute("height")) };
    });
    expect((film?.high ?? 0) / (liner?.high ?? 1)).toBeCloseTo(90 / 140, 6);
    expect(liner?.y).toBeCloseTo((film?.y ?? 0) + (film?.high ?? 0), 6);
  });

  it("draws neighbours of one tint as one band, and nothing where there is no ink", async () => {
    open();
    await screen.findByRole("img");
    expect(document.querySelectorAll('[data-band="Cyan"] rect')).toHaveLength(1);
  });

  it("opens a back cut from below, and every other from the face", async () => {
    open();
    await screen.findByRole("img");
    const way = (role: string) =>
      document.querySelector(`[data-cut="${role}"] path`)?.getAttribute("d") ?? "";
    const [mouth, tip] = [/^M\S+ (\S+)L/, /L\S+ (\S+)L/].map((of) => Number(of.exec(way("back-cut"))?.[1]));
    expect(mouth).toBeGreaterThan(tip ?? Infinity);
    const [from, to] = [/^M\S+ (\S+)L/, /L\S+ (\S+)L/].map((of) => Number(of.exec(way("kiss-cut"))?.[1]));
    expect(from).toBeLessThan(to ?? -Infinity);
  });

  it("says so where no cut crosses the line, and folds away", async () => {
    const { person, onClose } = open({ ...SECTION, inks: [], crossings: [] });
    expect(await screen.findByText("No cut crosses this line.")).toBeTruthy();
    expect(screen.getByText("no ink")).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "Fold" }));
    expect(onClose).toHaveBeenCalledOnce();
  });

  it("says why it cannot be drawn", async () => {
    open(new Refusal(400, "Draw a longer line."));
    expect(await screen.findByText("Draw a longer line.")).toBeTruthy();
  });
});

type Layer = PageSeen["layers"][number];
const aLayer = (values: Partial<Layer> = {}): Layer =>
  ({
    name: "art",
    visible: true,
    prints: true,
    role: null,
    locked: false,
    objects: 3,
    art: 3,
    paths: 2,
    cuts: [],
    ...values,
  }) as Layer;

describe("a layer", () => {
  it.each([
    ["prints 3 objects", {}],
    ["empty", { objects: 0, art: 0 }],
    ["cuts: kiss cut · prints 3 objects", { cuts: ["kiss-cut"] }],
    ["cuts: kiss cut", { cuts: ["kiss-cut"], art: 0 }],
    ["3 objects would not print: the layer is hidden", { visible: false }],
    ["3 objects would not print: the layer is kept from printing", { prints: false }],
    ["cuts: kiss cut · the layer is hidden", { cuts: ["kiss-cut"], art: 0, visible: false }],
    ["prints 1 object · locked", { art: 1, locked: true }],
  ] as [string, Partial<Layer>][])("is said to do just this: %s", (words, values) => {
    expect(does(aLayer(values))).toBe(words);
  });

  const shown = (layers: Layer[], chosen = "whole", none = 0) => {
    const onChoose = vi.fn();
    const job = aJob();
    const seen = { ...job.seen, layers, objects_on_no_layer: none } as Job["seen"];
    const person = show(<LayerPanel job={{ ...job, seen }} chosen={chosen} onChoose={onChoose} />);
    return { person, onChoose };
  };

  it("is looked at alone, a hidden one too, and what lies on none as well", async () => {
    const { person, onChoose } = shown([aLayer(), aLayer({ name: "cuts", visible: false })], "whole", 4);
    expect(screen.getByRole("button", { name: /The whole page/ }).getAttribute("aria-pressed")).toBe("true");
    await person.click(screen.getByRole("button", { name: /^cuts/ }));
    expect(onChoose).toHaveBeenLastCalledWith("layer-1");
    await person.click(screen.getByRole("button", { name: /On no layer/ }));
    expect(onChoose).toHaveBeenLastCalledWith("layer-none");
  });

  it("becomes a line in one press, where something is drawn on it and nothing is cut yet", async () => {
    answer({ "POST /api/jobs/7/mends": aWork() });
    const { person } = shown([aLayer({ name: "contour" })], "layer-0");
    await person.click(screen.getByRole("button", { name: "Make the layer “contour” the kiss cut" }));
    await waitFor(() =>
      expect(sent("POST /api/jobs/7/mends")).toMatchObject({
        kind: "assign-role",
        settings: { role: "kiss-cut", layer: "contour" },
      }),
    );
  });

  it("that cuts already, or holds pictures alone, is given no role", () => {
    shown([aLayer({ cuts: ["kiss-cut"] })], "layer-0");
    expect(screen.queryByRole("button", { name: /Make the layer/ })).toBeNull();
    document.body.innerHTML = "";
    shown([aLayer({ paths: 0 })], "layer-0");
    expect(screen.queryByRole("button", { name: /Make the layer/ })).toBeNull();
  });

  it("there is none of in a file without any, and that is said", () => {
    shown([]);
    expect(screen.getByText(/The file has no layers/)).toBeTruthy();
  });
});

describe("before and after", () => {
  const REVISIONS = [
    { id: 1, number: 1, said: "", sha256: "a".repeat(64) },
    { id: 2, number: 2, said: "Renamed to Kiss Cut", sha256: "b".repeat(64) },
  ] as unknown as Job["revisions"];
  const bar = (values: object = {}) => {
    const onChange = vi.fn();
    const person = show(
      <CompareBar
        job={aJob({ revisions: REVISIONS })}
        before={1}
        after={2}
        preview={0}
        apart={false}
        share={0.5}
        onChange={onChange}
        {...values}
      />,
    );
    return { person, onChange };
  };

  it("are any two revisions, by what was done", async () => {
    const { person, onChange } = bar();
    fireEvent.mouseDown(screen.getByRole("combobox", { name: /Left: before/ }));
    await person.click(screen.getByRole("option", { name: "2. Renamed to Kiss Cut" }));
    expect(onChange).toHaveBeenLastCalledWith({ before: 2 });
  });

  it("are parted by a divider that keys move, never out of sight", () => {
    const { onChange } = bar({ share: 0.97 });
    const divider = screen.getByRole("slider", { name: /divider/ });
    expect(divider.getAttribute("aria-valuenow")).toBe("97");
    fireEvent.keyDown(divider, { key: "ArrowRight" });
    expect(onChange).toHaveBeenLastCalledWith({ share: 0.98 });
    fireEvent.keyDown(divider, { key: "ArrowLeft" });
    expect(onChange).toHaveBeenLastCalledWith({ share: 0.95 });
    fireEvent.keyDown(divider, { key: "x" });
    expect(onChange).toHaveBeenCalledTimes(2);
  });

  it("are shown as what differs alone, and have no divider then", async () => {
    const { person, onChange } = bar();
    await person.click(screen.getByRole("button", { name: "Only what differs" }));
    expect(onChange).toHaveBeenLastCalledWith({ apart: true });
    document.body.innerHTML = "";
    bar({ apart: true });
    expect(screen.queryByRole("slider")).toBeNull();
    expect(screen.getByRole("button", { name: "Both again" })).toBeTruthy();
  });

  it("of a mend that is looked at ahead are its own two, not to be chosen", () => {
    bar({ preview: 12 });
    expect(screen.getByText("Left: revision 1, as it is")).toBeTruthy();
    expect(screen.getByText("Right: as it would be")).toBeTruthy();
    expect(screen.queryByRole("combobox")).toBeNull();
  });
});

describe("a mend that is looked at ahead", () => {
  const MEND = { kind: "rename", label: "Rename to Kiss Cut", settings: {} } as unknown as Mend;
  const ahead = (values: Partial<Previewing>, busy = false) => {
    const previewing: Previewing = {
      mend: MEND,
      work: null,
      looked: null,
      revision: 1,
      begin: vi.fn(),
      leave: vi.fn(),
      carryOut: vi.fn(),
      error: "",
      ...values,
    };
    answer({ "POST /api/works/1/cancel": aWork({ state: "cancelled" }) });
    return { person: show(<PreviewPanel previewing={previewing} busy={busy} />), previewing };
  };

  it("says what it came to, with its proof, and is done or left", async () => {
    const looked = {
      said: "Writes the exact name.",
      proof: { plates_same: true, lines_moved_mm: 0 },
      places: [],
    };
    const { person, previewing } = ahead({ looked });
    expect(screen.getByText(/It would look like this/)).toBeTruthy();
    expect(screen.getByText(/art untouched, lines moved/)).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "Do it" }));
    expect(previewing.carryOut).toHaveBeenCalledOnce();
    await person.click(screen.getByRole("button", { name: "Leave it" }));
    expect(previewing.leave).toHaveBeenCalledOnce();
  });

  it("is stopped while it is being made, the work with it", async () => {
    const { person, previewing } = ahead({ work: aWork() });
    expect(screen.queryByRole("button", { name: "Do it" })).toBeNull();
    await person.click(screen.getByRole("button", { name: "Stop" }));
    await waitFor(() => expect(asked.some((one) => one.to === "POST /api/works/1/cancel")).toBe(true));
    expect(previewing.leave).toHaveBeenCalledOnce();
  });

  it("says why it came to nothing", () => {
    ahead({ error: "It would bring a new stop." });
    expect(screen.getByRole("alert").textContent).toBe("It would bring a new stop.");
    expect(screen.getByRole("button", { name: "Leave it" })).toBeTruthy();
  });

  it("is not there where none is looked at", () => {
    ahead({ mend: null });
    expect(screen.queryByRole("region")).toBeNull();
  });

  it("is proved in words that say how far the art and the lines moved", () => {
    expect(proofWords({ lines_moved_mm: 0.02 })).toBe("lines moved 0.020 mm");
    expect(proofWords({ art_max_delta_e: 2.345, art_mean_delta_e: 0.1, lines_moved_mm: 0 })).toBe(
      "art differs by ΔE 2.3 at most, 0.10 on average, lines moved 0.000 mm",
    );
  });
});

describe("the letter to the customer", () => {
  beforeEach(() => {
    answer({ "POST /api/jobs/7/letter": { text: "Dear Dune Press," } });
  });
  const JOB = aJob({
    findings: [
      aFinding({ id: "edge.bleed", key: "k1", message: "Colour ends too soon." }),
      aFinding({ id: "image.low", key: "k2", severity: "look", message: "A picture is coarse." }),
      aFinding({ id: "page.many", key: "k3", severity: "note", message: "Two pages." }),
      aFinding({ id: "line.open", key: "k4", message: "A line is open.", decision: {} as never }),
    ],
  });

  it("begins with the stops that are open; looks may be added, notes are no matter for it", async () => {
    const person = show(<LetterDialog job={JOB} onClose={vi.fn()} />);
    await waitFor(() => expect(sent("POST /api/jobs/7/letter")).toMatchObject({ keys: ["k1"] }));
    expect(screen.queryByText(/Two pages/)).toBeNull();
    await person.click(screen.getByRole("checkbox", { name: /A picture is coarse/ }));
    await waitFor(() => expect(sent("POST /api/jobs/7/letter")).toMatchObject({ keys: ["k1", "k2"] }));
    expect(screen.getByRole("link", { name: /Letter with pictures/ }).getAttribute("href")).toContain(
      "k1,k2",
    );
  });

  it("is read before it is taken, and taken as text", async () => {
    const person = show(<LetterDialog job={JOB} onClose={vi.fn()} />);
    const letter = await waitFor(() => {
      const field = screen.getByLabelText("the letter");
      expect(field).toHaveProperty("value", "Dear Dune Press,");
      return field;
    });
    expect(letter).toHaveProperty("readOnly", false);
    await person.click(screen.getByRole("button", { name: "Copy the text" }));
    expect(await screen.findByRole("button", { name: "Copied" })).toBeTruthy();
    expect(await navigator.clipboard.readText()).toBe("Dear Dune Press,");
  });

  it("is none without a point", async () => {
    const person = show(<LetterDialog job={JOB} onClose={vi.fn()} />);
    await person.click(screen.getByRole("checkbox", { name: /Colour ends too soon/ }));
    expect(screen.getByLabelText("the letter")).toHaveProperty("value", "");
    expect(screen.getByRole("button", { name: "Copy the text" })).toHaveProperty("disabled", true);
    cleanup();
    show(<LetterDialog job={aJob()} onClose={vi.fn()} />);
    const points = screen.getByRole("region", { name: "points of the letter" });
    expect(within(points).getByText("There is nothing to write about.")).toBeTruthy();
  });
});
