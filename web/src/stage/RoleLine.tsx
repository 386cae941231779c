/** A line on the stage: its role's colour and shape on a white casing, constant on screen. */
import { memo, useId } from "react";
import { lookOf } from "../roles";

interface Props {
  role: string;
  path: string;
  label?: string;
  /** On a layer that is off: drawn pale and broken, so that it shows as hidden. */
  hidden?: boolean;
}

export const RoleLine = memo(function RoleLine({ role, path, label, hidden }: Props) {
  const look = lookOf(role);
  const id = useId();
  const stroke = { fill: "none", vectorEffect: "non-scaling-stroke" as const };
  const cap = look.round ? "round" : "butt";
  const ticks = look.ticks && path.length < 200_000;
  return (
    <g data-role={role} data-hidden={hidden || undefined} aria-label={label ?? look.words} role="img" opacity={hidden ? 0.45 : 1}>
      {ticks && (
        <mask id={id} maskUnits="userSpaceOnUse" x={-1e5} y={-1e5} width={2e5} height={2e5}>
          <rect x={-1e5} y={-1e5} width={2e5} height={2e5} fill="white" />
          <path d={path} fill="black" fillRule="evenodd" />
        </mask>
      )}
      <path d={path} {...stroke} stroke="white" strokeWidth={look.double ? 6.5 : 4.5} strokeOpacity={0.9} />
      {ticks && (
        <path d={path} {...stroke} stroke={look.colour} strokeWidth={9} strokeDasharray="1.2 13" mask={`url(#${id})`} />
      )}
      <path
        d={path}
        {...stroke}
        stroke={look.colour}
        strokeWidth={look.double ? 4.2 : look.round ? 3 : 1.8}
        strokeDasharray={hidden ? "2 6" : look.dash}
        strokeLinecap={cap}
      />
      {look.double && !hidden && <path d={path} {...stroke} stroke="white" strokeWidth={1.6} />}
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
