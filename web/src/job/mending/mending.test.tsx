// @vitest-environment jsdom
import { screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Mend, MendKnown, Recipes, Revision, Setting } from "../../api/client";
import { RecipeDialog } from "../../shelf/RecipeDialog";
import { answer, asked } from "../../testing/server";
import { show } from "../../testing/show";
import { aJob, aWork } from "../../testing/values";
import { PointPanel } from "../modes/PointPanel";
import { History } from "./History";
import { MendOffer } from "./MendOffer";
import { PreviewProvider } from "./PreviewProvider";
import { proofWords } from "./proofWords";
import { RecipeOffers } from "./RecipeOffers";
import { stepsTo, whereFrom } from "./revisions";
import { read, sound } from "./SettingFields";

const aSetting = (values: Partial<Setting>): Setting => ({
  name: "distance_mm",
  kind: "number",
  words: "The bleed that is wanted",
  default: 3,
  unit: "mm",
  least: 0.1,
  most: 50,
  options: [],
  optional: false,
  ...values,
});
const HOW = aSetting({
  name: "how",
  kind: "choice",
  words: "How it goes on",
  default: null,
  unit: "",
  options: ["run-on", "mirror"],
  optional: true,
});
const EXTEND: MendKnown = {
  id: "extend-bleed",
  title: "Extend bleed",
  answers: ["edge.bleed"],
  safe: false,
  settings: [aSetting({}), HOW],
};
const SHELF: Recipes = { recipes: [], mends: [EXTEND], may_edit: true };
const mend: Mend = {
  kind: "extend-bleed",
  label: "Extend the bleed to 3 mm",
  says: "Colour goes on.",
  then: [],
  settings: { distance_mm: 3 },
  safe: false,
};
const aRevision = (number: number, parent: number, kinds: string[] = []): Revision => ({
  id: number,
  number,
  parent,
  said: `Mend ${number}`,
  sha256: String(number).repeat(64).slice(0, 64),
  current: number === 3,
  proof: null,
  created: "2027-01-02T10:00:00Z",
  steps: kinds.map((kind) => ({ ...mend, kind })),
});
const TREE = [
  aRevision(1, 0),
  aRevision(2, 1, ["rename"]),
  aRevision(3, 2, ["smooth"]),
  aRevision(4, 2, ["weld"]),
];

describe("the settings of a mend", () => {
  it("are read with a comma or a point, as colours and as places", () => {
    expect(read(aSetting({}), " 2,5 ")).toBe(2.5);
    expect(read(aSetting({}), "")).toBeUndefined();
    expect(read(aSetting({ kind: "colour" }), "0; 1; 0; 0,5")).toEqual([0, 1, 0, 0.5]);
    expect(read(aSetting({ kind: "points" }), "1 2; 3,5 4")).toEqual([
      [1, 2],
      [3.5, 4],
    ]);
    expect(read(aSetting({ kind: "name" }), " White ")).toBe("White");
  });

  it("are sound inside their range, and where nothing is needed", () => {
    expect(sound(EXTEND, {})).toBe(true);
    expect(sound(EXTEND, { distance_mm: 50 })).toBe(true);
    expect(sound(EXTEND, { distance_mm: 50.1 })).toBe(false);
    expect(sound(EXTEND, { distance_mm: Number.NaN })).toBe(false);
    const needed = { ...EXTEND, settings: [aSetting({ name: "ink", kind: "name", default: null })] };
    expect(sound(needed, {})).toBe(false);
    const place = { ...EXTEND, settings: [aSetting({ name: "at", kind: "points" })] };
    expect(sound(place, { at: [[1, Number.NaN]] })).toBe(false);
  });
});

describe("a mend that is offered", () => {
  it("is done with what was set, and not while that is out of its range", async () => {
    answer({ "GET /api/recipes": SHELF });
    const done: Mend[] = [];
    const person = show(<MendOffer mend={mend} busy={false} open onMend={(one) => done.push(one)} />);
    await person.click(screen.getByRole("button", { name: "Settings…" }));
    const field = await screen.findByLabelText("The bleed that is wanted, mm");
    await person.clear(field);
    await person.type(field, "99");
    expect(screen.getByText(/out of its range/)).toBeTruthy();
    const button = screen.getByRole("button", { name: "Extend the bleed to 3 mm" });
    expect(button).toHaveProperty("disabled", true);
    await person.clear(field);
    await person.type(field, "4,5");
    await person.click(button);
    expect(done[0]?.settings).toEqual({ distance_mm: 4.5 });
  });

  it("can be looked at first where there is a stage", async () => {
    answer({
      "POST /api/jobs/7/previews": aWork({ id: 9, kind: "preview" }),
      "GET /api/works/9": aWork({ id: 9, kind: "preview" }),
    });
    const job = aJob();
    const part = (
      <PreviewProvider job={job}>
        <MendOffer mend={mend} busy={false} open onMend={() => undefined} />
      </PreviewProvider>
    );
    const person = show(part);
    await person.click(screen.getByRole("button", { name: "Look first" }));
    await waitFor(() =>
      expect(asked.find((one) => one.to.endsWith("previews"))?.body).toMatchObject({
        kind: "extend-bleed",
        settings: { distance_mm: 3 },
      }),
    );
    show(<MendOffer mend={mend} busy={false} open onMend={() => undefined} />);
    expect(screen.getAllByRole("button", { name: "Look first" })).toHaveLength(1);
  });
});

describe("the history", () => {
  it("knows the way to each revision, and where one branches off", () => {
    expect(stepsTo(TREE, 4).map((one) => one.kind)).toEqual(["rename", "weld"]);
    expect(stepsTo(TREE, 1)).toEqual([]);
    expect(TREE.map((one) => whereFrom(TREE, one))).toEqual(["", "", "", " · from 2"]);
  });

  it("goes to any, and compares any two", async () => {
    answer({ "POST /api/jobs/7/revisions/1/take": aWork() });
    const person = show(<History job={aJob({ revisions: TREE, revision: 3 })} onClose={() => undefined} />);
    const row = (number: number) => {
      const found = screen.getAllByRole("listitem")[number - 1];
      if (!found) throw new Error(`There is no row ${number}.`);
      return within(found);
    };
    expect(row(3).queryByRole("button", { name: "Go to this one" })).toBeNull();
    await person.click(row(1).getByRole("button", { name: "Compare with…" }));
    expect(row(1).getByRole("button", { name: "Compare 1 with 1" })).toHaveProperty("disabled", true);
    expect(row(4).getByRole("button", { name: "Compare 1 with 4" })).toBeTruthy();
    await person.click(row(1).getByRole("button", { name: "Go to this one" }));
    await waitFor(() => expect(asked.map((one) => one.to)).toContain("POST /api/jobs/7/revisions/1/take"));
  });

  it("says a proof in figures, or that the art was not touched", () => {
    expect(proofWords({ plates_same: true, lines_moved_mm: 0.01234 })).toBe(
      "art untouched, lines moved 0.012 mm",
    );
    expect(proofWords({ lines_moved_mm: 0, art_max_delta_e: 12.34, art_mean_delta_e: 0.5 })).toBe(
      "art differs by ΔE 12.3 at most, 0.50 on average, lines moved 0.000 mm",
    );
  });
});

describe("pointing", () => {
  const thing = {
    kind: "path",
    words: "Shape in red",
    alike: "2 objects",
    role: null,
    box: [0, 0, 1, 1],
    outline: "",
  };
  const panel = (things: (typeof thing & { mends: Mend[] })[], pressed = true) => (
    <PointPanel
      job={aJob()}
      things={things}
      pressed={pressed}
      pending={false}
      error=""
      looked={0}
      onLook={() => undefined}
    />
  );

  it("says what to do, that there is nothing, or what can be done", async () => {
    show(panel([], false));
    expect(screen.getByText(/Press a place/)).toBeTruthy();
    show(panel([]));
    expect(screen.getByText(/Bare media/)).toBeTruthy();
    answer({ "POST /api/jobs/7/mends": aWork() });
    const person = show(panel([{ ...thing, mends: [mend] }]));
    await person.click(screen.getByRole("button", { name: mend.label }));
    await waitFor(() => expect(asked.map((one) => one.to)).toContain("POST /api/jobs/7/mends"));
  });
});

describe("a recipe", () => {
  it("is kept with its steps in their order and what it is bound to", async () => {
    answer({
      "GET /api/recipes": SHELF,
      "GET /api/shelf": {
        destinations: [{ id: "house", title: "House", names: {} }],
        materials: [],
        tools: [],
      },
      "GET /api/customers": ["Dune Press"],
      "POST /api/recipes": SHELF,
    });
    const start = {
      name: "",
      customers: ["Dune Press"],
      steps: [mend, { ...mend, kind: "smooth", settings: {} }],
    };
    const person = show(<RecipeDialog start={start} onClose={() => undefined} />);
    const keep = screen.getByRole("button", { name: "Keep it on the Shelf" });
    expect(keep).toHaveProperty("disabled", true);
    await person.type(screen.getByRole("textbox", { name: "Name" }), "Ours");
    await person.click(screen.getByRole("button", { name: "step 2 earlier" }));
    await waitFor(() => expect(keep).toHaveProperty("disabled", false));
    await person.click(keep);
    await waitFor(() => expect(asked.some((one) => one.to === "POST /api/recipes")).toBe(true));
    expect(asked.find((one) => one.to === "POST /api/recipes")?.body).toEqual({
      name: "Ours",
      note: "",
      customers: ["Dune Press"],
      destinations: [],
      findings: [],
      materials: [],
      steps: [
        { kind: "smooth", settings: {} },
        { kind: "extend-bleed", settings: { distance_mm: 3 } },
      ],
    });
  });
});

describe("what was done alike to several files", () => {
  const learnt = () => {
    const always = { mends: [{ kind: "to-cmyk", label: "To CMYK" } as Mend], jobs: ["Tern", "Seal", "Rim"] };
    return aJob({ customer: "Ferry Works", always });
  };

  it("is offered to be done always, with the jobs, and declined as well", async () => {
    answer({ "POST /api/jobs/7/always": aJob() });
    const person = show(<RecipeOffers job={learnt()} busy={false} />);
    expect(
      screen.getByText("“To CMYK” was done alike to Tern, Seal, Rim. Always for Ferry Works?"),
    ).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "Always" }));
    await waitFor(() => expect(asked.at(-1)?.body).toEqual({ take: true }));
    await person.click(screen.getByRole("button", { name: "Not this" }));
    await waitFor(() =>
      expect(asked.filter((one) => one.to.endsWith("always")).at(-1)?.body).toEqual({ take: false }),
    );
  });

  it("is for those to say who may change the Shelf", () => {
    show(<RecipeOffers job={learnt()} busy={false} />, [], "/", ["see", "work"]);
    expect(screen.queryByRole("button", { name: "Always" })).toBeNull();
    expect(screen.getByText(/Whoever may change the Shelf/)).toBeTruthy();
  });
});
