/** What a stack is made of: layers and stitches to begin with, and how one is changed. */
import type { Drawn, LayerWanted, SewingWanted, StackWanted } from "../api/client";
import { looks } from "../api/looks";
import { stack as say } from "../texts/stack";

type Kind = SewingWanted["kind"];

/** What the core says of stacks: the kinds of stitches with their usual lengths, and how much there may be. */
const { stacks } = looks;
export const KINDS = stacks.kinds.map(({ kind, words }) => [kind as Kind, words] as const);
export const KIND_WORDS = Object.fromEntries(KINDS) as Record<Kind, string>;
export const FORMATS = stacks.formats as StackWanted["formats"];
export const MOST_LAYERS = stacks.most_layers;
export const MOST_SEWINGS = stacks.most_sewings;
export const LEAST_WIDE_MM = stacks.least_wide_mm;

const USUAL = Object.fromEntries(stacks.kinds.map(({ kind, usual }) => [kind, usual])) as Record<
  Kind,
  SewingWanted
>;
const RUNS = new Set(stacks.kinds.filter((one) => one.runs).map((one) => one.kind));

export const runs = (kind: Kind) => RUNS.has(kind);

export const sewing = (kind: Kind, more: Partial<SewingWanted> = {}): SewingWanted => ({
  ...USUAL[kind],
  ...more,
});

/** A satin that leaves fabric to be seen in letters an inch high. */
const narrow = () => sewing("satin", { width_mm: 2, inset_mm: 1 });

export const layer = (name: string, more: Partial<LayerWanted> = {}): LayerWanted => ({
  ...(stacks.layer as LayerWanted),
  name,
  stitches: [sewing("tack-down"), narrow()],
  ...more,
});

const stack = (...layers: LayerWanted[]): StackWanted => ({
  layers,
  formats: ["dst"],
  frame_mm: 5,
  outline: "auto",
});

const ground = (name: string, more: Partial<LayerWanted>) =>
  layer(name, { stitches: [sewing("placement"), sewing("tack-down"), narrow()], ...more });

/** Stacks to begin with: what they are called, what they are, from the top down. */
export const BEGINNINGS: [string, string, StackWanted][] = [
  [say.oneLayer, say.twillSatinRoundItsEdge, stack(ground("face", { colour: "#E8E2D0" }))],
  [
    say.twoLayers,
    say.twillOnTwill3Mm,
    stack(layer("face", { colour: "#F0E8D2" }), ground("border", { offset_mm: 3, colour: "#2F5D62" })),
  ],
  [
    say.threeLayers,
    say.twillTwillFeltBelow3,
    stack(
      layer("face", { colour: "#F3EBD6" }),
      layer("border", { offset_mm: 3, colour: "#C98A3A" }),
      ground("ground", { offset_mm: 3, fabric: "felt", inner: "close", colour: "#2F5D62" }),
    ),
  ],
];

/** What a file draws, of one kind: its layers, its inks, its colours or its lines. */
export interface AsDrawn {
  by: Drawn["by"];
  drawn: Drawn[];
}

export const BY_WORDS: Record<string, string> = {
  layer: "layers",
  ink: "inks",
  colour: "colours",
  line: "lines",
};
const LOOKS = ["#F3EBD6", "#C98A3A", "#2F5D62", "#8C9A6B", "#7D8FA3"];

/** The kinds of which a file draws several areas, no more of them than a stack has layers. */
export const kindsDrawn = (drawn: Drawn[]): AsDrawn[] =>
  Object.keys(BY_WORDS)
    .map((by) => ({ by, drawn: drawn.filter((one) => one.by === by) }))
    .filter((kind) => kind.drawn.length > 1 && kind.drawn.length <= MOST_LAYERS);

/** What a thing that is drawn is called as a layer. */
export const calledAs = (one: Drawn) => one.key.slice(one.by.length + 1).slice(0, 60);

/** A stack as it is drawn: the smallest area on top, nothing offset. */
export const stackDrawn = (kind: AsDrawn): StackWanted =>
  stack(
    ...kind.drawn.map((one, i) =>
      (i === kind.drawn.length - 1 ? ground : layer)(calledAs(one), {
        drawn: one.key,
        colour: LOOKS[i] ?? "",
      }),
    ),
  );

/** A name that no layer has yet. */
export function freeName(layers: LayerWanted[]): string {
  const taken = new Set(layers.map((one) => one.name.toLowerCase()));
  for (let i = layers.length + 1; ; i++) if (!taken.has(say.layer(i))) return say.layer(i);
}

export const changed = <T>(list: T[], at: number, next: Partial<T>): T[] =>
  list.map((one, i) => (i === at ? { ...one, ...next } : one));

export const without = <T>(list: T[], at: number): T[] => list.filter((_, i) => i !== at);

/** One place up or down; at an end it stays. */
export function movedBy<T>(list: T[], at: number, by: number): T[] {
  const to = at + by;
  const one = list[at];
  if (one === undefined || to < 0 || to >= list.length) return list;
  const rest = without(list, at);
  return [...rest.slice(0, to), one, ...rest.slice(to)];
}

/** Layers in another order; the top one keeps whatever offset it has, any other has at least none. */
export const inOrder = (layers: LayerWanted[]): LayerWanted[] =>
  layers.map((one, i) => (i && !one.drawn && one.offset_mm < 0 ? { ...one, offset_mm: 0 } : one));
