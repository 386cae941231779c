/**
 * Lengths as people type them: `5 in`, `3 3/8"`, `0.07in`, `7 pt`, `2 cm`, `-1`, a decimal comma, a sum (`4*2`).
 * What has no unit is in the unit that the person has chosen.
 */
import { ui as say } from "../texts/ui";
export type Unit = "mm" | "in";

/** The unit of a field, where it is none of a person's choosing. */
export type Named = Unit | "m";

export const MM_PER_INCH = 25.4;
const MM_PER: Record<string, number> = {
  mm: 1,
  cm: 10,
  m: 1000,
  µm: 0.001,
  μm: 0.001,
  um: 0.001,
  in: MM_PER_INCH,
  inch: MM_PER_INCH,
  inches: MM_PER_INCH,
  '"': MM_PER_INCH,
  "″": MM_PER_INCH,
  "”": MM_PER_INCH,
  "''": MM_PER_INCH,
  ft: 12 * MM_PER_INCH,
  foot: 12 * MM_PER_INCH,
  feet: 12 * MM_PER_INCH,
  "'": 12 * MM_PER_INCH,
  "′": 12 * MM_PER_INCH,
  "’": 12 * MM_PER_INCH,
  pt: MM_PER_INCH / 72,
  p: MM_PER_INCH / 6,
  pc: MM_PER_INCH / 6,
};
const PARTS: Record<string, string> = {
  "¼": "1/4",
  "½": "1/2",
  "¾": "3/4",
  "⅛": "1/8",
  "⅜": "3/8",
  "⅝": "5/8",
  "⅞": "7/8",
  "⅓": "1/3",
  "⅔": "2/3",
};
/** A whole and a part, a part, or a decimal; a unit; a sign of arithmetic. */
const TOKEN = /\s*(?:(\d+\s+\d+\/\d+|\d+\/\d+|\d+(?:\.\d*)?|\.\d+)|(''|["″”'′’]|[a-zµμ]+)|([-+*/()]))/y;

type Token = number | string;
/** A figure, and how often a length is multiplied in it: 0 of a plain number, 1 of a length. */
interface Value {
  figure: number;
  lengths: number;
}

export type Understood =
  { state: "empty" } | { state: "length"; mm: number; signed: boolean } | { state: "wrong"; why: string };

const EXAMPLES = say.type1255In;

/** What a person means by a text, in mm; or why it is no length. */
export function understood(text: string, unit: Named = "mm"): Understood {
  if (!text.trim()) return { state: "empty" };
  try {
    const value = new Sum(tokens(text), unit).whole();
    const mm = value.lengths ? value.figure : value.figure * (MM_PER[unit] ?? 1);
    if (!Number.isFinite(mm)) throw new Error(say.nothingCanBeDividedBy);
    return { state: "length", mm: Number(mm.toFixed(6)), signed: /^\s*[-+−]/.test(text) };
  } catch (error) {
    return {
      state: "wrong",
      why: `${error instanceof Error ? error.message : say.thatIsNoLength}. ${EXAMPLES}`,
    };
  }
}

/** A plain number, or a sum of such; null for nothing, not a number where it is none. */
export function counted(text: string): number | null {
  if (!text.trim()) return null;
  try {
    const value = new Sum(tokens(text), "mm").whole();
    return value.lengths ? NaN : value.figure;
  } catch {
    return NaN;
  }
}

function tokens(text: string): Token[] {
  const plainText = text
    .toLowerCase()
    .replace(/[−–]/g, "-")
    .replace(/[×·]/g, "*")
    .replace(/÷/g, "/")
    .replace(/,/g, ".")
    .replace(/[¼½¾⅛⅜⅝⅞⅓⅔]/g, (sign) => ` ${PARTS[sign] ?? ""}`)
    .trim();
  const found: Token[] = [];
  TOKEN.lastIndex = 0;
  while (TOKEN.lastIndex < plainText.length) {
    const at = TOKEN.lastIndex;
    const [, figure, word, sign] = TOKEN.exec(plainText) ?? [];
    if (figure !== undefined) found.push(number(figure));
    else if (word !== undefined) found.push(word);
    else if (sign !== undefined) found.push(sign);
    else throw new Error(say.cannotBeRead(plainText.slice(at).trim()));
  }
  return found;
}

function number(text: string): number {
  const [whole, part] = text.includes(" ")
    ? text.split(/\s+/)
    : text.includes("/")
      ? ["0", text]
      : [text, "0/1"];
  const [over = 0, under = 1] = (part ?? "0/1").split("/").map(Number);
  return Number(whole) + over / under;
}

/** Reads sums of products of figures; `x` between two figures is a multiplication. */
class Sum {
  private at = 0;
  constructor(
    private readonly found: Token[],
    private readonly unit: Named,
  ) {}

  whole(): Value {
    const value = this.sum();
    const left = this.found[this.at];
    if (left !== undefined) throw new Error(say.cannotBeRead2(String(left)));
    if (value.lengths !== 0 && value.lengths !== 1)
      throw new Error(value.lengths > 1 ? say.aLengthTimesALength : say.thatIsNoLength);
    return value;
  }

  private sum(): Value {
    let value = this.product();
    for (;;) {
      const sign = this.found[this.at];
      const feet = sign !== "+" && sign !== "-" && typeof sign === "number" && value.lengths === 1;
      if (sign !== "+" && sign !== "-" && !feet) return value;
      if (!feet) this.at += 1; // 1' 6" is a sum without a sign
      const next = this.product();
      const [one, other] =
        value.lengths === next.lengths ? [value, next] : [this.length(value), this.length(next)];
      value = { figure: one.figure + (sign === "-" ? -other.figure : other.figure), lengths: one.lengths };
    }
  }

  private length(value: Value): Value {
    return value.lengths ? value : { figure: value.figure * (MM_PER[this.unit] ?? 1), lengths: 1 };
  }

  private product(): Value {
    let value = this.factor();
    for (;;) {
      const sign = this.found[this.at];
      if (sign !== "*" && sign !== "/" && sign !== "x") return value;
      this.at += 1;
      const next = this.factor();
      value =
        sign === "/"
          ? { figure: value.figure / next.figure, lengths: value.lengths - next.lengths }
          : { figure: value.figure * next.figure, lengths: value.lengths + next.lengths };
    }
  }

  private factor(): Value {
    const token = this.found[this.at];
    this.at += 1;
    if (token === "-" || token === "+") {
      const value = this.factor();
      return token === "-" ? { ...value, figure: -value.figure } : value;
    }
    if (token === "(") {
      const value = this.sum();
      if (this.found[this.at] !== ")") throw new Error(say.aBracketIsNotClosed);
      this.at += 1;
      return this.withUnit(value);
    }
    if (typeof token === "number") return this.withUnit({ figure: token, lengths: 0 });
    throw new Error(token === undefined ? say.aFigureIsMissingAt : say.cannotBeRead3(token));
  }

  private withUnit(value: Value): Value {
    const word = this.found[this.at];
    if (typeof word !== "string" || !/^[a-zµμ"″”'′’]/.test(word) || word === "x") return value;
    const per = MM_PER[word];
    if (per === undefined) throw new Error(say.isNoUnit(word));
    this.at += 1;
    return { figure: value.figure * per, lengths: value.lengths + 1 };
  }
}

/** A figure without needless noughts. */
export const plain = (value: number) => String(Number(value.toFixed(3)));

/** How many mm one of a unit is. */
export const perUnit = (unit: Named): number => MM_PER[unit] ?? 1;

/** A length in mm as the digits of a field in a unit. */
export const digits = (mm: number, unit: Named): string =>
  unit === "mm" ? plain(mm) : String(Number((mm / perUnit(unit)).toFixed(4)));

/** The same with its unit. */
export const inUnit = (mm: number, unit: Named): string => `${digits(mm, unit)} ${unit}`;

/** What stands below a field while somebody types: what was understood, where that is not what stands there. */
export function echoed(text: string, unit: Named): string {
  const read = understood(text, unit);
  if (read.state !== "length") return "";
  const said = digits(read.mm, unit);
  return text.trim().replace(",", ".").replace("−", "-") === said ? "" : `= ${said} ${unit}`;
}

const LENGTH = /(\d+(?:\.\d+)?)((?:\s[×x]\s\d+(?:\.\d+)?)*)\s?mm(?![²³\w])/g;
/** Digits after the point of an inch that say no less than those of a mm. */
const FINER = 2;

/** A sentence with its lengths in the unit that a person has chosen: the program's own sentences are in mm. */
export function said(text: string, unit: Unit): string {
  if (unit === "mm") return text;
  const one = (figure: string) => {
    const places = (figure.split(".")[1]?.length ?? 0) + FINER;
    return String(Number((Number(figure) / MM_PER_INCH).toFixed(Math.min(places, 4))));
  };
  return text.replace(
    LENGTH,
    (_, first: string, more: string) => `${one(first)}${more.replace(/\d+(?:\.\d+)?/g, one)} in`,
  );
}

/** The fields of an answer that hold sentences of the program; names and what people wrote stay as they are. */
const SENTENCES = new Set([
  ...["message", "detail", "words", "said", "says", "why", "note", "notes", "warnings", "next_step"],
  ...["order_said", "order_warnings", "advice", "title_words", "refused", "offer", "label", "error", "holds"],
]);

/** An answer with the sentences of the program in a unit. */
export function sentencesIn<T>(answer: T, unit: Unit): T {
  return unit === "mm" ? answer : (walked(answer, unit, false) as T);
}

function walked(value: unknown, unit: Unit, sentence: boolean): unknown {
  if (typeof value === "string") return sentence ? said(value, unit) : value;
  if (Array.isArray(value)) return value.map((one) => walked(one, unit, sentence));
  if (value === null || typeof value !== "object") return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, one]) => [key, walked(one, unit, SENTENCES.has(key))]),
  );
}
