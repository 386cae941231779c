/** What matters of a thing, in one line of its list. */
import type { KindId, ShelfThing } from "../api/client";
import { length, plain } from "../ui/words";

type Data = Record<string, unknown>;
const figure = (value: unknown) => (typeof value === "number" ? value : 0);
const list = (value: unknown) => (Array.isArray(value) ? (value as unknown[]) : []);
const said = (...parts: unknown[]) => parts.filter(Boolean).join(" · ");
const force = (value: unknown) => (typeof value === "number" ? `${plain(value)} gf` : "force of the machine");

const LINES: Record<KindId, (data: Data) => string> = {
  printer: (d) =>
    said(
      d["width_mm"] && `up to ${length(figure(d["width_mm"]))} wide`,
      `${length(figure(d["margin_mm"]))} blank at the edges`,
      list(d["presets"])
        .map((one) => (one as Data)["title"])
        .join(", "),
    ),
  cutter: (d) =>
    said(
      d["width_mm"] && `up to ${length(figure(d["width_mm"]))} wide`,
      `${length(figure(d["side_margin_mm"]))} at the sides`,
      d["camera"] ? "finds marks by itself" : "marks are jogged to",
      `${plain(figure(d["least_gf"]))} to ${plain(figure(d["most_gf"]))} gf`,
    ),
  marks: (d) =>
    said(
      String(d["kind"]).replace(/-/g, " "),
      d["count"] && `${plain(figure(d["count"]))} of them`,
      d["every_mm"] && `every ${length(figure(d["every_mm"]))}`,
      typeof d["around"] === "string" && `round the ${d["around"]}`,
    ),
  destination: (d) => Object.values((d["names"] ?? {}) as Record<string, string>).join(" · "),
  material: (d) =>
    said(
      `${length(figure(d["width_mm"]))} wide`,
      list(d["strata"])
        .map((one) => `${String((one as Data)["kind"])} ${plain(figure((one as Data)["thickness_um"]))} µm`)
        .join(", "),
    ),
  holder: (d) =>
    said(`slot ${plain(figure(d["number"]))}`, d["blade"], `has cut ${plain(figure(d["age_m"]))} m`),
  tool: (d) =>
    said(
      force(d["force_gf"]),
      d["passes"] !== 1 && `${plain(figure(d["passes"]))} passes`,
      d["passed"] && "tested",
    ),
  perforation: (d) =>
    said(
      `cuts of ${length(figure(d["cut_mm"]))}, ties of ${length(figure(d["tie_mm"]))}`,
      d["tie_force_gf"] ? `scored with ${force(d["tie_force_gf"])}` : "left whole",
    ),
  lines: (d) =>
    list(d["lines"])
      .map((one) => {
        const { role, offset_mm } = one as { role: string; offset_mm?: number };
        const by = offset_mm ? ` ${length(Math.abs(offset_mm))} ${offset_mm > 0 ? "outside" : "inside"}` : "";
        return `${role.replace("-", " ")}${by}`;
      })
      .join(", "),
  recipe: (d) =>
    list(d["steps"])
      .map((one) => String((one as Data)["mend"]).replace(/-/g, " "))
      .join(" · "),
  "check-sheet": (d) => {
    const changed = Object.keys({ ...(d["limits"] as Data), ...(d["severities"] as Data) });
    return changed.length ? changed.join(", ") : "as shipped";
  },
  customer: (d) => said(d["write_to"], d["note"]),
  letter: (d) => {
    const texts =
      Object.keys((d["texts"] ?? {}) as Data).length + Object.keys((d["checks"] ?? {}) as Data).length;
    return texts ? `${texts} texts of its own` : "as shipped";
  },
  "file-names": (d) => String(d["pattern"]),
  fabric: (d) =>
    said(`${plain(figure(d["thickness_um"]))} µm`, `shrinks ${plain(100 * figure(d["shrinks"]))} %`),
  thread: (d) => said(d["colour"], d["tex"] && `${plain(figure(d["tex"]))} tex`),
};

export const summaryOf = (thing: Pick<ShelfThing, "kind" | "data">): string => LINES[thing.kind](thing.data);
