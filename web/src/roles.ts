/** Line roles on screen: a colour and a stroke shape, alike everywhere. */
export interface RoleLook {
  words: string;
  colour: string;
  dash?: string;
  double?: boolean;
  ticks?: boolean;
  round?: boolean;
}

export const ROLES: Record<string, RoleLook> = {
  "kiss-cut": { words: "kiss cut", colour: "#2F47C2", ticks: true },
  "through-cut": { words: "through cut", colour: "#C4442A", double: true },
  perforation: { words: "perforation", colour: "#8A2F7F", dash: "8 3" },
  "back-cut": { words: "back cut", colour: "#55701C", dash: "0.1 6", round: true, ticks: true },
  crease: { words: "crease", colour: "#A86A00", dash: "10 4 2 4" },
  unclear: { words: "unclear", colour: "#1A1A1A", dash: "3 3" },
};

export const lookOf = (role: string): RoleLook => ROLES[role] ?? { words: role, colour: "#1A1A1A" };
