// @vitest-environment jsdom
/** The panels over the stage: the measured edge with what shows where a cut lands off, and the inks under the pointer. */
import { act, fireEvent, screen, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Edges, Job, Landing } from "../../api/client";
import { NOWHERE } from "../../stage/edges";
import { answer } from "../../testing/server";
import { show } from "../../testing/show";
import { aJob, aWork } from "../../testing/values";
import type { Point } from "../../stage/geometry";
import { EdgePanel } from "./EdgePanel";
import { InkPanel } from "./InkPanel";

const EDGES = {
  limits: { bleed: 3, border: 1.5, tolerance: 0.5 },
  reach_mm: 6,
  stands_mm: 0.42,
  layers: {
    "": [
      {
        points: [1000, 2000, 3000, 4000],
        coloured: [1, 0],
        outside: [42, 600],
        inside: [600, 90],
        beyond: [600, 600],
        worst: 0,
        weight: [1, 1],
      },
    ],
  },
  shares: {
    "": [
      { kind: "over", mm: 120, share: 0.6 },
      { kind: "risk", mm: 80, share: 0.4 },
      { kind: "short", mm: 0, share: 0 },
    ],
  },
} as unknown as Edges;

function edge(values: Partial<Parameters<typeof EdgePanel>[0]> = {}) {
  const calls = { onLayer: vi.fn(), onOffset: vi.fn(), onGo: vi.fn() };
  const person = show(
    <EdgePanel
      job={aJob({ has_edges: true })}
      edges={EDGES}
      error=""
      layer=""
      offset={NOWHERE}
      landing={undefined}
      {...calls}
      {...values}
    />,
  );
  return { person, ...calls };
}

describe("the measured edge", () => {
  it("says how much of the cut is what, in mm and share, by the limits of this job", () => {
    edge();
    const legend = (kind: string) => document.querySelector(`[data-legend="${kind}"]`) as HTMLElement;
    expect(legend("over").textContent).toContain("runs over by 3 mm or more");
    expect(legend("over").textContent).toContain("120 mm60 %");
    expect(legend("risk").textContent).toContain("at risk: within 0.5 mm of the cut");
    expect(legend("short"), "what there is none of is not told").toBeNull();
  });

  it("says how far the cut can land off, and goes to where that is least", async () => {
    const { person, onGo } = edge();
    expect(screen.getByTestId("stands").textContent).toBe("0.42 mm");
    await person.click(screen.getByRole("button", { name: "Go to the worst place" }));
    expect(onGo).toHaveBeenCalledWith([10, 20]);
  });

  it("says so where it can land off further than was looked", () => {
    edge({ edges: { ...EDGES, stands_mm: 6 } as Edges });
    expect(screen.getByTestId("stands").textContent).toBe("more than 6 mm");
  });

  it("lets the cut land off, and takes it back", async () => {
    const { person, onOffset } = edge({ offset: { ...NOWHERE, dx: 0.3 } });
    fireEvent.change(screen.getByRole("slider", { name: "cut up, mm" }), { target: { value: 0.5 } });
    expect(onOffset).toHaveBeenLastCalledWith({ ...NOWHERE, dx: 0.3, dy: 0.5 });
    await person.click(screen.getByRole("button", { name: "Back" }));
    expect(onOffset).toHaveBeenLastCalledWith(NOWHERE);
  });

  it("has nothing to take back where nothing was moved", () => {
    edge();
    expect(screen.getByRole("button", { name: "Back" })).toHaveProperty("disabled", true);
    expect(screen.queryByTestId("slivers")).toBeNull();
  });

  it("says what would show, how wide, and goes there", async () => {
    const landing = {
      count: 2,
      by_kind: { "bare media": 3.456, "cut off": 0 },
      widest_mm: 0.25,
      slivers: [
        {
          outline: [
            [1, 1],
            [5, 6],
            [7, 8],
            [9, 9],
          ],
        },
      ],
    } as unknown as Landing;
    const { person, onGo } = edge({ offset: { ...NOWHERE, dx: 1 }, landing });
    expect(screen.getByTestId("slivers").textContent).toContain("bare media 3.46 mm², up to 0.25 mm wide");
    await person.click(screen.getByRole("button", { name: "Go there" }));
    expect(onGo).toHaveBeenCalledWith([5, 6]);
  });

  it("says that nothing shows where that is so", () => {
    const landing = { count: 0, by_kind: {}, widest_mm: 0, slivers: [] } as unknown as Landing;
    edge({ offset: { ...NOWHERE, dx: 0.1 }, landing });
    expect(screen.getByTestId("slivers").textContent).toBe("Nothing shows.");
  });

  it.each([
    ["clean", [], /No cut bounds a piece/],
    [null, [aWork()], /it is measured with the check/],
    [null, [], /the check did not get so far/],
  ] as const)("says why there is none: %s", (verdict, works, words) => {
    show(
      <EdgePanel
        job={aJob({ has_edges: false, verdict, work: works[0] ?? null })}
        edges={undefined}
        error=""
        layer=""
        onLayer={vi.fn()}
        offset={NOWHERE}
        onOffset={vi.fn()}
        landing={undefined}
        onGo={vi.fn()}
      />,
      [...works],
    );
    expect(screen.getByText(words)).toBeTruthy();
  });

  it("says what keeps it away, or that it comes", () => {
    edge({ edges: undefined, error: "The edge map was lost." });
    expect(screen.getByText("The edge map was lost.")).toBeTruthy();
    document.body.innerHTML = "";
    edge({ edges: undefined });
    expect(screen.getByText("Fetching the edge map…")).toBeTruthy();
  });
});

const PLATES = {
  sha256: "p".repeat(64),
  ppi: 161,
  inks: [
    { name: "Cyan", colour: "#00AEEF", prints: true },
    { name: "Black", colour: "#000000", prints: true },
    { name: "Kiss Cut", colour: "#0054A6", prints: false },
  ],
  load: { highest: 312, limit: 280, above_cm2: 1.25, at_mm: [12, 34] },
} as unknown as NonNullable<Job["plates"]>;

function inks(values: Partial<Parameters<typeof InkPanel>[0]> = {}) {
  let listener: ((at: Point | null) => void) | null = null;
  const calls = { onChoose: vi.fn(), onGo: vi.fn() };
  const person = show(
    <InkPanel
      job={aJob({ plates: PLATES })}
      chosen={null}
      heat={false}
      hear={(next) => {
        listener = next;
      }}
      {...calls}
      {...values}
    />,
  );
  return { person, point: (at: Point | null) => act(() => listener?.(at)), ...calls };
}

describe("the inks", () => {
  it("are all shown to begin with; each can be left out, or shown alone and together again", async () => {
    const { person, onChoose } = inks();
    expect(screen.getByText("Kiss Cut (line)")).toBeTruthy();
    await person.click(screen.getByRole("checkbox", { name: "show Black" }));
    expect(onChoose).toHaveBeenLastCalledWith([0, 2]);
    await person.click(screen.getByRole("button", { name: "Cyan" }));
    expect(onChoose).toHaveBeenLastCalledWith([0]);
    expect(screen.getByRole("button", { name: "All inks" })).toHaveProperty("disabled", true);
  });

  it("come back all together from one alone", async () => {
    const { person, onChoose } = inks({ chosen: [1] });
    await person.click(screen.getByRole("checkbox", { name: "show Cyan" }));
    expect(onChoose).toHaveBeenLastCalledWith([0, 1]);
    await person.click(screen.getByRole("button", { name: "Black" }));
    expect(onChoose).toHaveBeenLastCalledWith(null);
    await person.click(screen.getByRole("button", { name: "All inks" }));
    expect(onChoose).toHaveBeenLastCalledWith(null);
  });

  it("say how much of each lies under the pointer; lines do not count for the load", async () => {
    answer({ "GET /api/jobs/7/amounts": [255, 128, 255] });
    const { point } = inks();
    point([20, 30]);
    const cyan = document.querySelector('[data-ink="Cyan"]') as HTMLElement;
    expect(await within(cyan).findByText("100 %")).toBeTruthy();
    expect(screen.getByTestId("load-here").textContent).toBe("150 %");
    point(null);
    expect(screen.getByTestId("load-here").textContent).toBe("–");
  });

  it("tell their highest load against the limit, and lead there", async () => {
    const { person, onGo } = inks({ heat: true });
    expect(screen.getByText(/Highest load/).textContent).toBe(
      "Highest load 312 %, limit 280 %; 1.25 cm² above it",
    );
    expect(screen.queryByRole("checkbox"), "all are added up").toBeNull();
    await person.click(screen.getByRole("button", { name: "Go to the highest" }));
    expect(onGo).toHaveBeenCalledWith([12, 34]);
  });

  it("are said to come, or why they do not", () => {
    inks({ job: aJob() });
    expect(screen.getByText("The plates are being made…")).toBeTruthy();
    document.body.innerHTML = "";
    inks({ job: aJob({ plates_error: "Ghostscript took too long." }) });
    expect(screen.getByText("No plates: Ghostscript took too long.")).toBeTruthy();
  });
});
