/** The stage with a stack: its fabrics as they lie, one alone or all, with the stitches at their true width. */
import { Button, ToggleButton, ToggleButtonGroup } from "@mui/material";
import { useCallback, useMemo, type ReactNode } from "react";
import type { StackShown } from "../api/client";
import { Stage } from "../stage/Stage";
import type { Box, Point, View } from "../stage/geometry";
import { StitchCanvas } from "./StitchCanvas";
import { countsOf, laidAt, needleAt } from "./stitches";
import { stack as say } from "../texts/stack";

interface Props {
  shown: StackShown | null;
  /** The layer that is shown alone, by its number; null: the whole stack. */
  alone: number | null;
  onAlone: (layer: number | null) => void;
  stitches: boolean;
  onStitches: (on: boolean) => void;
  /** So many needle points are sewn while they are played; null: all. */
  sewn: number | null;
  onSection: (line: [Point, Point] | null) => void;
  over?: ReactNode;
}

export const boundsOf = (box: number[], room: number): Box => {
  const [x0 = 0, y0 = 0, x1 = 1, y1 = 1] = box;
  return [x0 - room, y0 - room, x1 + room, y1 + room];
};
const ROOM_MM = 6;
const EMPTY: Box = [0, 0, 100, 100];

export function StackStage({ shown, alone, onAlone, stitches, onStitches, sewn, onSection, over }: Props) {
  const layers = useMemo(() => shown?.layers ?? [], [shown]);
  const bounds = useMemo(
    () => (shown && layers.length ? boundsOf(shown.bounds, ROOM_MM) : EMPTY),
    [shown, layers],
  );
  const seams = useMemo(
    () => (shown?.seams ?? []).filter((seam) => alone === null || sewn !== null || seam.layer === alone),
    [shown, alone, sewn],
  );
  const needle = useMemo(
    () => (sewn === null ? null : needleAt(seams, countsOf(seams), sewn)),
    [seams, sewn],
  );
  const laid = useMemo(() => (sewn === null ? null : laidAt(seams, countsOf(seams), sewn)), [seams, sewn]);
  const canvas = useCallback(
    (view: View, size: [number, number], room: [number, number]) =>
      stitches ? <StitchCanvas seams={seams} sewn={sewn} view={view} size={size} over={room} /> : null,
    [stitches, seams, sewn],
  );
  return (
    <Stage
      bounds={bounds}
      label={say.stack}
      onSection={onSection}
      canvas={canvas}
      over={over}
      onTop={(view) => needle && <Needle at={needle} view={view} />}
      tools={
        <>
          <ToggleButtonGroup
            size="small"
            exclusive
            value={alone ?? -1}
            onChange={(_, next: number | null) => next !== null && onAlone(next < 0 ? null : next)}
            aria-label={say.whatIsShown}
          >
            <ToggleButton value={-1}>{say.whole}</ToggleButton>
            {layers.map((layer) => (
              <ToggleButton key={layer.number} value={layer.number} sx={{ maxWidth: 130 }}>
                <span style={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
                  {layer.name}
                </span>
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
          <Button
            variant={stitches ? "contained" : "outlined"}
            aria-pressed={stitches}
            onClick={() => onStitches(!stitches)}
          >
            {say.stitches}
          </Button>
        </>
      }
    >
      {() => (
        <>
          {[...layers]
            .reverse()
            .filter((layer) => laid === null || laid.has(layer.number))
            .map((layer) => (
              <path
                key={layer.number}
                d={layer.path}
                fill={layer.colour}
                fillRule="evenodd"
                opacity={alone === null || alone === layer.number ? 1 : 0.12}
                stroke="#2A2A2A"
                strokeWidth={alone === layer.number ? 1.6 : 0.8}
                vectorEffect="non-scaling-stroke"
                data-fabric={layer.name}
              />
            ))}
          {shown && (
            <path
              d={shown.outline}
              fill="none"
              stroke="#1A1A1A"
              strokeWidth={0.8}
              strokeDasharray="2 3"
              vectorEffect="non-scaling-stroke"
            />
          )}
        </>
      )}
    </Stage>
  );
}

/** Where the needle is. */
export function Needle({ at: [x, y], view }: { at: [number, number]; view: View }) {
  const r = 7 / view.k;
  return (
    <g data-testid="needle" fill="none" vectorEffect="non-scaling-stroke">
      <circle cx={x} cy={y} r={r} stroke="#fff" strokeWidth={4 / view.k} />
      <circle cx={x} cy={y} r={r} stroke="#111" strokeWidth={2 / view.k} />
      <circle cx={x} cy={y} r={1.6 / view.k} fill="#111" />
    </g>
  );
}
