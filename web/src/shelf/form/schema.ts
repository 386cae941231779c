/** What the data of a thing may be, as the core says it in JSON Schema: labels, units, what is empty, what is wrong. */
import type { KindId } from "../../api/client";
import { plain } from "../../ui/words";
import { common } from "../../texts/common";
import { shelf as say } from "../../texts/shelf";

export interface Schema {
  type?: string;
  description?: string;
  enum?: unknown[];
  const?: unknown;
  anyOf?: Schema[];
  items?: Schema;
  prefixItems?: Schema[];
  properties?: Record<string, Schema>;
  required?: string[];
  default?: unknown;
  minimum?: number;
  exclusiveMinimum?: number;
  maximum?: number;
  minItems?: number;
  maxItems?: number;
  minLength?: number;
  maxLength?: number;
  pattern?: string;
}

export type Data = Record<string, unknown>;
/** Which field of a form: the keys that lead to it. */
export type Path = readonly (string | number)[];
export const named = (path: Path) => path.join(" ");

/** What a field is, in the form of its control. */
export type Control =
  | "text"
  | "words"
  | "number"
  | "length"
  | "yes"
  | "choice"
  | "choices"
  | "colour"
  | "pair"
  | "group"
  | "rows"
  | "thing"
  | "fixed";

const UNITS: Record<string, string> = {
  mm: "mm",
  gf: "gf",
  um: "µm",
  h: "h",
  s: "s",
  m: "m",
  deg: "°",
  mm2: "mm²",
};

/** The unit that a key ends with, and what is left of it. */
function parted(key: string): [string, string] {
  const said = /^(.*?)_(mm_s2|mm_s|gf_um|gf_km|mm2|mm|gf|um|h|s|m|deg|m2)$/.exec(key);
  if (!said) return [key, ""];
  const units: Record<string, string> = { mm_s2: "mm/s²", mm_s: "mm/s", gf_um: "gf/µm", gf_km: "gf/km" };
  const [, word = key, unit = ""] = said;
  return unit === "m2" ? [word, "a m²"] : [word, units[unit] ?? UNITS[unit] ?? ""];
}

const LABELS: Record<string, string> = {
  ppi: say.resolution,
  dx: say.across,
  dy: say.alongTheFeed,
  stretch_x: say.stretchedAcross,
  stretch_y: say.stretchedAlongTheFeed,
  turn: common.turned,
  skew: say.skewed,
  bend: say.bent,
  least_gf: say.leastForce,
  most_gf: say.greatestForce,
  turned: say.xAlongTheFeed,
  right: say.zeroOnTheRight,
  camera: say.findsMarksByItself,
  arm_mm: say.size,
  write_to: say.addressForLetters,
  tex: say.weight,
  cone_m: say.onACone,
  preset: say.hotFolder,
  presets: say.hotFolders,
  inks: say.orderOfInks,
  formats: say.furtherCutFormats,
  gives: say.howFarAPrintGives,
  pointer_mm: say.pointerFromTheBlade,
};

/** The label of a field, by its key. */
export function labelOf(key: string): string {
  const word = LABELS[key] ?? parted(key)[0].replace(/[_-]/g, " ");
  return word.charAt(0).toUpperCase() + word.slice(1);
}

/** The unit of a field: by its key, else as its description ends. */
export const unitOf = (key: string, schema: Schema): string =>
  parted(key)[1] || (/\(([^()]+)\)$/.exec(schema.description ?? "")?.[1] ?? "");

/** What is said of a field below it; the unit stands in its label. */
export const saysOf = (schema: Schema): string => {
  const says = (schema.description ?? "").replace(/ \([^()]+\)$/, "").replace("; null: ", "; empty: ");
  return says.charAt(0).toUpperCase() + says.slice(1);
};

export const mayBeNull = (schema: Schema): boolean => (schema.anyOf ?? []).some((one) => one.type === "null");

/** A schema without that it may be null. */
export function known(schema: Schema): Schema {
  const rest = (schema.anyOf ?? []).filter((one) => one.type !== "null");
  const [only] = rest;
  if (rest.length !== 1 || !only) return schema;
  return { ...only, description: schema.description ?? only.description, default: schema.default };
}

/** Whether leaving it empty says something: that nobody has said it, or that another thing counts. */
export const nullable = (schema: Schema): boolean =>
  / null: /.test(`${schema.description ?? ""} `) || (schema.default ?? null) === null;

/** A longer text is no text but a drawing. */
const LONGEST = 10_000;

export function controlOf(key: string, schema: Schema, refers: Record<string, KindId>): Control {
  const one = known(schema);
  if (key in refers) return one.type === "array" ? "choices" : "thing";
  if (one.enum) return "choice";
  if (one.pattern?.startsWith("^#")) return "colour";
  if (one.prefixItems) return "pair";
  if (one.type === "boolean") return "yes";
  if (one.type === "number" || one.type === "integer")
    return unitOf(key, one) === "mm" && one.type === "number" ? "length" : "number";
  if (one.type === "array")
    return one.items?.properties
      ? "rows"
      : one.items?.enum || one.items?.type === "string"
        ? "choices"
        : "fixed";
  if (one.type === "object" && one.properties) return "group";
  if (one.type === "string")
    return (one.maxLength ?? 0) > LONGEST ? "fixed" : (one.maxLength ?? 0) > 300 ? "words" : "text";
  return "fixed";
}

/** What a field, or a row, holds before anybody has said anything. */
export function blank(schema: Schema): unknown {
  if (schema.default !== undefined && schema.default !== null) return structuredClone(schema.default);
  if (mayBeNull(schema) && nullable(schema)) return null;
  const one = known(schema);
  if (one.enum) return one.enum[0] ?? null;
  if (one.prefixItems) return one.prefixItems.map(() => 0);
  switch (one.type) {
    case "object":
      return Object.fromEntries(
        Object.entries(one.properties ?? {})
          .filter(([key]) => one.required?.includes(key))
          .map(([key, inner]) => [key, blank(inner)]),
      );
    case "array":
      return [];
    case "boolean":
      return false;
    case "number":
    case "integer":
      return one.minimum ?? one.exclusiveMinimum ?? 0;
    default:
      return "";
  }
}

/** Why a number is none for a field, in words; nothing where it is one. */
export function wrongNumber(value: number, schema: Schema, unit: string): string {
  const { minimum, exclusiveMinimum, maximum } = known(schema);
  const least = minimum ?? exclusiveMinimum;
  const said = unit ? ` ${unit}` : "";
  if (Number.isNaN(value)) return say.thatIsNoNumber;
  const outside =
    (minimum !== undefined && value < minimum) ||
    (exclusiveMinimum !== undefined && value <= exclusiveMinimum) ||
    (maximum !== undefined && value > maximum);
  if (!outside) return "";
  const range = say.to(exclusiveMinimum !== undefined, plain(least ?? 0), plain(maximum ?? 0));
  return say.give(range, said);
}

/** What is wrong of a field that is no number; nothing where nothing is. */
export function wrongText(value: string, schema: Schema): string {
  const { minLength = 0, maxLength = Infinity, pattern } = known(schema);
  if (value.length > maxLength) return say.atMostLettersItHas(maxLength, value.length);
  if (value.trim().length < Math.max(minLength, pattern === "\\S" ? 1 : 0)) return say.writeSomethingHere;
  return "";
}

/** All fields of some data that are wrong, with why; those that cannot be told here the server names. */
export function wrongs(
  schema: Schema,
  value: unknown,
  path: Path = [],
  key = "",
): { path: Path; why: string }[] {
  const one = known(schema);
  if (value === null || value === undefined) return [];
  const deeper = (inner: Schema, at: unknown, step: string | number) =>
    wrongs(inner, at, [...path, step], String(step));
  if (Array.isArray(value) && one.prefixItems)
    return one.prefixItems.flatMap((inner, i) => deeper(inner, (value as unknown[])[i], i));
  if (Array.isArray(value)) {
    const few = value.length < (one.minItems ?? 0) ? [{ path, why: say.giveAtLeast(one.minItems) }] : [];
    return [...few, ...(one.items ? value.flatMap((at: unknown, i) => deeper(one.items ?? {}, at, i)) : [])];
  }
  if (typeof value === "object")
    return Object.entries(one.properties ?? {}).flatMap(([step, inner]) =>
      deeper(inner, (value as Data)[step], step),
    );
  const why =
    typeof value === "number"
      ? wrongNumber(value, one, unitOf(key, schema))
      : typeof value === "string" && one.type === "string"
        ? wrongText(value, one)
        : "";
  return why ? [{ path, why }] : [];
}

/** Data with what stands at a path changed. */
export function withChange(data: unknown, path: Path, value: unknown): unknown {
  const [step, ...rest] = path;
  if (step === undefined) return value;
  if (Array.isArray(data))
    return (data as unknown[]).map((one, i) => (i === step ? withChange(one, rest, value) : one));
  const inner = (data ?? {}) as Data;
  return { ...inner, [step]: withChange(inner[step], rest, value) };
}
