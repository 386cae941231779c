import { describe, expect, it } from "vitest";
import { counted, digits, echoed, said, sentencesIn, understood } from "./lengths";

const mm = (text: string, unit: "mm" | "in" | "m" = "mm") => {
  const found = understood(text, unit);
  return found.state === "length" ? Number(found.mm.toFixed(4)) : found.state;
};
const why = (text: string) => {
  const found = understood(text);
  return found.state === "wrong" ? found.why : "";
};

describe("a length as people type it", () => {
  it.each([
    ["5 in", 127],
    ['3 3/8"', 85.725],
    ["0.07in", 1.778],
    ["7 pt", 2.4694],
    ["2 cm", 20],
    ["-1", -1],
    ["−1,5", -1.5],
    ["12,5", 12.5],
    ["4*2", 8],
    ["4 × 2", 8],
    ["2 x 3 cm", 60],
    ["1/2 in + 3", 15.7],
    ["10-2", 8],
    ["3½ in", 88.9],
    ["1' 6\"", 457.2],
    ["5 ft", 1524],
    ["(2+3)*4", 20],
    ["100 mm / 4", 25],
    ["0.5 m", 500],
    [".5", 0.5],
    ["5.", 5],
    ["1 m - 2 cm", 980],
    ["250 µm", 0.25],
    ["6p", 25.4],
  ])("%s", (text, length) => expect(mm(text)).toBe(length));

  it("is in the unit that was chosen where none is typed", () => {
    expect([mm("2", "in"), mm("3/8", "in"), mm("2 mm", "in"), mm("1 in + 1", "in"), mm("2", "m")]).toEqual([
      50.8, 9.525, 2, 50.8, 2000,
    ]);
  });

  it("is nothing where nothing is typed", () => expect([mm(""), mm("  ")]).toEqual(["empty", "empty"]));

  it.each([
    ["twelve", "“twelve” is no unit|cannot be read"],
    ["5 furlongs", "“furlongs” is no unit"],
    ["5 *", "A figure is missing at the end"],
    ["2 in * 3 in", "A length times a length is an area"],
    ["2 in / 1 in / 1 in", "That is no length"],
    ["(2 + 3", "A bracket is not closed"],
    ["5 # 3", "“# 3” cannot be read"],
    ["1/0", "Nothing can be divided by nothing"],
    ["5 6", "“6” cannot be read"],
  ])("says what is wrong with %s", (text, words) => expect(why(text)).toMatch(new RegExp(words)));
});

describe("a number", () => {
  it("is a sum too, and no length", () => {
    expect([counted("12,5"), counted("2*3"), counted(""), counted("x"), counted("5 mm")]).toEqual([
      12.5,
      6,
      null,
      NaN,
      NaN,
    ]);
  });
});

describe("what stands below a field", () => {
  it("is what was understood, where that is not what stands there", () => {
    expect([echoed("5 in", "mm"), echoed("4*2", "mm"), echoed("10", "in")]).toEqual([
      "= 127 mm",
      "= 8 mm",
      "",
    ]);
    expect([echoed("10 mm", "in"), echoed("2,5", "mm"), echoed("5 *", "mm")]).toEqual([
      "= 0.3937 in",
      "",
      "",
    ]);
  });

  it("shows all digits of an inch that a cutter can cut", () => expect(digits(3.175, "in")).toBe("0.125"));
});

describe("sentences of the program", () => {
  const words = "Colour ends 1.2 mm outside; 59.4 × 76.2 mm were ordered, 12 mm² are bare.";
  it("say lengths in inches to whoever sees inches", () => {
    expect(said(words, "in")).toBe(
      "Colour ends 0.047 in outside; 2.339 × 3 in were ordered, 12 mm² are bare.",
    );
    expect(said(words, "mm")).toBe(words);
    expect(said("A hair of 0.1 mm.", "in"), "nothing small becomes nothing").toBe("A hair of 0.004 in.");
  });

  it("are told from names and from what people wrote", () => {
    const answer = { name: "Foam 10 mm", cards: [{ message: "1 mm short", reason: "10 mm is fine" }] };
    expect(sentencesIn(answer, "in")).toEqual({
      name: "Foam 10 mm",
      cards: [{ message: "0.04 in short", reason: "10 mm is fine" }],
    });
  });
});
