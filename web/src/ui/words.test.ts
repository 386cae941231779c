// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import { looks } from "../api/looks";
import { orderLine } from "../desk/orderLine";
import { modeOf, MODES } from "../job/modes/useModes";
import { aJob, anOrder } from "../testing/values";
import { CUTS, lookOf, ROLES } from "./roles";
import { bytes, kindWords, metres, minutes, mm, moment, plural, size } from "./words";

describe("words", () => {
  it("says lengths, times and sizes alike", () => {
    expect(mm(3.14159)).toBe("3.1 mm");
    expect(mm(3.14159, 2)).toBe("3.14 mm");
    expect(metres(15310)).toBe("15.31 m");
    expect([minutes(59.4), minutes(59.6), minutes(84), minutes(0)]).toEqual([
      "59 s",
      "1 min 0 s",
      "1 min 24 s",
      "0 s",
    ]);
    expect([bytes(999_949), bytes(1_000_000)]).toEqual(["999.9 kB", "1.0 MB"]);
  });

  it("counts one and many", () => {
    expect([plural(0, "stop"), plural(1, "stop"), plural(2, "copy", "copies")]).toEqual([
      "0 stops",
      "1 stop",
      "2 copies",
    ]);
  });

  it("says lengths in inches to whoever sees inches, as exactly", () => {
    localStorage.setItem("horismos-unit", "in");
    expect([mm(25.4), mm(3.14159, 2), metres(15310), size([76.2, 50.8])]).toEqual([
      "1.000 in",
      "0.1237 in",
      "50.23 ft",
      "3.00 × 2.00 in",
    ]);
    localStorage.clear();
    expect(mm(25.4)).toBe("25.4 mm");
  });

  it("says a moment by day and clock", () => {
    expect(moment("2027-02-03T04:05:59")).toBe("03.02.2027, 04:05");
  });

  it("calls kinds of files as people do", () => {
    expect([kindWords("hpgl"), kindWords("postscript"), kindWords("svg")]).toEqual([
      "HP-GL",
      "PostScript",
      "SVG",
    ]);
  });
});

describe("the order in one line", () => {
  it("says the size, and where nobody said it, says that", () => {
    expect(orderLine(aJob())).toBe("24 of 80 × 60 mm · White film, roll 1370 mm · colour over the cut");
    expect(orderLine(aJob({ order: anOrder({ width_mm: null, quantity: 1, edge: "either" }) }))).toBe(
      "1 copy, size not said · White film, roll 1370 mm · any edge",
    );
  });
});

describe("looks", () => {
  it("gives every role its own colour and shape", () => {
    const shown = CUTS.map((role) => lookOf(role));
    expect(new Set(shown.map((look) => look.colour)).size).toBe(CUTS.length);
    const shapes = looks.roles.map(({ shape }) => shape);
    expect(new Set(shapes).size, "told apart without colour too").toBe(CUTS.length);
    expect(new Set(CUTS.map((role) => JSON.stringify({ ...lookOf(role), colour: "", words: "" }))).size).toBe(
      CUTS.length,
    );
  });

  it("draws a name that could be several roles as unclear, and any other thing plainly", () => {
    expect(ROLES.unclear?.words).toBe("unclear");
    expect(lookOf("Tern blue")).toEqual({ words: "Tern blue", colour: looks.ink });
  });

  it("has one red for a stop", () => {
    expect(CUTS.map((role) => lookOf(role).colour)).not.toContain(looks.stop);
  });
});

describe("modes of the stage", () => {
  it("takes a mode from the address, and colour for what is none", () => {
    for (const [mode] of MODES) expect(modeOf(mode)).toBe(mode);
    expect(modeOf("x")).toBe("colour");
    expect(modeOf(null)).toBe("colour");
  });
});
