// @vitest-environment jsdom
/** Check sheets that are written and tried on a job, and recipes that run over many. */
import { act, fireEvent, renderHook, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { JobRow, Recipe } from "../api/client";
import { answer, asked, Refusal } from "../testing/server";
import { show } from "../testing/show";
import { aJob, aWork } from "../testing/values";
import { CheckSheetEditor } from "./CheckSheetEditor";
import { Effect } from "./Effect";
import { RunOver } from "./RunOver";
import { useSheetDraft, type Check, type Sheet } from "./sheetDraft";

const sent = (to: string) => asked.filter((one) => one.to === to).at(-1)?.body;

const SHEET = {
  scope: "shop",
  subject: "",
  title: "Shop",
  versions: [
    {
      number: 3,
      who: "ada",
      when: "2027-02-03T09:00:00Z",
      note: "more bleed",
      limits: { "edge.bleed": 4 },
      severities: { "image.low": "note" },
    },
  ],
} as unknown as Sheet;
const CHECKS = [
  {
    id: "edge.bleed",
    title: "Bleed",
    severity: "stop",
    limits: [{ key: "edge.bleed", name: "", unit: "mm", value: 3 }],
  },
  {
    id: "image.low",
    title: "Coarse pictures",
    severity: "look",
    limits: [{ key: "image.low", name: "", unit: "ppi", value: 100 }],
  },
] as unknown as Check[];

describe("a draft of a check sheet", () => {
  const draft = () => {
    const touched = vi.fn();
    return { ...renderHook(() => useSheetDraft(SHEET, touched)), touched };
  };

  it("begins as the newest version, and is changed once something differs", () => {
    const { result, touched } = draft();
    expect(result.current.textOf("edge.bleed")).toBe(4);
    expect(result.current.changed).toBe(false);
    act(() => result.current.setLimit("edge.bleed", "5,5"));
    expect(result.current.values.limits).toEqual({ "edge.bleed": 5.5 });
    expect(result.current.changed).toBe(true);
    expect(touched, "what was found of the draft before holds no more").toHaveBeenCalledOnce();
    act(() => result.current.setLimit("edge.bleed", "4"));
    expect(result.current.changed).toBe(false);
  });

  it("goes back to the shipped limit where a field is emptied, and to the shipped severity", () => {
    const { result } = draft();
    act(() => result.current.setLimit("edge.bleed", ""));
    act(() => result.current.setSeverity("image.low", "shipped"));
    expect(result.current.values).toEqual({ limits: {}, severities: {} });
  });

  it.each(["many", "-1", "1e999"])("keeps what is no limit in its field and names it: %s", (text) => {
    const { result } = draft();
    act(() => result.current.setLimit("edge.bleed", text));
    expect(result.current.unsound).toEqual(["edge.bleed"]);
    expect(result.current.textOf("edge.bleed")).toBe(text);
    expect(result.current.values.limits, "the last sound one stands").toEqual({ "edge.bleed": 4 });
  });
});

describe("writing a check sheet", () => {
  const shown = (mayEdit = true) => {
    answer({
      "GET /api/jobs": [{ ...aJob(), has_picture: true }],
      "POST /api/sheets/try": aWork({ id: 31, kind: "try-sheet" as never }),
      "GET /api/works/31": aWork({ id: 31 }),
      "POST /api/sheets": SHEET.versions[0],
      "GET /api/sheets": { sheets: [SHEET], checks: CHECKS, may_edit: mayEdit },
    });
    return show(<CheckSheetEditor sheet={SHEET} checks={CHECKS} mayEdit={mayEdit} />);
  };
  const limit = (key: string, text: string) =>
    fireEvent.change(screen.getByLabelText(`limit of ${key}`), { target: { value: text } });

  it("is kept as the next version with what was changed and why, and not before something was", async () => {
    const person = shown();
    const keep = screen.getByRole("button", { name: "Keep as version 4" });
    expect(keep).toHaveProperty("disabled", true);
    limit("image.low", "150");
    fireEvent.change(screen.getByLabelText("What was changed, and why"), { target: { value: "finer" } });
    await person.click(keep);
    await waitFor(() =>
      expect(sent("POST /api/sheets")).toMatchObject({
        scope: "shop",
        limits: { "edge.bleed": 4, "image.low": 150 },
        severities: { "image.low": "note" },
        note: "finer",
        job: null,
      }),
    );
  });

  it("is neither kept nor tried with a limit that is none", async () => {
    shown();
    limit("edge.bleed", "wide");
    expect(screen.getByRole("button", { name: "Keep as version 4" })).toHaveProperty("disabled", true);
    expect(screen.getByText("edge.bleed: give a number from 0 on.")).toBeTruthy();
  });

  it("is tried on a job before it is kept, by everybody", async () => {
    const person = shown(false);
    expect(screen.getByText(/not keep them/)).toBeTruthy();
    const effect = screen.getByRole("button", { name: "Show the effect" });
    expect(effect).toHaveProperty("disabled", true);
    await waitFor(() => {
      fireEvent.mouseDown(screen.getByRole("combobox", { name: /Try on job/ }));
      expect(screen.getByRole("option", { name: "Round seals" })).toBeTruthy();
    });
    await person.click(screen.getByRole("option", { name: "Round seals" }));
    limit("edge.bleed", "2");
    await person.click(effect);
    await waitFor(() =>
      expect(sent("POST /api/sheets/try")).toMatchObject({ job: 7, limits: { "edge.bleed": 2 } }),
    );
    limit("image.low", "90");
    expect(screen.getByRole("button", { name: "Keep as version 4" })).toHaveProperty("disabled", true);
  });

  it("comes back to any version, or to what ships", async () => {
    const person = shown();
    await person.click(screen.getByRole("button", { name: "As shipped" }));
    expect(screen.getByLabelText("limit of edge.bleed")).toHaveProperty("value", "");
    await person.click(screen.getByRole("button", { name: "3 · more bleed" }));
    expect(screen.getByLabelText("limit of edge.bleed")).toHaveProperty("value", "4");
  });

  it("says why it was not kept", async () => {
    const person = shown();
    answer({ "POST /api/sheets": new Refusal(403, "You may not change the Shelf.") });
    limit("edge.bleed", "2");
    await person.click(screen.getByRole("button", { name: "Keep as version 4" }));
    expect(await screen.findByText("You may not change the Shelf.")).toBeTruthy();
  });
});

describe("the effect of a draft", () => {
  it("names what goes and what comes, and where the job would stand", () => {
    const result = {
      verdict: ["look", "stop"],
      goes: [],
      comes: [{ id: "edge.bleed", severity: "stop", message: "Colour ends 3.5 mm outside." }],
    };
    show(<Effect work={aWork({ state: "done", result })} />);
    expect(screen.getByTestId("effect").textContent).toBe(
      "The job goes from “look” to “stop”.comes · stop Colour ends 3.5 mm outside.",
    );
  });

  it("says that nothing changes, that it runs, that it was stopped, and why it failed", () => {
    const result = { verdict: ["clean", "clean"], goes: [], comes: [] };
    show(<Effect work={aWork({ state: "done", result })} />);
    expect(screen.getByText("The job stays at “clean”.")).toBeTruthy();
    expect(screen.getByText("No finding changes.")).toBeTruthy();
    document.body.innerHTML = "";
    show(<Effect work={aWork()} />);
    expect(screen.getByText("Trying it: reading the artwork…")).toBeTruthy();
    document.body.innerHTML = "";
    show(<Effect work={aWork({ state: "cancelled" })} />);
    expect(screen.getByText("Stopped.")).toBeTruthy();
    document.body.innerHTML = "";
    show(<Effect work={aWork({ state: "failed", error: "The file is gone." })} />);
    expect(screen.getByText("The file is gone.")).toBeTruthy();
  });
});

describe("a recipe over many jobs", () => {
  const RECIPE = {
    id: 6,
    name: "Tidy names",
    version: 2,
    versions: [],
    steps: [{ kind: "rename", label: "Rename to Kiss Cut", settings: {} }],
    customers: ["Dune Press"],
    destinations: [],
    materials: [],
    findings: [],
  } as unknown as Recipe;
  const row = (id: number, name: string, values: Partial<JobRow> = {}): JobRow => ({
    ...aJob({ id, name }),
    ...values,
  });
  const shown = (rows: JobRow[]) => {
    answer({ "GET /api/jobs": rows });
    return show(<RunOver recipe={RECIPE} onClose={vi.fn()} />);
  };

  it("is run over those that are chosen; all that fit its customer in one press", async () => {
    const person = shown([
      row(1, "Seals"),
      row(2, "Cards", { customer: "Kelp Works" }),
      row(3, "New", { verdict: null }),
    ]);
    expect(await screen.findByRole("checkbox", { name: /^Seals/ })).toBeTruthy();
    expect(
      screen.queryByRole("checkbox", { name: /^New/ }),
      "what was not checked is not offered",
    ).toBeNull();
    expect(screen.getByRole("button", { name: "Run it over 0 jobs" })).toHaveProperty("disabled", true);
    await person.click(screen.getByRole("button", { name: "Choose all that fit" }));
    expect(screen.getByRole("checkbox", { name: /^Cards/ })).toHaveProperty("checked", false);
    answer({
      "POST /api/recipes/6/run": [
        { job_id: 1, name: "Seals", why: "", work: aWork({ id: 44, state: "done", result: {} }) },
      ],
    });
    answer({ "GET /api/works/44": aWork({ id: 44, state: "done", result: {} }) });
    await person.click(screen.getByRole("button", { name: "Run it over 1 job" }));
    await waitFor(() => expect(sent("POST /api/recipes/6/run")).toEqual({ jobs: [{ id: 1, version: 3 }] }));
    expect(await screen.findByText("Done.")).toBeTruthy();
  });

  it("says of each job what became of it", async () => {
    const person = shown([row(1, "Seals")]);
    await person.click(await screen.findByRole("checkbox", { name: /^Seals/ }));
    const result = {
      skipped: [{ label: "a", why: "" }],
      refused: [{ label: "Hairline", why: "It moved a line." }],
    };
    const done = aWork({ id: 44, state: "done", result });
    answer({
      "POST /api/recipes/6/run": [
        { job_id: 1, name: "Seals", why: "", work: done },
        { job_id: 2, name: "Cards", why: "Somebody changed it meanwhile.", work: null },
      ],
      "GET /api/works/44": done,
    });
    await person.click(screen.getByRole("button", { name: "Run it over 1 job" }));
    const [seals, cards] = await waitFor(() => {
      const found = [1, 2].map((id) => document.querySelector(`[data-outcome="${id}"]`) as HTMLElement);
      expect(found[1]).toBeTruthy();
      return found;
    });
    expect(seals?.textContent).toContain("Done; 1 step had nothing to do.");
    expect(seals?.textContent).toContain("Set aside: Hairline. It moved a line.");
    expect(within(cards as HTMLElement).getByText("Somebody changed it meanwhile.")).toBeTruthy();
  });

  it("finds nothing to run over, and says so", async () => {
    shown([]);
    expect(await screen.findByText("No job that was checked fits the search.")).toBeTruthy();
  });
});
