/** The edge map on the stage: the ribbons, the worst places, and what a cut that lands off would show. */
import { useMemo } from "react";
import type { Edges, Landing } from "../../api/client";
import { KINDS, movedCut, reachOf, ribbon } from "../../stage/edges";
import type { Misregistration } from "../../api/queries";
import { STOP } from "../../ui/theme";
import { EDGE_LOOKS } from "./edgeLooks";

const LEAST_PX = 5;

export function EdgeLayer({ edges, layer, k }: { edges: Edges; layer: string; k: number }) {
  const profiles = useMemo(() => edges.layers[layer] ?? [], [edges, layer]);
  const least = LEAST_PX / k;
  return (
    <g data-testid="edge-map">
      <defs>
        {KINDS.map((kind) => {
          const look = EDGE_LOOKS[kind];
          return look.lines ? (
            <pattern
              key={kind}
              id={`edge-${kind}`}
              width={6 / k}
              height={6 / k}
              patternUnits="userSpaceOnUse"
              patternTransform={`rotate(${look.lines})`}
            >
              <rect width={6 / k} height={6 / k} fill={look.ground} />
              <rect width={2.4 / k} height={6 / k} fill={look.colour} />
            </pattern>
          ) : null;
        })}
      </defs>
      {KINDS.map((kind) => {
        const d = profiles.map((p) => ribbon(p, kind, least)).join("");
        const look = EDGE_LOOKS[kind];
        return d ? (
          <path
            key={kind}
            d={d}
            data-edge={kind}
            fill={look.lines ? `url(#edge-${kind})` : look.colour}
            fillOpacity={look.opacity}
            stroke={look.stroke}
            strokeWidth={0.8}
            vectorEffect="non-scaling-stroke"
          />
        ) : null;
      })}
      {profiles.map((p, i) => {
        const [x, y] = [(p.points[2 * p.worst] ?? 0) / 100, (p.points[2 * p.worst + 1] ?? 0) / 100];
        return Math.abs(reachOf(p, p.worst)) < edges.reach_mm && profiles.length < 60 ? (
          <circle
            key={i}
            cx={x}
            cy={y}
            r={5 / k}
            fill="#fff"
            stroke="#1A1A1A"
            strokeWidth={2}
            vectorEffect="non-scaling-stroke"
          />
        ) : null;
      })}
    </g>
  );
}

export function LandedCut({
  edges,
  offset,
  landing,
}: {
  edges: Edges;
  offset: Misregistration;
  landing: Landing | undefined;
}) {
  const cut = useMemo(() => movedCut(edges.layers["colour"] ?? [], offset), [edges, offset]);
  return (
    <g data-testid="landed">
      {landing?.slivers.map((sliver, i) => (
        <path
          key={i}
          data-sliver={sliver.kind}
          d={`M${sliver.outline.map(([x = 0, y = 0]) => `${x} ${y}`).join("L")}Z`}
          fill={STOP}
          fillOpacity={0.85}
          stroke={STOP}
          strokeWidth={2.5}
          vectorEffect="non-scaling-stroke"
        />
      ))}
      <path d={cut} fill="none" stroke="#fff" strokeWidth={4} vectorEffect="non-scaling-stroke" />
      <path
        d={cut}
        fill="none"
        stroke="#1A1A1A"
        strokeWidth={1.6}
        strokeDasharray="9 4"
        vectorEffect="non-scaling-stroke"
      />
    </g>
  );
}
