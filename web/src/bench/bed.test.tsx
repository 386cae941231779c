// @vitest-environment jsdom
/** At the cutter: wet prints, loading, marks by camera and hand, test cuts, the pointer, stops, handing over. */
import { screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Bed, TestCut } from "../api/client";
import { aBed, aMark, aRelease, aSheet } from "../testing/bench";
import { answer, asked, Refusal } from "../testing/server";
import { show } from "../testing/show";
import { BedView } from "./BedView";
import { Cutter } from "./Cutter";
import { Halt } from "./Halt";

const bedShown = (bed: Bed, made = aRelease(), ready = false) => {
  answer({ "POST /api/bench/5/mark": bed, "POST /api/bench/5/load": bed, "POST /api/bench/5/pointer": bed });
  return show(<BedView made={made} bed={bed} ready={ready} onCut={() => undefined} />);
};
const sent = (to: string) => asked.filter((one) => one.to === to).at(-1)?.body;

const FIT = {
  moved_mm: [1.234, -0.5],
  turn_deg: 0.1234,
  stretch_x: 0.02,
  stretch_y: -0.01,
  skew_deg: 0.004,
  bend_mm: 0.3,
  worst_mm: 0.0123,
};

describe("a print", () => {
  it("is not loaded while it is wet, and somebody may wait", async () => {
    answer({ "POST /api/bench/5/dry": aRelease(), "GET /api/bench": [], "GET /api/bench/5/bed": aBed() });
    const person = show(<Cutter made={aRelease({ dry: false, sheet: aSheet({ waits_for: "drying" }) })} />);
    expect(screen.getByText(/The print is wet until/)).toBeTruthy();
    await person.click(screen.getByRole("button", { name: /Wait until it is dry/ }));
    await waitFor(() => expect(asked.some((one) => one.to === "POST /api/bench/5/dry")).toBe(true));
  });

  it("need not dry where somebody says why", async () => {
    answer({
      "POST /api/queues/cutter/3/early": { rip: [], cutter: [] },
      "GET /api/bench": [],
      "GET /api/bench/5/bed": aBed(),
    });
    const person = show(<Cutter made={aRelease({ dry: false, sheet: aSheet({ waits_for: "drying" }) })} />);
    const now = screen.getByRole("button", { name: "Do not wait" });
    expect(now).toHaveProperty("disabled", true);
    await person.type(screen.getByLabelText("Why it need not dry"), "a sample");
    await person.click(now);
    await waitFor(() => expect(sent("POST /api/queues/cutter/3/early")).toEqual({ reason: "a sample" }));
  });

  it("is laminated where its order asks for that, and says so", async () => {
    answer({
      "POST /api/queues/cutter/3/laminated": { rip: [], cutter: [] },
      "GET /api/bench": [],
      "GET /api/bench/5/bed": aBed(),
    });
    const sheet = aSheet({ waits_for: "laminating", laminates: true });
    const person = show(<Cutter made={aRelease({ dry: false, sheet })} />);
    await person.click(screen.getByRole("button", { name: "It is laminated" }));
    await waitFor(() =>
      expect(asked.some((one) => one.to === "POST /api/queues/cutter/3/laminated")).toBe(true),
    );
  });

  it("whose cut cannot follow says why, and offers nothing to load", () => {
    answer({ "GET /api/bench/5/bed": aBed() });
    const sheet = aSheet({ refused: "Marks 3, 4 of 4 lie off the media." });
    show(<Cutter made={aRelease({ sheet })} />);
    expect(screen.getByRole("alert").textContent).toContain("Marks 3, 4 of 4 lie off the media.");
    expect(screen.queryByRole("button", { name: "Load it" })).toBeNull();
  });

  it("is made first", () => {
    answer({ "GET /api/bench/5/bed": aBed() });
    const sheet = aSheet({ stage: "unprinted", waits_for: "print" });
    show(<Cutter made={aRelease({ dry: false, printed: null, sheet })} />);
    expect(screen.getByText(/not printed yet/)).toBeTruthy();
  });
});

describe("the cutter", () => {
  it("does not cut while a mark is not known, and says which and why", async () => {
    answer({ "GET /api/bench/5/bed": aBed() });
    show(<Cutter made={aRelease()} />);
    expect((await screen.findByTestId("trouble")).textContent).toContain(
      "Mark 2: the laminate mirrors the lamp",
    );
    expect(screen.getByRole("button", { name: "Cut" })).toHaveProperty("disabled", true);
  });

  it("says why it has nothing to show", async () => {
    answer({ "GET /api/bench/5/bed": new Refusal(404, "There is no release 5 here.") });
    show(<Cutter made={aRelease()} />);
    expect((await screen.findByRole("alert")).textContent).toContain("no release 5");
  });

  it("shows the side that is up, where there are two", async () => {
    answer({ "GET /api/bench/5/bed": aBed({ loading: null, aligned: null }) });
    const person = show(<Cutter made={aRelease({ sides: ["front", "back"] })} />);
    await person.click(await screen.findByRole("button", { name: /Face down/ }));
    await waitFor(() =>
      expect(asked.filter((one) => one.to === "GET /api/bench/5/bed").length).toBeGreaterThan(1),
    );
  });
});

describe("loading", () => {
  it("is as hands lay it where nothing is said", async () => {
    const person = bedShown(aBed({ loading: null, aligned: null }));
    await person.type(screen.getByLabelText("Turned, °"), "0.4");
    await person.click(screen.getByRole("button", { name: "Load it" }));
    await waitFor(() =>
      expect(sent("POST /api/bench/5/load")).toMatchObject({
        side: "front",
        seed: 5,
        turned: false,
        shift_x_mm: null,
        turn_deg: 0.4,
      }),
    );
  });

  it("shows how a sheet is turned for its back cut", () => {
    bedShown(aBed({ loading: null, aligned: null, side: "back" }));
    expect(screen.getByRole("img", { name: /Turn the sheet over sideways/ })).toBeTruthy();
    expect(screen.getByRole("button", { name: "Turn it over sideways and load it" })).toBeTruthy();
  });

  it("says why it is refused", async () => {
    const person = bedShown(aBed({ loading: null, aligned: null }));
    answer({ "POST /api/bench/5/load": new Refusal(400, "The left roller would stand beside the media.") });
    await person.click(screen.getByRole("button", { name: "Load it" }));
    expect((await screen.findByRole("alert")).textContent).toContain("left roller");
  });
});

describe("a sheet that is cut only", () => {
  it("has nothing to look at and nothing to calibrate by, and is cut from where it lies", () => {
    const { aligned } = aBed();
    const bed = aBed({ aligned: aligned && { ...aligned, marks: [], trouble: "" } });
    bedShown(bed, aRelease({ makes: "cut", printed: null }), true);
    expect(screen.getByText(/no marks: it is cut from where its corner lies/)).toBeTruthy();
    expect(screen.queryByTestId("carriage")).toBeNull();
    expect(screen.queryByText("Pointer")).toBeNull();
    expect(screen.getByRole("button", { name: "Cut it" })).toBeTruthy();
  });
});

describe("marks", () => {
  it("are listed with what was found of each", () => {
    bedShown(aBed());
    const [one, two] = screen.getAllByRole("listitem");
    expect(one?.textContent).toContain("Mark 1: found");
    expect(one?.textContent).toContain("0.004 mm from where the fit has it");
    expect(two?.textContent).toContain("Mark 2: not found");
    expect(two?.textContent).toContain("mirrors the lamp");
  });

  it("are taken where the carriage stands, which keys bring there", async () => {
    const person = bedShown(aBed());
    await person.click(screen.getByRole("button", { name: "Jog to mark 2" }));
    expect(screen.getByTestId("carriage").textContent).toBe("199.50, 51.50");
    await person.keyboard("{ArrowRight}[[[[{ArrowUp}");
    expect(screen.getByTestId("carriage").textContent).toBe("201.50, 51.60");
    await person.click(screen.getByRole("button", { name: /Mark 2 is here/ }));
    await waitFor(() =>
      expect(sent("POST /api/bench/5/mark")).toEqual({ side: "front", number: 2, place: [201.5, 51.6] }),
    );
  });

  it("are left out", async () => {
    const person = bedShown(aBed());
    await person.click(screen.getByRole("button", { name: "Leave mark 2 out" }));
    await waitFor(() =>
      expect(sent("POST /api/bench/5/mark")).toEqual({ side: "front", number: 2, place: null }),
    );
  });

  it("are scanned from where somebody has jogged to", async () => {
    const person = bedShown(aBed());
    answer({ "POST /api/bench/5/scan": aBed() });
    await person.click(screen.getByRole("button", { name: "Scan from here" }));
    await waitFor(() =>
      expect(sent("POST /api/bench/5/scan")).toEqual({ side: "front", first: [98.5, 50.5] }),
    );
  });

  it("come to a fit with its figures", () => {
    const fit = FIT;
    const { aligned } = aBed();
    const four = [1, 2, 3, 4].map((n) => aMark(n, { place: [n, n], residual_mm: 0.01 }));
    bedShown(aBed({ aligned: aligned && { ...aligned, marks: four, fit, trouble: "" } }), aRelease(), true);
    expect(screen.getByText("1.23, -0.50 mm")).toBeTruthy();
    expect(screen.getByText("0.012 mm")).toBeTruthy();
    expect(screen.getByText("0.30 mm")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Cut it" })).toBeTruthy();
  });
});

describe("three marks", () => {
  it("prove nothing, and a fourth is asked for", () => {
    const fit = { ...FIT, worst_mm: 0 };
    const three = [1, 2, 3].map((n) => aMark(n, { place: [n, n], residual_mm: 0 }));
    const { aligned } = aBed();
    bedShown(aBed({ aligned: aligned && { ...aligned, marks: three, fit, trouble: "" } }), aRelease(), true);
    expect(
      screen.getByText(/3 marks always fit: they prove nothing. This sheet has no fourth one/),
    ).toBeTruthy();
    expect(screen.queryByText("0.000 mm")).toBeNull();
  });
});

describe("the code", () => {
  it("says that it is this sheet, or offers the job of the one it names", () => {
    bedShown(aBed({ code_meant: "S1-AB", code_read: "S1-AB" }));
    expect(screen.getByText(/it is this sheet/)).toBeTruthy();
  });

  it("of another job says which, and loads that when it is asked to", async () => {
    const bed = aBed({
      known: false,
      code_meant: "S1-AB",
      code_read: "S1-XY",
      code_of: 8,
      code_of_name: "Flags",
    });
    answer({ "POST /api/bench/8/load": aBed({ release_id: 8 }), "GET /api/bench": [], "GET /api/works": [] });
    const person = show(<BedView made={aRelease()} bed={bed} ready={false} onCut={() => undefined} />);
    expect(screen.getByText("This sheet is S1-XY: “Flags”. Is that to be cut now?")).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "Yes, load “Flags”" }));
    await waitFor(() => expect(sent("POST /api/bench/8/load")).toMatchObject({ seed: 4, side: "front" }));
  });

  it("that nobody can read wants a person who has looked", async () => {
    const bed = aBed({ known: false, code_meant: "S1-AB", code_read: "" });
    answer({ "POST /api/bench/5/known": aBed(), "GET /api/bench": [], "GET /api/works": [] });
    const person = show(<BedView made={aRelease()} bed={bed} ready={false} onCut={() => undefined} />);
    await person.click(screen.getByRole("button", { name: "I have looked: it is this sheet" }));
    await waitFor(() => expect(asked.some((one) => one.to === "POST /api/bench/5/known")).toBe(true));
  });

  it("is missed where there is none", () => {
    bedShown(aBed());
    expect(screen.getByText(/cannot tell which end goes first/)).toBeTruthy();
  });
});

describe("the pointer", () => {
  it("is calibrated on the cross that was cut", async () => {
    const person = bedShown(aBed());
    expect(screen.getByText(/never calibrated here/)).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "Cut a cross and calibrate" }));
    expect(screen.getByTestId("carriage").textContent).toBe("298.50, 25.50");
    await person.keyboard("[[[[{ArrowLeft}");
    await person.click(screen.getByRole("button", { name: "The pointer is in the middle" }));
    await waitFor(() => expect(sent("POST /api/bench/5/pointer")).toEqual({ place: [298.4, 25.5] }));
  });

  it("says how old its calibration is", () => {
    const pointer = { x_mm: 1.8, y_mm: -0.7, who: "ada", when: "2027-01-01T00:00:00Z", days: 45, old: true };
    bedShown(aBed({ pointer }));
    expect(screen.getByText("Calibrated by ada 45 days ago; that is long ago.")).toBeTruthy();
  });
});

describe("a test cut", () => {
  const found = (values: Partial<TestCut> = {}): TestCut =>
    ({
      role: "kiss-cut",
      tool: { role: "kiss-cut", number: 1, force_gf: 90 },
      at: [24, 4],
      path: "M24 4L32 4Z",
      strata: [
        { kind: "film", thickness_um: 90, part: "face", resists_gf_um: 0.75 },
        { kind: "liner", thickness_um: 140, part: "carrier", resists_gf_um: 0.75 },
      ],
      wanted_um: 90,
      reached_um: 83.7,
      seen: "too-shallow",
      own: false,
      version: 3,
      destination: "house",
      material: "film-1370",
      ...values,
    }) as TestCut;

  it("shows how deep it went, and corrects the setting by what is seen", async () => {
    const person = bedShown(aBed());
    answer({
      "POST /api/bench/5/test-cut": found(),
      "POST /api/shelf/tools/seen": {
        destination: "house",
        material: "film-1370",
        tools: [],
        may_edit: true,
      },
    });
    await person.click(screen.getByRole("button", { name: "Cut the figure of the kiss cut" }));
    expect(await screen.findByRole("img", { name: "cut 84 µm deep; 90 µm are wanted" })).toBeTruthy();
    expect(screen.getByText(/90 gf: the figure does not come away/)).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "The kiss cut was too shallow" }));
    await waitFor(() =>
      expect(sent("POST /api/shelf/tools/seen")).toEqual({
        release: 5,
        side: "front",
        role: "kiss-cut",
        version: 3,
        seen: "too-shallow",
      }),
    );
    expect(await screen.findByText(/release the job again to send the new force/)).toBeTruthy();
  });

  it("corrects nothing on the Shelf where the job has a setting of its own", async () => {
    const person = bedShown(aBed());
    answer({ "POST /api/bench/5/test-cut": found({ own: true, seen: "right" }) });
    await person.click(screen.getByRole("button", { name: "Cut the figure of the kiss cut" }));
    expect(await screen.findByText(/Set for this job alone/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: "The kiss cut was right" })).toBeNull();
  });
});

describe("a cut file", () => {
  it("is handed over, and what came of it is said", async () => {
    const person = bedShown(aBed());
    answer({ "POST /api/bench/5/hand-over": { words: "seals-cut.plt lies in the cutter’s hot folder." } });
    expect(screen.getByRole("link", { name: "For a stick" }).getAttribute("href")).toBe("/api/bench/5/stick");
    await person.click(screen.getByRole("button", { name: "Hot folder" }));
    expect(await screen.findByText(/lies in the cutter’s hot folder/)).toBeTruthy();
    answer({ "POST /api/bench/5/hand-over": new Refusal(400, "The device did not take the file.") });
    await person.click(screen.getByRole("button", { name: "To the device" }));
    expect(await screen.findByText("The device did not take the file.")).toBeTruthy();
    expect(sent("POST /api/bench/5/hand-over")).toEqual({ way: "socket", side: "front", format: "hpgl" });
  });
});

describe("where the machine stands", () => {
  const stop = { at_s: 30, before: 1, words: "Put tool 3 into the holder.", time_s: 90 };

  it("a new origin is warned of before it is set, and taken back", async () => {
    answer({ "POST /api/bench/5/origin": aBed() });
    const person = show(
      <Halt made={aRelease()} bed={aBed()} stop={stop} busy={false} onDone={() => undefined} />,
    );
    await person.click(screen.getByRole("button", { name: "Set a new origin…" }));
    const asks = screen.getByRole("dialog");
    expect(asks.textContent).toContain("the pieces are spoilt");
    await person.type(within(asks).getByLabelText("To the right, mm"), "2");
    await person.click(within(asks).getByRole("button", { name: "Set it all the same" }));
    await waitFor(() =>
      expect(sent("POST /api/bench/5/origin")).toEqual({ side: "front", before: 1, moved: [2, 0] }),
    );
  });

  it("says by how much what follows is beside what was cut", async () => {
    answer({ "POST /api/bench/5/origin": aBed() });
    const bed = aBed({ shifts: { "1": [2, 0] } });
    const person = show(
      <Halt made={aRelease()} bed={bed} stop={stop} busy={false} onDone={() => undefined} />,
    );
    expect(screen.getByText(/cut 2, 0 mm beside what was cut/)).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "Return to the old origin" }));
    await waitFor(() =>
      expect(sent("POST /api/bench/5/origin")).toEqual({ side: "front", before: 1, moved: null }),
    );
  });
});
