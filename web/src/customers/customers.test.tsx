// @vitest-environment jsdom
/** Customers: those with work first, a page each, habits that are kept and dropped, letters; the shop's figures. */
import { screen, waitFor } from "@testing-library/react";
import { Route, Routes } from "react-router";
import { describe, expect, it } from "vitest";
import type { Customer, Figures as Shown, Right } from "../api/client";
import { Figures } from "../figures/Figures";
import { answer, asked } from "../testing/server";
import { show } from "../testing/show";
import { aJob } from "../testing/values";
import { Customers } from "./Customers";
import { Outbox } from "./Outbox";
import { orderWords } from "./orderWords";

const RIGHTS: Right[] = ["see", "edit-shelf"];
const mend = {
  kind: "outline-text",
  settings: {},
  label: "Outline the text",
  says: "",
  safe: false,
  then: [],
};
const customer = (values: Partial<Customer> = {}): Customer => ({
  name: "Saltmarsh Trust",
  thing: "saltmarsh-trust",
  write_to: "art@saltmarsh.example",
  note: "Call before noon.",
  order: { edge: "bleed", bleed_mm: 3 },
  destination: "",
  check_sheet: false,
  counts: { all: 3, mend: 2, ready: 1 },
  habits: [{ id: "r1", kind: "recipe", title: "As always", mends: [mend] }],
  bound: [{ key: "ink:Rim", is_: "kiss-cut", in_pdf: true }],
  declined: [],
  learnt: { mends: [mend], jobs: ["a", "b", "c"] },
  faults: [],
  months: [],
  untouched: 1,
  sorted: 3,
  ...values,
});
const page = (values: Partial<Customer> = {}, rights = RIGHTS) => {
  answer({
    "GET /api/customers/page": customer(values),
    "GET /api/letters": [],
    "GET /api/jobs": [aJob()],
  });
  return show(
    <Routes>
      <Route path="/customers/:name?" element={<Customers />} />
    </Routes>,
    [],
    "/customers/Saltmarsh%20Trust",
    rights,
  );
};
const sent = (to: string) => asked.find((each) => each.to === to)?.body;

describe("customers", () => {
  it("are listed, found by a part of their name, and lead to their pages", async () => {
    const rows = ["Saltmarsh Trust", "Dune / Press"].map((name, i) => ({
      name,
      files: 4,
      open: i,
      faulty: 1,
      last: "2026-11-03T10:00:00Z",
    }));
    answer({ "GET /api/customers/all": rows });
    const person = show(
      <Routes>
        <Route path="/customers/:name?" element={<Customers />} />
      </Routes>,
      [],
      "/customers",
      RIGHTS,
    );
    expect(await screen.findByRole("link", { name: "Dune / Press" })).toHaveProperty(
      "pathname",
      "/customers/Dune%20%2F%20Press",
    );
    await person.type(screen.getByLabelText("Search"), "salt");
    expect(screen.queryByRole("link", { name: "Dune / Press" })).toBeNull();
  });

  it("have a page with their work, what goes for them and what needed nobody", async () => {
    page();
    expect(await screen.findByRole("link", { name: "to mend · 2" })).toHaveProperty(
      "search",
      "?group=mend&search=Saltmarsh%20Trust",
    );
    expect(screen.getByText("edge bleed, bleed 3 mm")).toBeTruthy();
    expect(screen.getByText("1 of 3 files needed nobody (33 %).")).toBeTruthy();
    expect(await screen.findByText("Round seals")).toBeTruthy();
  });

  it("have habits that are taken up and dropped there", async () => {
    const person = page();
    answer({
      "POST /api/customers/always": customer({ learnt: null }),
      "POST /api/customers/drop": customer(),
    });
    await person.click(await screen.findByRole("button", { name: "Always" }));
    await waitFor(() =>
      expect(sent("POST /api/customers/always")).toEqual({ name: "Saltmarsh Trust", take: true }),
    );
    await person.click(screen.getByRole("button", { name: "drop: ink:Rim" }));
    await waitFor(() => expect(sent("POST /api/customers/drop")).toMatchObject({ key: "ink:Rim" }));
  });

  it("are shown to who may only look, without what changes them", async () => {
    page({}, ["see"]);
    expect(await screen.findByText("Call before noon.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Always" })).toBeNull();
    expect(screen.queryByRole("link", { name: "Change on the Shelf" })).toBeNull();
  });

  it("have letters that lie in one list", async () => {
    answer({ "GET /api/letters": [] });
    show(<Outbox />);
    expect(await screen.findByText("No letter yet.")).toBeTruthy();
  });

  it("say what goes for their orders in a line", () => {
    expect(orderWords({ roles: ["kiss-cut", "perforation"], white: true })).toBe(
      "roles kiss cut + perforation, white true",
    );
    expect(orderWords({ roles: [] })).toBe("roles –");
  });
});

describe("the shop's figures", () => {
  const figures = (values: Partial<Shown> = {}): Shown => ({
    since: "2026-09-01",
    until: "2026-11-30",
    weeks: [],
    faults: [],
    customers: [{ customer: "", files: 3, faulty: 0, kinds: {} }],
    files: 0,
    sorted: 4,
    untouched: 1,
    ready: 2,
    hours_median: 0.5,
    hours_p90: 60,
    sheets: 0,
    metres: 1.25,
    area_m2: 2,
    waste_m2: 0.5,
    ...values,
  });

  it("are said before they are drawn, and had as tables", async () => {
    answer({ "GET /api/figures": figures() });
    show(<Figures />);
    expect(await screen.findByText("30 min")).toBeTruthy();
    expect(screen.getAllByText("25 %")).toHaveLength(2);
    expect(screen.getByText(/nine in ten within 2\.5 days/)).toBeTruthy();
    expect(screen.getByText("no customer")).toBeTruthy();
    const table = screen.getByRole("link", { name: "By customer: As a table (CSV)" });
    expect(table.getAttribute("href")).toBe("/api/figures/customers.csv?since=2026-09-01&until=2026-11-30");
  });

  it("say where there is nothing", async () => {
    answer({ "GET /api/figures": figures({ sorted: 0, ready: 0, hours_median: null, hours_p90: null }) });
    show(<Figures />);
    expect(await screen.findByText("nothing was ready in this time")).toBeTruthy();
    expect(screen.getByText("Nothing came in in this time.")).toBeTruthy();
    expect(screen.getByText("No file came with a fault.")).toBeTruthy();
  });
});
