/** A line in a small picture: its role's colour and shape on a white casing, constant on screen. */
import { memo, useMemo } from "react";
import { lookOf } from "../ui/roles";
import { inView, grow, runsOf, ticks, type Box, type View } from "./geometry";

interface Props {
  role: string;
  path: string;
  label?: string;
  /** What is in view; without it the ticks are for a drawing at one pixel to the unit. */
  view?: View;
  size?: [number, number];
}

const EVERYWHERE: Box = [-1e7, -1e7, 1e7, 1e7];

export const RoleLine = memo(function RoleLine({ role, path, label, view, size }: Props) {
  const look = lookOf(role);
  const runs = useMemo(() => (look.ticks ? runsOf(path) : []), [look.ticks, path]);
  const marks = useMemo(() => {
    if (!look.ticks) return "";
    const seen = view && size ? grow(inView(view, size), (0.3 * size[0]) / view.k) : EVERYWHERE;
    return ticks(runs, view?.k ?? 1, seen);
  }, [look.ticks, runs, view, size]);
  const stroke = { fill: "none", vectorEffect: "non-scaling-stroke" as const };
  return (
    <g data-role={role} aria-label={label ?? look.words} role="img">
      <path d={path} {...stroke} stroke="white" strokeWidth={look.double ? 6.5 : 4.5} strokeOpacity={0.9} />
      {marks && <path d={marks} {...stroke} stroke={look.colour} strokeWidth={1.2} />}
      <path
        d={path}
        {...stroke}
        stroke={look.colour}
        strokeWidth={look.double ? 4.2 : look.round ? 3 : 1.8}
        strokeDasharray={look.dash}
        strokeLinecap={look.round ? "round" : "butt"}
      />
      {look.double && <path d={path} {...stroke} stroke="white" strokeWidth={1.6} />}
    </g>
  );
});

/** The same as a small sign beside words. */
export function RoleSign({ role }: { role: string }) {
  return (
    <svg width={34} height={14} viewBox="0 0 34 14" aria-label={lookOf(role).words} role="img">
      <RoleLine role={role} path="M2 8L32 8" />
    </svg>
  );
}
