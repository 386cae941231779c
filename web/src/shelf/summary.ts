/** What matters of a thing, in one line of its list. */
import type { KindId, ShelfThing } from "../api/client";
import { length, plain } from "../ui/words";
import { shelf as say } from "../texts/shelf";

type Data = Record<string, unknown>;
const figure = (value: unknown) => (typeof value === "number" ? value : 0);
const list = (value: unknown) => (Array.isArray(value) ? (value as unknown[]) : []);
const said = (...parts: unknown[]) => parts.filter(Boolean).join(" · ");
const force = (value: unknown) => (typeof value === "number" ? `${plain(value)} gf` : say.forceOfTheMachine);

const LINES: Record<KindId, (data: Data) => string> = {
  printer: (d) =>
    said(
      d["width_mm"] && say.upToWide(length(figure(d["width_mm"]))),
      say.blankAtTheEdges(length(figure(d["margin_mm"]))),
      list(d["presets"])
        .map((one) => (one as Data)["title"])
        .join(", "),
    ),
  cutter: (d) =>
    said(
      d["width_mm"] && say.upToWide(length(figure(d["width_mm"]))),
      say.atTheSides(length(figure(d["side_margin_mm"]))),
      d["camera"] ? say.findsMarksByItself2 : say.marksAreJoggedTo,
      say.toGf(plain(figure(d["least_gf"])), plain(figure(d["most_gf"]))),
    ),
  marks: (d) =>
    said(
      String(d["kind"]).replace(/-/g, " "),
      d["count"] && say.ofThem(plain(figure(d["count"]))),
      d["every_mm"] && say.every(length(figure(d["every_mm"]))),
      typeof d["around"] === "string" && say.roundThe(d["around"]),
    ),
  destination: (d) => Object.values((d["names"] ?? {}) as Record<string, string>).join(" · "),
  material: (d) =>
    said(
      say.wide(length(figure(d["width_mm"]))),
      list(d["strata"])
        .map((one) => `${String((one as Data)["kind"])} ${plain(figure((one as Data)["thickness_um"]))} µm`)
        .join(", "),
    ),
  holder: (d) =>
    said(say.slot(plain(figure(d["number"]))), d["blade"], say.hasCutM(plain(figure(d["age_m"])))),
  tool: (d) =>
    said(
      force(d["force_gf"]),
      d["passes"] !== 1 && say.passes(plain(figure(d["passes"]))),
      d["passed"] && "tested",
    ),
  perforation: (d) =>
    said(
      say.cutsOfTiesOf(length(figure(d["cut_mm"])), length(figure(d["tie_mm"]))),
      d["tie_force_gf"] ? say.scoredWith(force(d["tie_force_gf"])) : say.leftWhole,
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
    return changed.length ? changed.join(", ") : say.asShipped;
  },
  customer: (d) => said(d["write_to"], d["note"]),
  letter: (d) => {
    const texts =
      Object.keys((d["texts"] ?? {}) as Data).length + Object.keys((d["checks"] ?? {}) as Data).length;
    return texts ? say.textsOfItsOwn(texts) : say.asShipped;
  },
  "file-names": (d) => String(d["pattern"]),
  watched: (d) => said(d["folder"], d["customer"] || say.asNamesSay),
  fabric: (d) =>
    said(`${plain(figure(d["thickness_um"]))} µm`, say.shrinks(plain(100 * figure(d["shrinks"])))),
  thread: (d) => said(d["colour"], d["tex"] && say.tex(plain(figure(d["tex"])))),
};

export const summaryOf = (thing: Pick<ShelfThing, "kind" | "data">): string => LINES[thing.kind](thing.data);
