// @vitest-environment jsdom
/** The Shelf: what there is of materials, tool settings with what stands behind them, exact names, recipes. */
import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Recipe, Shelf, ShopTool, Tool } from "../api/client";
import { answer, asked, Refusal } from "../testing/server";
import { show } from "../testing/show";
import { MediaPart } from "./MediaPart";
import { NamesPart } from "./NamesPart";
import { RecipesPart } from "./RecipesPart";
import { ToolsPart } from "./ToolsPart";

const SHELF = {
  may_edit: true,
  currency: "EUR",
  destinations: [
    { id: "house", title: "House table", names: { "kiss-cut": "Kiss Cut", white: "White" } },
    { id: "iso", title: "ISO names", names: { "kiss-cut": "PartialCutting", white: "White" } },
  ],
  materials: [
    {
      id: "film-1370",
      title: "White film",
      ground: "white",
      glossy: false,
      grain: false,
      price_m2: 4.5,
      strata: [
        { kind: "film", thickness_um: 90 },
        { kind: "liner", thickness_um: 140 },
      ],
      media: [
        {
          id: 3,
          title: "roll",
          width_mm: 1370,
          length_mm: null,
          roll: true,
          left_by: "",
          loaded: true,
        },
        {
          id: 4,
          title: "Rest",
          width_mm: 600,
          length_mm: 450,
          roll: false,
          left_by: "Round seals",
          loaded: false,
        },
      ],
    },
    {
      id: "clear-1067",
      title: "Clear film",
      ground: "clear",
      glossy: true,
      grain: true,
      price_m2: null,
      strata: [],
      media: [],
    },
  ],
} as unknown as Shelf;

const sent = (to: string) => asked.filter((one) => one.to === to).at(-1)?.body;
const rowOf = (material: string) => document.querySelector(`[data-material="${material}"]`) as HTMLElement;

describe("materials", () => {
  const shown = (shelf: Shelf = SHELF) => {
    answer({
      "GET /api/shelf": shelf,
      "POST /api/shelf/media": shelf,
      "POST /api/shelf/media/4/load": shelf,
      "DELETE /api/shelf/media/4": shelf,
      "POST /api/shelf/materials/film-1370/price": shelf,
    });
    return show(<MediaPart shelf={shelf} />);
  };

  it("are told with their strata, what is special of them, and what there is of each", () => {
    shown();
    expect(rowOf("film-1370").textContent).toContain("film 90 µm · liner 140 µm");
    expect(rowOf("film-1370").textContent).toContain("roll 1370 mm wide · loaded");
    expect(rowOf("film-1370").textContent).toContain("offcut 600 mm × 450 mm · Rest · left by Round seals");
    expect(rowOf("clear-1067").textContent).toContain("clear ground, glossy, grain is kept");
  });

  it("are loaded and used up, piece by piece; what is loaded needs no loading", async () => {
    const person = shown();
    expect(within(rowOf("film-1370")).getAllByRole("button", { name: /^load/ })).toHaveLength(1);
    await person.click(screen.getByRole("button", { name: "load offcut 600 mm × 450 mm" }));
    await waitFor(() => expect(asked.some((one) => one.to === "POST /api/shelf/media/4/load")).toBe(true));
    await person.click(screen.getByRole("button", { name: "take offcut 600 mm × 450 mm off the shelf" }));
    await waitFor(() => expect(asked.some((one) => one.to === "DELETE /api/shelf/media/4")).toBe(true));
  });

  it("lead to their prices", () => {
    shown();
    expect(screen.getByRole("link", { name: "4.50 EUR a m²" }).getAttribute("href")).toBe(
      "/shelf/material/film-1370",
    );
  });

  it("are put on the shelf once they have a size; a sheet needs both", async () => {
    const person = shown();
    const form = screen.getByRole("form", { name: "add to the shelf" });
    const put = within(form).getByRole("button", { name: "Put on the shelf" });
    expect(put).toHaveProperty("disabled", true);
    const width = within(form).getByLabelText(/^Width/);
    fireEvent.change(width, { target: { value: "1050" } });
    fireEvent.blur(width);
    expect(put, "a roll may be of unknown length").toHaveProperty("disabled", false);
    fireEvent.mouseDown(within(form).getByRole("combobox", { name: /Comes as/ }));
    await person.click(screen.getByRole("option", { name: "sheets" }));
    expect(put).toHaveProperty("disabled", true);
    const length = within(form).getByLabelText(/^Length/);
    fireEvent.change(length, { target: { value: "700" } });
    fireEvent.blur(length);
    await person.click(put);
    await waitFor(() =>
      expect(sent("POST /api/shelf/media")).toMatchObject({
        material: "film-1370",
        title: "Sheets",
        width_mm: 1050,
        length_mm: 700,
        roll: false,
      }),
    );
  });

  it("say why something could not be put there, and what was typed stays", async () => {
    const person = shown();
    answer({ "POST /api/shelf/media": new Refusal(400, "A roll of 9 mm is too narrow.") });
    const form = screen.getByRole("form", { name: "add to the shelf" });
    const width = within(form).getByLabelText(/^Width/);
    fireEvent.change(width, { target: { value: "9" } });
    fireEvent.blur(width);
    await person.click(within(form).getByRole("button", { name: "Put on the shelf" }));
    expect(await screen.findByText("A roll of 9 mm is too narrow.")).toBeTruthy();
    expect(width).toHaveProperty("value", "9");
  });

  it("are for looking alone where somebody may not change the Shelf", () => {
    shown({ ...SHELF, may_edit: false });
    expect(screen.queryByRole("form", { name: "add to the shelf" })).toBeNull();
    expect(screen.queryByRole("button", { name: /off the shelf/ })).toBeNull();
    expect(rowOf("film-1370").textContent).toContain("4.50 EUR a m²");
    expect(screen.getByRole("button", { name: "load offcut 600 mm × 450 mm" })).toBeTruthy();
  });
});

describe("exact names", () => {
  it("stand beside each other by role, letter for letter, spaces to be seen", () => {
    show(<NamesPart shelf={SHELF} />);
    const [head, kiss] = screen.getAllByRole("row");
    expect(head?.textContent).toBe("RoleHouse tableISO names");
    expect(kiss?.textContent).toBe("kiss cutKiss␣CutPartialCutting");
  });
});

const TOOL = {
  role: "kiss-cut",
  number: 1,
  force_gf: 90,
  speed_mm_s: 400,
  passes: 1,
  cut_mm: null,
  tie_mm: null,
  least_ties: 0,
  tie_force_gf: 0,
  blade: "drag",
  offset_mm: 0.25,
  overcut_mm: 0.5,
  acceleration_mm_s2: null,
  age_m: 0,
  wear_gf_km: 0,
} as unknown as Tool;
const VERSION = {
  number: 2,
  tool: TOOL,
  who: "ada",
  when: "2027-02-03T09:00:00Z",
  seen: "too-shallow",
  note: "",
  confirmed: false,
};

describe("tool settings", () => {
  const shown = async (tool: Partial<ShopTool>, mayEdit = true) => {
    const one = { role: "kiss-cut", tool: TOOL, tested_by: "", tested: null, versions: [], ...tool };
    const shop = { destination: "house", material: "film-1370", may_edit: mayEdit, tools: [one] };
    answer({ "GET /api/shelf/tools": shop, "POST /api/shelf/tools": shop, "GET /api/patterns": [] });
    const person = show(<ToolsPart shelf={SHELF} />);
    await waitFor(() => expect(document.querySelector('[data-tool="kiss-cut"]')).toBeTruthy());
    return { person, text: () => document.querySelector('[data-tool="kiss-cut"]')?.textContent ?? "" };
  };

  it("say what stands behind them: nothing, a version, or a test cut", async () => {
    expect((await shown({})).text()).toContain("as shipped, not tested here");
    document.body.innerHTML = "";
    expect(
      (await shown({ versions: [{ ...VERSION, confirmed: true }] as ShopTool["versions"] })).text(),
    ).toContain("not tested as it is now");
    document.body.innerHTML = "";
    const tested = await shown({ tested: "2027-02-03T09:00:00Z", tested_by: "bo" });
    expect(tested.text()).toContain("tested by bo on");
  });

  it("that a test cut has led far off are confirmed by a person", async () => {
    const { person, text } = await shown({ versions: [VERSION] as ShopTool["versions"] });
    expect(text()).toContain("not confirmed");
    expect(text()).toContain("90 gf, since a test cut was");
    await person.click(screen.getByRole("button", { name: "Confirm 90 gf" }));
    await waitFor(() =>
      expect(sent("POST /api/shelf/tools")).toMatchObject({ destination: "house", note: "confirmed" }),
    );
  });

  it("cannot be changed by who may not, and are not offered so", async () => {
    await shown({ versions: [VERSION] as ShopTool["versions"] }, false);
    expect(screen.queryByRole("button", { name: /Confirm/ })).toBeNull();
    expect(screen.queryByLabelText(/force/i)).toBeNull();
  });
});

describe("recipes", () => {
  const RECIPE = {
    id: 6,
    name: "Tidy names",
    version: 2,
    versions: [
      { number: 2, who: "ada", when: "2027-02-03T09:00:00Z", note: "also the white" },
      { number: 1, who: "bo", when: "2027-01-03T09:00:00Z", note: "" },
    ],
    steps: [
      { kind: "rename", label: "Rename to Kiss Cut", settings: {} },
      { kind: "hairline", label: "Make a hairline", settings: {} },
    ],
    customers: ["Dune Press"],
    destinations: [],
    materials: [],
    findings: [],
  } as unknown as Recipe;
  const shown = (mayEdit = true, recipes = [RECIPE]) => {
    answer({ "GET /api/recipes": { may_edit: mayEdit, recipes }, "DELETE /api/recipes/6": {} });
    return show(<RecipesPart />);
  };

  it("are told with their steps, for whom they are offered, and who changed them why", async () => {
    shown();
    const row = (await screen.findByText("Tidy names")).closest("tr") as HTMLElement;
    expect(row.textContent).toContain("Rename to Kiss Cut · Make a hairline");
    expect(row.textContent).toContain("Dune Press");
    expect(row.textContent).toContain(": also the white");
    expect(within(row).getByRole("link", { name: "Export" })).toHaveProperty(
      "pathname",
      "/api/recipes/6/export",
    );
  });

  it("are taken off by who may", async () => {
    const person = shown();
    await person.click(await screen.findByRole("button", { name: "take “Tidy names” off, 2 versions" }));
    await waitFor(() => expect(asked.some((one) => one.to === "DELETE /api/recipes/6")).toBe(true));
  });

  it("are run by everybody, changed and taken off by who may", async () => {
    shown(false);
    expect(await screen.findByRole("button", { name: "Run…" })).toHaveProperty("disabled", false);
    expect(screen.getByRole("button", { name: "Change…" })).toHaveProperty("disabled", true);
    expect(screen.getByRole("button", { name: /take “Tidy names” off/ })).toHaveProperty("disabled", true);
  });

  it("are none to begin with, and that is said", async () => {
    shown(true, []);
    expect(await screen.findByText("No recipe yet.")).toBeTruthy();
    expect(screen.queryByRole("table")).toBeNull();
  });

  it("say why they cannot be shown", async () => {
    answer({ "GET /api/recipes": new Refusal(503, "The shop is being kept. Try again soon.") });
    show(<RecipesPart />);
    expect(await screen.findByText("The shop is being kept. Try again soon.")).toBeTruthy();
  });
});
