// @vitest-environment jsdom
import { screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { answer } from "../testing/server";
import { show } from "../testing/show";
import { HelpButton, HelpProvider, Why } from "./Help";
import { HelpPanel } from "./HelpPanel";
import { Refused } from "../api/client";
import { Failure } from "./Failure";
import { placeAt, PLACES } from "./stations";
import { GLOSSARY } from "./glossary";
import { REFUSALS, rowsOf } from "./tables";

const helped = (place: string, more: React.ReactNode = null) =>
  show(
    <HelpProvider>
      <HelpButton />
      {more}
      <HelpPanel />
    </HelpProvider>,
    [],
    place,
  );

describe("a refusal", () => {
  it("leads to what its code means, where it has one", async () => {
    const refused = new Refused("The shop has no foil of that name.", 404, "not-found");
    const person = helped("/shelf", <Failure of={refused} />);
    expect(screen.getByRole("alert").textContent).toContain("no foil of that name");
    await person.click(screen.getByRole("button", { name: "What not-found means" }));
    expect(screen.getByRole("complementary", { name: "help" }).textContent).toContain(
      REFUSALS.get("not-found") ?? "nothing",
    );
  });

  it.each([new Error("The network is gone."), new Refused("The server failed here.", 500, "fault")])(
    "of another sort only says what it is: %s",
    (error) => {
      helped("/", <Failure of={error} />);
      expect(screen.getByRole("alert").textContent).toContain(error.message);
      expect(screen.queryByRole("button", { name: /^What .* means$/ })).toBeNull();
    },
  );
});

describe("help where one stands", () => {
  it("uses no word that the glossary does not have", () => {
    const unknown = Object.values(PLACES).flatMap((place) =>
      place.words.filter((word) => !GLOSSARY.get(word)),
    );
    expect(unknown).toEqual([]);
    expect(REFUSALS.get("does-not-fit")).toContain("fit");
  });

  it("reads tables as they are written", () => {
    expect([...rowsOf("| a | b |\n|---|---|\n| `x` | y |\ntext")]).toEqual([["x", "y"]]);
  });

  it.each([
    ["/", "desk"],
    ["/jobs/7", "check"],
    ["/jobs/7/sheet", "sheet"],
    ["/jobs/7/nowhere", "check"],
    ["/bench", "bench"],
    ["/shelf/tools", "shelf"],
    ["/shared/3", "shared"],
  ])("knows that %s is %s", (path, place) => expect(placeAt(path)).toBe(place));

  it("opens by the key and closes by it, and not while somebody types", async () => {
    const person = helped("/jobs/7/sheet", <input aria-label="typed" />);
    expect(screen.queryByLabelText("help")).toBeNull();
    await person.keyboard("?");
    expect(screen.getByLabelText("help").textContent).toContain("How the copies lie on what is loaded");
    await person.keyboard("?");
    expect(screen.queryByLabelText("help")).toBeNull();
    await person.type(screen.getByLabelText("typed"), "?");
    expect(screen.queryByLabelText("help")).toBeNull();
  });

  it("leads from a finding to what it measures and what to do", async () => {
    const check = {
      id: "edge.bleed",
      title: "Bleed",
      severity: "stop",
      says: "Colour that ends near the cut.",
    };
    answer({
      "GET /api/sheets": { checks: [{ ...check, limits: [{ key: "", value: 3, unit: "mm" }] }], sheets: [] },
    });
    const person = helped("/jobs/7", <Why of="edge.bleed" />);
    await person.click(screen.getByRole("button", { name: "What edge.bleed means" }));
    expect(await screen.findByText("Colour that ends near the cut.")).toBeTruthy();
    expect(screen.getByLabelText("help").textContent).toContain("limit 3 mm");
    await person.click(screen.getByRole("button", { name: "About Check" }));
    expect(screen.getByLabelText("help").textContent).toContain("Mend all that is safe");
  });

  it("leads from a refusal to its entry", async () => {
    const person = helped("/", <Why of="stops-open" />);
    await person.click(screen.getByRole("button", { name: "What stops-open means" }));
    expect(screen.getByLabelText("help").textContent).toContain("let it pass with a reason");
  });
});
