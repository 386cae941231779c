/** Line roles on screen: a colour and a stroke shape, alike everywhere. Which, the core's table says. */
import type { Order } from "../api/client";
import { looks } from "../api/looks";

export interface RoleLook {
  words: string;
  colour: string;
  dash?: string;
  double?: boolean;
  ticks?: boolean;
  round?: boolean;
}

/** How a stroke shape is drawn, in pixels. */
const SHAPES: Record<string, Partial<RoleLook>> = {
  ticked: { ticks: true },
  double: { double: true },
  "cuts-and-ties": { dash: "8 3" },
  dotted: { dash: "0.1 6", round: true, ticks: true },
  "dash-dot": { dash: "10 4 2 4" },
};

export type Role = NonNullable<Order["roles"]>[number];

/** The roles that a line can have, in the order in which they are offered. */
export const CUTS: readonly Role[] = looks.roles.map((role) => role.role as Role);

export const ROLES: Record<string, RoleLook> = Object.fromEntries([
  ...looks.roles.map(({ role, words, colour, shape }) => [role, { words, colour, ...SHAPES[shape] }]),
  ["unclear", { words: "unclear", colour: looks.ink, dash: "3 3" }],
]);

export const lookOf = (role: string): RoleLook => ROLES[role] ?? { words: role, colour: looks.ink };
