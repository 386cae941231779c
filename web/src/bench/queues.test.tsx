// @vitest-environment jsdom
/** The queues: in what order things stand, what is said of each, and what is done with them. */
import { act, screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { aCut, aPrint, aRelease, aSheet } from "../testing/bench";
import { answer, asked } from "../testing/server";
import { show } from "../testing/show";
import { Bench } from "./Bench";
import { QueueActions } from "./QueueActions";
import { cutWords, Queues } from "./Queues";
import { Cancelled } from "./Waiting";
import { RipDoes } from "./RipDoes";

const NOW = Date.parse("2027-02-03T10:00:00Z");

describe("the bench", () => {
  it("stays at the sheet that is looked at when another one comes to the top of the list", async () => {
    const mine = aRelease({ id: 5, job_name: "Sails", rip_state: "waiting", sheet: null });
    answer({
      "GET /api/bench": [mine],
      "GET /api/stacks": [],
      "GET /api/queues": { rip: [], cutter: [] },
    });
    show(<Bench />);
    expect(await screen.findByText("Sails")).toBeTruthy();
    answer({ "GET /api/bench": [aRelease({ id: 6, job_name: "Ropes", rip_state: "waiting" }), mine] });
    const before = asked.length;
    act(() => void window.dispatchEvent(new Event("visibilitychange")));
    await waitFor(() => expect(asked.slice(before).map((one) => one.to)).toContain("GET /api/bench"));
    await waitFor(() => expect(screen.getByText("Sails")).toBeTruthy());
    expect(screen.queryByText("Ropes")).toBeNull();
  });
});

describe("a sheet in the queue of the cutter", () => {
  it.each([
    [{ stage: "unprinted", waits_for: "print" }, "waits for its print"],
    [{ waits_for: "drying", ready_at: "2027-02-03T10:20:00Z" }, /^dries until .*: 20 min left$/],
    [{ waits_for: "drying", ready_at: "2027-02-03T12:30:00Z" }, /: 2 h 30 min left$/],
    [{ waits_for: "laminating" }, "to be laminated"],
    [{}, "ready to cut"],
    [{ stage: "loaded" }, "lies in the cutter"],
    [{ stage: "cutting" }, "is being cut"],
    [{ stage: "stopped", cut: [1, 2] }, "stopped: 2 of 4 pieces cut"],
    [{ stage: "half-cut", cut: [1] }, "taken off: 1 of 4 pieces cut"],
    [{ stage: "cut", cut: [1, 2, 3, 4] }, "cut"],
    [{ stage: "cut", spoilt: [3] }, "cut, 1 spoilt"],
    [{ stage: "cancelled" }, "cancelled"],
    [{ refused: "a mark is off" }, "its cut cannot follow its print"],
  ] as const)("%o", (values, words) => {
    expect(cutWords(aCut(values as Partial<ReturnType<typeof aCut>>), NOW)).toMatch(words);
  });
});

describe("the queues", () => {
  const shown = (onChoose = vi.fn()) => {
    const queues = {
      rip: [
        aPrint({ release_id: 8, name: "Flags" }),
        aPrint({ release_id: 9, name: "Sails", turn: 2 }),
        aPrint({ release_id: 10, name: "Ropes", turn: null, held: true }),
        aPrint({
          release_id: 11,
          name: "Knots",
          stage: "refused",
          turn: null,
          why: "The page is too large.",
        }),
        aPrint({ stage: "done", turn: null }),
      ],
      cutter: [aCut(), aCut({ sheet_id: 4, release_id: 12, name: "Buoys", stage: "cut", turn: null })],
    };
    return {
      person: show(<Queues queues={queues} listed={[]} chosen={aRelease({ id: 8 })} onChoose={onChoose} />),
      onChoose,
    };
  };
  const part = (name: string) => within(screen.getByRole("region", { name }));

  it("are one for each machine, where several have anything to do", () => {
    const small = { machine: "small-cutter", machine_title: "Small cutter" };
    const cutter = [aCut(), aCut({ sheet_id: 4, release_id: 12, name: "Buoys", ...small })];
    show(<Queues queues={{ rip: [], cutter }} listed={[]} chosen={null} onChoose={vi.fn()} />);
    expect(part("At the cutter: Cutter").getByRole("button", { name: /^Round seals/ })).toBeTruthy();
    expect(part("At the cutter: Small cutter").getByRole("button", { name: /^Buoys/ })).toBeTruthy();
  });

  it("tell what is next, held and refused, and keep what is done apart", () => {
    shown();
    const rip = part("At the RIP");
    expect(rip.getAllByRole("button", { pressed: false }).length).toBe(3);
    expect(rip.getByRole("button", { name: /Flags/, pressed: true }).textContent).toContain("next");
    expect(rip.getByRole("button", { name: /^Ropes/ }).textContent).toContain("held");
    expect(rip.getByRole("button", { name: /^Knots/ }).textContent).toContain("The page is too large.");
    expect(part("At the cutter").getByRole("button", { name: /^Round seals/ }).textContent).toContain(
      "ready to cut",
    );
    expect(part("Done lately").getByRole("button", { name: /^Buoys/ }).textContent).toContain("cut");
    expect(rip.queryByRole("button", { name: "Move Knots in its queue" })).toBeNull();
  });

  it("show what is at the machine now before what waits for it", () => {
    const lies = aCut({ sheet_id: 4, release_id: 12, name: "Buoys", stage: "loaded", turn: null });
    const rip = [
      aPrint({ release_id: 8, name: "Flags" }),
      aPrint({ release_id: 9, name: "Sails", stage: "printing", turn: null }),
    ];
    show(<Queues queues={{ rip, cutter: [aCut(), lies] }} listed={[]} chosen={null} onChoose={vi.fn()} />);
    const rows = (name: string) =>
      [...screen.getByRole("region", { name }).querySelectorAll("[data-queued]")].map(
        (row) => row.textContent,
      );
    expect(rows("At the RIP")).toEqual([
      expect.stringMatching(/^Sailsnow/),
      expect.stringMatching(/Flagsnext/),
    ]);
    expect(rows("At the cutter")).toEqual([
      expect.stringMatching(/^Buoysnow/),
      expect.stringMatching(/Round sealsnext/),
    ]);
    show(
      <Queues
        queues={{ rip: [], cutter: [{ ...lies, held: true }] }}
        listed={[]}
        chosen={null}
        onChoose={vi.fn()}
      />,
    );
    expect(screen.getByText("held")).toBeTruthy();
    const moves = screen.getAllByRole("button", { name: /^Move/ }).map((one) => one.ariaLabel);
    expect(moves).toEqual(["Move Flags in its queue", "Move Round seals in its queue"]);
  });

  it("open what is chosen at its machine", async () => {
    const { person, onChoose } = shown();
    await person.click(part("At the cutter").getByRole("button", { name: /^Round seals/ }));
    expect(onChoose).toHaveBeenCalledWith(5, "cutter");
  });
});

describe("what is done with one of a queue", () => {
  const answered = { rip: [], cutter: [] };
  it("holds it, cancels it, prints it again", async () => {
    answer({
      "POST /api/queues/rip/5/hold": answered,
      "POST /api/queues/rip/5/cancel": answered,
      "POST /api/queues/rip/5/again": answered,
      "POST /api/queues/cutter/3/hold": answered,
      "GET /api/bench": [],
      "GET /api/works": [],
    });
    const sent = (to: string) => asked.filter((one) => one.to === to);
    const person = show(<QueueActions made={aRelease({ rip_state: "waiting" })} machine="rip" />);
    await person.click(screen.getByRole("button", { name: "Hold" }));
    await person.click(screen.getByRole("button", { name: "Cancel the print" }));
    await waitFor(() => expect(sent("POST /api/queues/rip/5/cancel")).toHaveLength(1));
    expect(sent("POST /api/queues/rip/5/hold")[0]?.body).toEqual({ held: true });
  });

  it("offers only what can be", () => {
    answer({});
    show(<QueueActions made={aRelease({ rip_state: "refused" })} machine="rip" />);
    expect(screen.getAllByRole("button").map((one) => one.textContent)).toEqual(["Print it again"]);
  });

  it("does not cancel what is being cut", () => {
    answer({});
    show(<QueueActions made={aRelease({ sheet: aSheet({ stage: "cutting" }) })} machine="cutter" />);
    expect(screen.getByRole("button", { name: "Cancel the cut" })).toHaveProperty("disabled", true);
  });
});

describe("what the RIP does", () => {
  it("is nothing until somebody says it", async () => {
    const heard = vi.fn();
    const person = show(<RipDoes report={null} onChange={heard} />);
    await person.click(screen.getByRole("button", { name: "What the RIP does to the sheet" }));
    await person.click(screen.getByRole("switch", { name: "Mirrored" }));
    expect(heard).toHaveBeenCalledWith(expect.objectContaining({ mirrored: true, scale: 1, copies: 1 }));
  });
});

describe("a cut that was cancelled", () => {
  it("is printed again, or ordered again where nothing is printed", async () => {
    answer({
      "POST /api/queues/rip/5/again": { rip: [], cutter: [] },
      "GET /api/bench": [],
      "GET /api/works": [],
    });
    const sheet = aSheet({ stage: "cancelled", said: "Printed again" });
    const person = show(<Cancelled made={aRelease({ sheet })} />);
    expect(screen.getByText(/was cancelled: Printed again/)).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "Print it again" }));
    await waitFor(() => expect(asked.some((one) => one.to === "POST /api/queues/rip/5/again")).toBe(true));
    show(<Cancelled made={aRelease({ sheet, makes: "cut" })} />);
    expect(screen.getByRole("link", { name: "Order it again from its job" }).getAttribute("href")).toBe(
      "/jobs/7/release",
    );
  });
});
