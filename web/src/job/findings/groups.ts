/** How findings are grouped and filtered: stops first, what is decided last. */
import type { Finding, Job } from "../../api/client";
import type { Point } from "../../stage/geometry";
import { ROLES } from "../../ui/roles";
import { common } from "../../texts/common";
import { findings as say } from "../../texts/findings";

export const GROUPS = [
  ["stop", say.stops, common.stop],
  ["look", say.toLookAt, say.look],
  ["note", say.notes, say.note],
  ["settled", say.decided, say.decided],
] as const;

export const groupOf = (finding: Finding) => (finding.decision ? "settled" : finding.severity);

export interface Filter {
  group: string;
  subject: string;
}
export const ALL: Filter = { group: "all", subject: "all" };

/** The findings that a filter leaves, in the order in which they stand. */
export function shownOf(findings: Finding[], { group, subject }: Filter): Finding[] {
  const left = findings.filter(
    (f) => (group === "all" || groupOf(f) === group) && (subject === "all" || f.subject === subject),
  );
  return GROUPS.flatMap(([name]) => left.filter((f) => groupOf(f) === name));
}

/** The line roles and inks that findings are about. */
export const subjectsOf = (job: Job): string[] => {
  const known = (s: string) => s in ROLES || job.seen?.inks.some((ink) => ink.name === s);
  return [...new Set(job.findings.map((f) => f.subject).filter((s) => s && known(s)))];
};

const inside = ([x, y]: Point, [x0 = 0, y0 = 0, x1 = 0, y1 = 0]: number[], by: number) =>
  x > x0 - by && x < x1 + by && y > y0 - by && y < y1 + by;

const WITHIN_MM = 1;

/** What a press on the stage chooses: the cards of a line that was hit, or the finding whose place it is. */
export function pressed(
  findings: Finding[],
  role: string | null,
  at: Point,
): { subject: string; key?: string | null } {
  const there = findings.find((f) => f.where.some((box) => inside(at, box, WITHIN_MM)));
  if (!role) return there ? { subject: "all", key: there.key } : { subject: "all" };
  const own = there?.subject === role ? there : (findings.find((f) => f.subject === role) ?? there);
  return { subject: findings.some((f) => f.subject === role) ? role : "all", key: own?.key ?? null };
}

/** The finding after or before one, round the end. */
export function neighbour(findings: Finding[], key: string | null, step: 1 | -1): Finding | undefined {
  const at = findings.findIndex((finding) => finding.key === key);
  if (at < 0) return findings[step > 0 ? 0 : findings.length - 1];
  return findings[(at + step + findings.length) % findings.length];
}
