/** Several inner contours at once: a box that is pulled round them, and all that are smaller than one. */
import { Button, Stack, Typography } from "@mui/material";
import { useMemo, useState } from "react";
import type { Making } from "../../api/client";
import type { Point } from "../../stage/geometry";
import type { Drawing } from "../../stage/Stage";
import { ACCENT } from "../../ui/theme";
import { allInnerTo, smallerTo, type Make } from "./make";
import { making as say } from "../../texts/making";

export type InnerFound = Making["inner"][number];

/** The inner contours whose place lies in a box between two corners. */
export function inBox(inner: readonly InnerFound[], [[ax, ay], [bx, by]]: [Point, Point]): InnerFound[] {
  return inner.filter(({ at: [x = 0, y = 0] }) => (x - ax) * (x - bx) <= 0 && (y - ay) * (y - by) <= 0);
}

export function useInnerBox(make: Make | null, made: Making | null, change: (make: Make) => void) {
  const [box, setBox] = useState<[Point, Point] | null>(null);
  const draw: Drawing = useMemo(
    () => ({
      press: (at) => setBox([at, at]),
      pull: (to) => setBox((now) => now && [now[0], to]),
      done: () => {
        const found = box && made ? inBox(made.inner, box) : [];
        if (make && found.length) change(allInnerTo(make, found, !found.some((one) => one.kept)));
        setBox(null);
      },
    }),
    [box, make, made, change],
  );
  return { draw, shown: box && <BoxShown box={box} /> };
}

function BoxShown({ box: [[ax, ay], [bx, by]] }: { box: [Point, Point] }) {
  return ["#fff", ACCENT].map((colour, i) => (
    <rect
      key={colour}
      x={Math.min(ax, bx)}
      y={Math.min(ay, by)}
      width={Math.abs(bx - ax)}
      height={Math.abs(by - ay)}
      fill={i ? "rgba(11,90,94,.12)" : "none"}
      stroke={colour}
      strokeWidth={3 - 1.5 * i}
      vectorEffect="non-scaling-stroke"
    />
  ));
}

interface Props {
  make: Make;
  made: Making;
  /** The place of the one that was pressed last. */
  at: Point;
  onChange: (make: Make) => void;
  onDone: () => void;
}

/** What can be done with the inner contour that was just turned over, and with all that are smaller. */
export function TurnedInner({ make, made, at, onChange, onDone }: Props) {
  const one = made.inner.find(
    (inner) => Math.hypot((inner.at[0] ?? 0) - at[0], (inner.at[1] ?? 0) - at[1]) < 0.01,
  );
  if (!one) return null;
  const smaller = made.inner.filter(
    (inner) => inner.area_mm2 < one.area_mm2 && inner.kept !== one.kept,
  ).length;
  return (
    <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap", alignItems: "center" }}>
      <Typography variant="body2">
        {say.theInnerContourOfMm(one.area_mm2.toFixed(one.area_mm2 < 10 ? 2 : 0), one.kept)}
      </Typography>
      {smaller > 0 && (
        <Button variant="outlined" onClick={() => onChange(smallerTo(make, made.inner, one))}>
          {say.allSmallerOnesTooContour(one.kept, smaller)}
        </Button>
      )}
      <Button onClick={onDone} size="inline">
        {say.done}
      </Button>
    </Stack>
  );
}
