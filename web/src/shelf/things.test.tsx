// @vitest-environment jsdom
/** Things of the Shelf: forms made from schemas, what is wrong of them, versions, uses, moving, the log, roles. */
import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import type { LogPage, Staff } from "../api/client";
import { answer, asked, Refusal } from "../testing/server";
import { show } from "../testing/show";
import { aThing, aWhole } from "../testing/values";
import { blank, controlOf, labelOf, unitOf, withChange, wrongs, type Schema } from "./form/schema";
import { LogPart } from "./LogPart";
import { TakeIn } from "./MovePart";
import { PeoplePart } from "./PeoplePart";
import { ThingPage } from "./ThingPage";
import { ThingsPart } from "./ThingsPart";

const SCHEMA = {
  type: "object",
  properties: {
    margin_mm: {
      type: "number",
      minimum: 0,
      maximum: 1000,
      description: "what it leaves blank (mm)",
      default: 5,
    },
    width_mm: {
      anyOf: [{ type: "number", minimum: 50, maximum: 20000 }, { type: "null" }],
      description: "the widest media; null: nobody said (mm)",
      default: null,
    },
    passes: { type: "integer", minimum: 1, maximum: 10, description: "how often", default: 1 },
    quick: { type: "boolean", description: "whether it is", default: false },
    ground: { enum: ["white", "clear"], description: "what the ink lies on", default: "white" },
    strata: {
      type: "array",
      minItems: 1,
      maxItems: 3,
      description: "its strata",
      items: {
        type: "object",
        required: ["kind"],
        properties: {
          kind: { type: "string", minLength: 1, maxLength: 20, description: "what it is called" },
        },
      },
    },
    at_mm: {
      prefixItems: [
        { type: "number", minimum: -9, maximum: 9 },
        { type: "number", minimum: -9, maximum: 9 },
      ],
    },
  },
} satisfies Schema;
const KIND = {
  kind: "printer",
  one: "printer",
  many: "printers",
  says: "What prints.",
  schema: SCHEMA,
  begins: { strata: [{ kind: "film" }], at_mm: [1, 2] },
  refers: {},
  on_jobs: true,
};
const DATA = {
  margin_mm: 5,
  width_mm: null,
  passes: 1,
  quick: false,
  ground: "white",
  strata: [{ kind: "film" }],
  at_mm: [1, 2],
};
const PRINTER = aThing("printer", "Roll printer", DATA);
const sent = (to: string) => asked.filter((one) => one.to === to).at(-1)?.body as Record<string, unknown>;

function page(id: string, more = {}) {
  answer({
    "GET /api/shelf/kinds": [KIND],
    "GET /api/shelf/things/roll-printer": aWhole(PRINTER, more),
    "GET /api/jobs": [],
  });
  return show(
    <Routes>
      <Route path="*" element={<ThingPage kind="printer" id={id} />} />
    </Routes>,
  );
}

describe("a schema", () => {
  it("says which control a field is, its label and its unit", () => {
    const { properties } = SCHEMA;
    const kinds = Object.entries(properties).map(([key, one]) => controlOf(key, one as Schema, {}));
    expect(kinds).toEqual(["length", "length", "number", "yes", "choice", "rows", "pair"]);
    expect(controlOf("printer", { type: "string" }, { printer: "printer" })).toBe("thing");
    expect([labelOf("side_margin_mm"), unitOf("cut_speed_mm_s", {})]).toEqual(["Side margin", "mm/s"]);
  });

  it("gives what a new thing says", () => {
    expect(blank(SCHEMA)).toEqual({});
    expect(blank(SCHEMA.properties.width_mm)).toBeNull();
    expect(blank(SCHEMA.properties.strata.items)).toEqual({ kind: "" });
  });

  it("names what is wrong by its path, just over a bound and not on it", () => {
    const wrong = (data: object) => wrongs(SCHEMA, { ...DATA, ...data }).map(({ path }) => path.join("."));
    expect(wrong({ margin_mm: 1000, width_mm: 50 })).toEqual([]);
    expect(wrong({ margin_mm: 1000.1, width_mm: 49 })).toEqual(["margin_mm", "width_mm"]);
    expect(wrong({ strata: [] })).toEqual(["strata"]);
    expect(wrong({ strata: [{ kind: "film" }, { kind: " " }], at_mm: [1, 10] })).toEqual([
      "strata.1.kind",
      "at_mm.1",
    ]);
  });

  it("is changed at a path and nowhere else", () => {
    const changed = withChange(DATA, ["strata", 0, "kind"], "paper") as typeof DATA;
    expect(changed.strata).toEqual([{ kind: "paper" }]);
    expect(DATA.strata).toEqual([{ kind: "film" }]);
  });
});

describe("a thing", () => {
  it("is changed in its form, and kept as the next version with the reason", async () => {
    const person = page("roll-printer");
    const margin = await screen.findByLabelText("Margin, mm");
    expect(screen.getByRole("button", { name: "Keep it as version 2" })).toHaveProperty("disabled", true);
    fireEvent.change(margin, { target: { value: "8" } });
    await person.type(screen.getByLabelText("What is changed, and why"), "measured");
    answer({ "PUT /api/shelf/things/roll-printer": aWhole({ ...PRINTER, number: 2 }) });
    await person.click(screen.getByRole("button", { name: "Keep it as version 2" }));
    await waitFor(() =>
      expect(sent("PUT /api/shelf/things/roll-printer")).toEqual({
        title: "Roll printer",
        data: { ...DATA, margin_mm: 8 },
        note: "measured",
        seen: 1,
      }),
    );
  });

  it("says at the field what is wrong, with the range, and sends nothing; what was typed stays", async () => {
    const person = page("roll-printer");
    const margin = await screen.findByLabelText("Margin, mm");
    fireEvent.change(margin, { target: { value: "2000" } });
    expect(screen.getByText("Give 0 mm to 1000 mm.")).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "Keep it as version 2" }));
    expect(screen.getByText("One field is not right yet.")).toBeTruthy();
    expect(document.activeElement).toBe(margin);
    expect(margin).toHaveProperty("value", "2000");
    expect(sent("PUT /api/shelf/things/roll-printer")).toBeUndefined();
  });

  it("keeps what was typed where the server refuses it, in its words", async () => {
    const person = page("roll-printer");
    fireEvent.change(await screen.findByLabelText("Passes"), { target: { value: "3" } });
    answer({
      "PUT /api/shelf/things/roll-printer": new Refusal(409, "It was changed by ben after you had looked."),
    });
    await person.click(screen.getByRole("button", { name: "Keep it as version 2" }));
    expect(await screen.findByText(/changed by ben/)).toBeTruthy();
    expect(screen.getByLabelText("Passes")).toHaveProperty("value", "3");
    await person.click(screen.getByRole("button", { name: "Back to what it was" }));
    expect(screen.getByLabelText("Passes")).toHaveProperty("value", "1");
  });

  it("has rows that are added, moved and taken out", async () => {
    const person = page("roll-printer");
    await person.click(await screen.findByRole("button", { name: "Add a stratum" }));
    fireEvent.change(screen.getAllByLabelText("Kind")[1] as HTMLElement, { target: { value: "liner" } });
    await person.click(screen.getByRole("button", { name: "stratum 2 up" }));
    expect(screen.getAllByLabelText("Kind").map((one) => (one as HTMLInputElement).value)).toEqual([
      "liner",
      "film",
    ]);
    await person.click(screen.getByRole("button", { name: "Take stratum 2 out" }));
    expect(screen.getByRole("button", { name: "Take stratum 1 out" })).toHaveProperty("disabled", true);
  });

  it("tells its versions with what each changed, and takes an old one again", async () => {
    const [first] = aWhole(PRINTER).versions;
    const second = {
      ...(first as NonNullable<typeof first>),
      number: 2,
      note: "wider",
      data: { ...DATA, margin_mm: 9 },
      changes: [{ where: "margin", before: "5 mm", after: "9 mm" }],
    };
    const whole = { thing: { ...PRINTER, number: 2, data: second.data }, versions: [second, first] };
    const person = page("roll-printer", whole);
    const versions = await screen.findByRole("region", { name: "versions" });
    expect(versions.textContent).toContain("margin: 5 mm → 9 mm");
    await person.click(within(versions).getByRole("button", { name: "Take it again" }));
    expect(screen.getByLabelText("Margin, mm")).toHaveProperty("value", "5");
    expect(screen.getByLabelText("What is changed, and why")).toHaveProperty(
      "value",
      "As it was in version 1",
    );
  });

  it("says where it is in use, and is retired", async () => {
    const person = page("roll-printer", {
      things: [{ kind: "destination", one: "destination", id: "house", title: "House" }],
      jobs: [{ id: 4, name: "Round seals" }],
      job_count: 1,
      released: 2,
    });
    const used = await screen.findByRole("region", { name: "in use" });
    expect(used.textContent).toContain("destination House");
    expect(used.textContent).toContain("2 jobs were released with a version of it");
    const retired = aWhole({ ...PRINTER, retired: true, number: 2 });
    answer({
      "POST /api/shelf/things/roll-printer/retire": retired,
      "GET /api/shelf/things/roll-printer": retired,
    });
    await person.click(screen.getByRole("button", { name: "Retire it" }));
    await waitFor(() =>
      expect(sent("POST /api/shelf/things/roll-printer/retire")).toEqual({
        retired: true,
        note: "",
        seen: 1,
      }),
    );
    expect(await screen.findByText(/It is retired/)).toBeTruthy();
  });

  it("is for looking alone where somebody may not change the Shelf", async () => {
    page("roll-printer", { may_edit: false });
    expect(await screen.findByText(/You may look at it/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Keep it/ })).toBeNull();
    expect(screen.queryByRole("button", { name: "Retire it" })).toBeNull();
  });

  it("is made new from what its kind begins with, and wants a name", async () => {
    const person = page("new");
    await person.click(await screen.findByRole("button", { name: "Put it on the Shelf" }));
    expect(screen.getByText("Give it a name.")).toBeTruthy();
    await person.type(screen.getByLabelText("Name"), "Flat printer");
    answer({ "POST /api/shelf/things": aWhole({ ...PRINTER, id: "flat-printer" }) });
    await person.click(screen.getByRole("button", { name: "Put it on the Shelf" }));
    await waitFor(() =>
      expect(sent("POST /api/shelf/things")).toMatchObject({
        kind: "printer",
        title: "Flat printer",
        data: { strata: [{ kind: "film" }], at_mm: [1, 2] },
      }),
    );
  });
});

describe("the things of a kind", () => {
  it("are listed with what matters, how often they are used, and which is usual", async () => {
    const old = { ...PRINTER, id: "old", title: "Old printer", retired: true };
    answer({
      "GET /api/shelf/things": {
        kind: KIND,
        things: [{ ...PRINTER, usual: true, used_by: 2, jobs: 3 }, old],
        may_edit: true,
      },
    });
    show(<ThingsPart kind="printer" second={false} />);
    const row = await screen.findByRole("row", { name: /Roll printer/ });
    expect(row.textContent).toContain("usual");
    expect(row.textContent).toContain("3 jobs, 2 things");
    expect(row.textContent).toContain("5 mm blank at the edges");
    expect(screen.getByRole("row", { name: /Old printer/ }).textContent).toContain("retired");
    expect(screen.getByRole("link", { name: "Make a printer…" })).toBeTruthy();
  });
});

describe("a Shelf that comes in", () => {
  const compared = (id: string, standing: string) => ({
    kind: "printer",
    one: "printer",
    id,
    title: id,
    standing,
    differences: standing === "changed" ? [{ where: "margin", before: "5 mm", after: "8 mm" }] : [],
  });

  it("is looked at first, and what is here otherwise is asked", async () => {
    answer({
      "POST /api/shelf/import/look": {
        shop: "Harbour Print",
        things: [compared("a", "new"), compared("b", "changed"), compared("c", "same")],
        media: 2,
      },
      "POST /api/shelf/import": { things: 2, media: 2 },
    });
    const person = show(<TakeIn />);
    fireEvent.change(screen.getByLabelText("Shelf to take in"), {
      target: { files: [new File(["{}"], "shelf.json", { type: "application/json" })] },
    });
    const said = await screen.findByText(/From Harbour Print: 1 new, 1 otherwise than here, 1 the same/);
    expect(said.textContent).toContain("2 rolls and sheets");
    expect(screen.getByRole("button", { name: "Say first what becomes of 1" })).toHaveProperty(
      "disabled",
      true,
    );
    await person.click(screen.getByRole("button", { name: "Have both" }));
    await person.click(screen.getByRole("button", { name: "Take it in" }));
    expect(await screen.findByText(/2 things and 2 rolls and sheets were put on the Shelf/)).toBeTruthy();
  });

  it("that cannot be read is refused in the server's words", async () => {
    answer({ "POST /api/shelf/import/look": new Refusal(400, "shelf.json is not JSON.") });
    show(<TakeIn />);
    fireEvent.change(screen.getByLabelText("Shelf to take in"), {
      target: { files: [new File(["x"], "shelf.json")] },
    });
    expect(await screen.findByText("shelf.json is not JSON.")).toBeTruthy();
  });
});

describe("the log", () => {
  const PAGE: LogPage = {
    entries: [
      {
        id: 1,
        when: "2027-02-01T08:00:00Z",
        who: "ada",
        topic: "job",
        about: "Round seals",
        version: 2,
        what: "Changed the name",
        job: 7,
        sheet: null,
        item: null,
      },
    ],
    count: 130,
    people: ["ada", "ben"],
  };

  it("is filtered, paged, and taken out as it is filtered", async () => {
    const wanted: string[] = [];
    answer({
      "GET /api/log": (query: URLSearchParams) => {
        wanted.push(query.toString());
        return PAGE;
      },
    });
    const person = show(<LogPart />);
    expect((await screen.findByRole("link", { name: "Round seals" })).getAttribute("href")).toBe("/jobs/7");
    expect(screen.getByText("130 entries, 1 to 60")).toBeTruthy();
    fireEvent.mouseDown(screen.getByRole("combobox", { name: "By" }));
    await person.click(screen.getByRole("option", { name: "ben" }));
    await waitFor(() => expect(wanted.at(-1)).toContain("who=ben"));
    await person.click(screen.getByRole("button", { name: "Earlier" }));
    await waitFor(() => expect(wanted.at(-1)).toContain("offset=60"));
    expect(screen.getByRole("link", { name: "Take it out as CSV" }).getAttribute("href")).toBe(
      "/api/log/export?who=ben",
    );
  });
});

describe("whoever manages people", () => {
  const STAFF: Staff = {
    people: [
      { id: 1, name: "ada", roles: [1], active: true, second_step: false, browsers: 1, seen: null },
      { id: 2, name: "ben", roles: [2], active: true, second_step: true, browsers: 2, seen: null },
    ],
    roles: [
      { id: 1, name: "Owner", rights: ["see", "manage-people"], people: 1 },
      { id: 2, name: "Technician", rights: ["see"], people: 1 },
    ],
    rights: [
      { right: "see", says: "look at jobs" },
      { right: "manage-people", says: "invite people" },
    ],
    invites: [],
  };
  const shown = () => {
    answer({
      "GET /api/me": { name: "ada", rights: ["manage-people"], unit: "mm", second_step: false },
      "GET /api/staff": STAFF,
      "GET /api/people": [],
      "GET /api/me/log-ins": [],
    });
    return show(<PeoplePart />);
  };

  it("invites by a link that is shown once", async () => {
    const person = shown();
    await person.type(await screen.findByLabelText("Who it is for"), "Cleo");
    answer({ "POST /api/invites": { path: "/join/abc", staff: STAFF } });
    await person.click(screen.getByRole("button", { name: "Make a link" }));
    expect((await screen.findByTestId("link")).textContent).toContain("/join/abc");
    expect(sent("POST /api/invites")).toEqual({ roles: [2], note: "Cleo" });
  });

  it("switches others off, and never is offered that for oneself", async () => {
    const person = shown();
    answer({ "PATCH /api/staff/2": STAFF });
    await person.click(await screen.findByRole("button", { name: "Switch ben off" }));
    await waitFor(() => expect(sent("PATCH /api/staff/2")).toEqual({ active: false }));
    expect(screen.queryByRole("button", { name: "Switch ada off" })).toBeNull();
    expect(screen.getByRole("button", { name: "Put off the second step of ben" })).toBeTruthy();
  });

  it("makes roles of rights", async () => {
    const person = shown();
    answer({ "PUT /api/roles/2": STAFF });
    await person.click(await screen.findByRole("checkbox", { name: "Technician may invite people" }));
    await waitFor(() =>
      expect(sent("PUT /api/roles/2")).toEqual({ name: "Technician", rights: ["see", "manage-people"] }),
    );
  });
});
