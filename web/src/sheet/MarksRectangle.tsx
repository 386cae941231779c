/** The rectangle that marks stand on, in figures; how far it reaches beyond what the machine can use, and back again. */
import { Button, Typography } from "@mui/material";
import type { Box } from "../stage/geometry";
import { Amount } from "../ui/fields";
import { length } from "../ui/words";

const SIDES = ["on the left", "at the leading edge", "on the right", "at the end"] as const;
const LEAST_MM = 20;

/** How far a box reaches beyond another on each side, in mm; 0 where it does not. */
export function beyond(box: Box, usable: Box): number[] {
  return [usable[0] - box[0], usable[1] - box[1], box[2] - usable[2], box[3] - usable[3]].map((mm) =>
    Math.max(0, Number(mm.toFixed(2))),
  );
}

interface Props {
  box: Box;
  /** What the machine can use of the media. */
  usable: Box | null;
  onBox: (box: Box) => void;
}

export function MarksRectangle({ box, usable, onBox }: Props) {
  const [x0, y0, x1, y1] = box;
  const over = usable ? beyond(box, usable) : [];
  const said = SIDES.flatMap((side, i) => (over[i] ? [`${length(over[i])} ${side}`] : []));
  const figure = (label: string, value: number, set: (mm: number) => Box) => (
    <Amount
      label={`${label} of the rectangle`}
      value={value}
      least={-1e5}
      most={1e5}
      step={1}
      onChange={(mm) => mm !== undefined && onBox(set(mm))}
    />
  );
  return (
    <>
      {" "}
      whose corner lies {figure("left", x0, (mm) => [mm, y0, x1 + mm - x0, y1])} from the left and{" "}
      {figure("front", y0, (mm) => [x0, mm, x1, y1 + mm - y0])} from the leading edge,{" "}
      {figure("width", x1 - x0, (mm) => [x0, y0, x0 + Math.max(mm, LEAST_MM), y1])} wide,{" "}
      {figure("length", y1 - y0, (mm) => [x0, y0, x1, y0 + Math.max(mm, LEAST_MM)])} long; it can be dragged
      on the stage
      {said.length > 0 && usable && (
        <Typography component="span" variant="body2" color="error" role="alert">
          . It reaches beyond what the machine can use: {said.join(", ")}.{" "}
          <Button
            size="small"
            onClick={() =>
              onBox([
                Math.max(x0, usable[0]),
                Math.max(y0, usable[1]),
                Math.min(x1, usable[2]),
                Math.min(y1, usable[3]),
              ])
            }
          >
            Bring it inside
          </Button>
        </Typography>
      )}
    </>
  );
}
