/** What lines are made of, as a value: the same that the server takes, keeps with the lines, and gives back. */
import { length as inWords } from "../../ui/words";
import type { Job, MakeWanted } from "../../api/client";
import type { Role } from "../../ui/roles";
import type { Point } from "../../stage/geometry";

/** What a table of the server says may be null is here left out. */
type Said<T> = T extends (infer One)[]
  ? T extends [unknown, ...unknown[]]
    ? T
    : Said<One>[]
  : T extends object
    ? { [Key in keyof T]: Said<NonNullable<T[Key]>> }
    : T;

export type Make = Said<MakeWanted>;
export type LineWanted = Make["lines"][number];
export type Join = NonNullable<LineWanted["join"]>;
export type Source = NonNullable<Make["source"]>;
export type Shape = NonNullable<Make["shape"]>;
export type Inner = NonNullable<Make["inner"]>;
export type Edit = NonNullable<LineWanted["edits"]>[number];

const BORDER_MM = 2;
const BLEED_MM = 3;
/** How far the second lines lie outside the first. */
const FURTHER: Record<Role, number> = {
  "kiss-cut": 0,
  "through-cut": 2,
  perforation: 3,
  "back-cut": 1.3,
  crease: 0,
};

const isCut = (role: string): role is Role => role in FURTHER;

/** Whether a line has an offset: from the outline, from itself as it was drawn, or from the line it runs along. */
export const hasOffset = (line: LineWanted) =>
  line.slit_deg === undefined && line.frame_mm === undefined && line.weed_mm === undefined;

/** Whether a line follows the outline of the art. */
export const follows = (line: LineWanted) => hasOffset(line) && !line.drawn && !line.along;

/** Whether a line was drawn and left open: it has a left and a right, and no outside. */
export const isOpen = (line: LineWanted) => !!line.drawn && !line.drawn.trimEnd().endsWith("Z");

/** Where a line of a role would usually lie, beside those that there are. */
export function usual(role: Role, lines: LineWanted[]): LineWanted {
  const first = lines.find(follows);
  const perforated = role === "perforation" ? { cut_mm: 4, tie_mm: 0.5, least_ties: 4 } : {};
  const drawn = first ? undefined : lines.find((line) => line.drawn && line.role !== role);
  if (drawn) return { role, along: drawn.role, offset_mm: FURTHER[role], ...perforated };
  const by = (first?.offset_mm ?? BORDER_MM) + (first ? FURTHER[role] : 0);
  return { role, offset_mm: Number(by.toFixed(2)), ...perforated };
}

/** A perforation over a cut, the same line with a second job. */
export const onItself = (line: LineWanted): LineWanted => ({
  ...usual("perforation", []),
  offset_mm: 0,
  along: line.role,
});

/** The roles of the lines that the file had before anything was made. */
export const rolesInFile = (job: Job): Role[] => [
  ...new Set(
    (job.seen?.drawn ?? [])
      .filter((line) => !line.made)
      .map((line) => line.role)
      .filter(isCut),
  ),
];

/** What is made of a line that the file has: what the order still wants, else what usually goes with it. */
export function fromLine(job: Job, role: Role): Make {
  const there = rolesInFile(job);
  const missing = (job.order.roles ?? []).filter((one) => !there.includes(one));
  const usually: Role = there.includes("back-cut") ? "through-cut" : "back-cut";
  const wanted = missing.length ? missing : [usually];
  const at = (one: Role): LineWanted =>
    one === "kiss-cut" && role === "through-cut"
      ? { role: one, offset_mm: -FURTHER["through-cut"] }
      : usual(one, [{ role, offset_mm: 0 }]);
  return { source: "line", line: role, lines: wanted.map(at) };
}

/** The make that an address asks for, with what a line of its role usually has; undefined where it names none. */
export function makeIn(text: string): Make | undefined {
  try {
    const { lines, ...rest } = JSON.parse(text) as Make;
    return { ...rest, lines: lines.map((line) => ({ ...usual(line.role, []), ...line })) };
  } catch {
    return undefined;
  }
}

/** What is made to begin with: what the page's lines were made of, else what the order asks for. */
export function firstMake(job: Job): Make {
  const made = job.seen?.made as unknown as Make | null | undefined;
  if (made) return made;
  const front = (["kiss-cut", "through-cut"] as const).find((role) => rolesInFile(job).includes(role));
  if (front) return fromLine(job, front);
  const { roles, edge, border_mm, bleed_mm } = job.order;
  const wanted: Role[] = roles?.length ? roles : ["kiss-cut"];
  // what is only cut has no colour to keep away from: the outline itself is the cut
  const by =
    job.layout.makes === "cut" ? 0 : edge === "bleed" ? -(bleed_mm ?? BLEED_MM) : (border_mm ?? BORDER_MM);
  const lines: LineWanted[] = [];
  for (const role of wanted)
    lines.push(lines.length ? usual(role, lines) : { ...usual(role, []), offset_mm: by });
  return { lines };
}

/** The same make with a line set otherwise; what runs along it goes on doing so under its new role. */
export function withLineSet(make: Make, index: number, line: LineWanted): Make {
  const before = make.lines[index]?.role;
  const lines = make.lines.map((one, i) =>
    i === index ? line : one.along && one.along === before ? { ...one, along: line.role } : one,
  );
  return { ...make, lines };
}

/** The same make without a line; what ran along it follows the outline as far out. */
export function withoutLine(make: Make, index: number): Make {
  const gone = make.lines[index];
  const lines = make.lines.filter((_, i) => i !== index);
  const left = lines.some((line) => line.role === gone?.role);
  return {
    ...make,
    lines: lines.map((line) =>
      line.along === gone?.role && !left
        ? tidy({ ...line, along: undefined, offset_mm: (line.offset_mm ?? 0) + (gone?.offset_mm ?? 0) })
        : line,
    ),
  };
}

/** The same make with one of its lines changed; what becomes undefined is left out. */
export function withLine(make: Make, index: number, change: Partial<LineWanted>): Make {
  const lines = make.lines.map((line, i) => (i === index ? tidy({ ...line, ...change }) : line));
  return { ...make, lines };
}

export function tidy<T extends object>(value: T): T {
  return Object.fromEntries(Object.entries(value).filter(([, v]) => v !== undefined)) as T;
}

/** A make as a preset: without what belongs to one artwork alone. */
export function asPreset(make: Make): Make {
  const own: (keyof Make)[] = ["keep_at", "drop_at", "cut_out_at", "objects_at", "ground_at"];
  return tidy({
    ...make,
    ...Object.fromEntries(own.map((key) => [key, undefined])),
    lines: make.lines.filter((line) => !line.drawn).map((line) => tidy({ ...line, edits: undefined })),
  });
}

/** For whom a preset was made. */
export interface PresetBound {
  customers: readonly string[];
  materials: readonly string[];
}

/** What a preset of the Shelf makes, and for whom. */
export function presetOf(data: Record<string, unknown>): { make: Make; bound: Partial<PresetBound> } {
  const { customers, materials, ...make } = data;
  return { make: make as unknown as Make, bound: tidy({ customers, materials }) as Partial<PresetBound> };
}

const inside = (line: LineWanted) => (line.offset_mm ?? 0) < 0;

/** “3 mm border, round, kiss cut”: what a preset is called unless somebody calls it otherwise. */
export function presetName(make: Make, words: (role: string) => string): string {
  return make.lines
    .map((line) => {
      const by = Math.abs(line.offset_mm ?? 0);
      const where = follows(line)
        ? `${inWords(by)} ${inside(line) ? "inside" : "border"}, ${line.join ?? "round"}, `
        : "";
      return `${where}${words(line.role)}`;
    })
    .join(" + ");
}

interface InnerAt {
  at: readonly number[];
  area_mm2: number;
  kept: boolean;
}

/** All of some inner contours cut, or none of them. */
export function allInnerTo(make: Make, inner: readonly InnerAt[], kept: boolean): Make {
  const places = inner.map(({ at }): Point => [at[0] ?? 0, at[1] ?? 0]);
  const others = ([x, y]: Point) => !places.some((at) => Math.hypot(x - at[0], y - at[1]) <= 0.01);
  const keep = (make.keep_at ?? []).filter(others);
  const drop = (make.drop_at ?? []).filter(others);
  (kept ? keep : drop).push(...places);
  return tidy({ ...make, keep_at: keep.length ? keep : undefined, drop_at: drop.length ? drop : undefined });
}

/** Turn an inner contour over: cut where it was not, and not where it was. */
export const turnedInner = (make: Make, at: Point, kept: boolean): Make =>
  allInnerTo(make, [{ at, area_mm2: 0, kept }], !kept);

/** All inner contours that are smaller than one become as that one is; a limit says it for those that are left out. */
export function smallerTo(make: Make, inner: readonly InnerAt[], one: InnerAt): Make {
  const smaller = inner.filter((other) => other.area_mm2 <= one.area_mm2);
  if (one.kept) return allInnerTo(make, smaller, true);
  const without = (places: Point[] | undefined) => {
    const left = (places ?? []).filter(
      ([x, y]) => !smaller.some(({ at }) => Math.hypot(x - (at[0] ?? 0), y - (at[1] ?? 0)) <= 0.01),
    );
    return left.length ? left : undefined;
  };
  const below = Math.ceil(one.area_mm2 * 100 + 1) / 100;
  const wider = typeof make.inner === "object" && make.inner.drop_below_mm2 > below;
  return tidy({
    ...make,
    inner: make.inner === "drop" || wider ? make.inner : { drop_below_mm2: below },
    keep_at: without(make.keep_at),
    drop_at: without(make.drop_at),
  });
}
