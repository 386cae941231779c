/** What a size means for a picture or a drawing: the other side, how fine it is then, and from how far that is enough. */
import { Typography } from "@mui/material";
import type { Question } from "../../api/client";
import { MM_PER_INCH } from "../../ui/lengths";
import { exactSize, length, percent } from "../../ui/words";
import { order as say } from "../../texts/order";

/** One minute of arc, which is as much as a good eye tells apart: so many mm at a metre. */
const ARC_MINUTE_MM = 0.2909;
/** What CSS calls a pixel: a drawing without a size is usually drawn by it. */
const UNIT_MM = MM_PER_INCH / 96;

/** The finished size from one side or both, in the proportions of the file; null while nothing is said. */
export function sizeOf(
  extent: readonly number[],
  width: number | null | undefined,
  height: number | null | undefined,
): [number, number] | null {
  const ratio = (extent[0] ?? 1) / (extent[1] ?? 1);
  const [w, h] = [width ?? 0, height ?? 0];
  if (!(w > 0) && !(h > 0)) return null;
  const wide = w > 0 && h > 0 ? Math.min(w, h * ratio) : w > 0 ? w : h * ratio;
  return [wide, wide / ratio];
}

interface Props {
  question: Question;
  width: number | null | undefined;
  height: number | null | undefined;
}

export function SizeMeans({ question, width, height }: Props) {
  const { extent } = question;
  const size = extent.length ? sizeOf(extent, width, height) : null;
  const [wide = 1, high = 1] = extent;
  const lies = wide > high * 1.01 ? say.widerThanHigh : high > wide * 1.01 ? say.higherThanWide : "square";
  if (!size)
    return (
      <Typography variant="body2" color="text.secondary">
        {say.itLiesAsYouSee(lies)}
      </Typography>
    );
  const ppi = (wide / size[0]) * MM_PER_INCH;
  const near = MM_PER_INCH / ppi / ARC_MINUTE_MM;
  return (
    <Typography variant="body2" data-testid="size-means">
      <b>{exactSize(size.map((mm) => Number(mm.toFixed(2))))}</b>
      {say.asYouSeeIt(lies)}
      {question.extent_in === "px" ? (
        <>
          {say.thatIs}
          <b>{ppi.toFixed(0)} ppi</b>
          {say.sharpToTheEyeFrom(length(Number((near * 1000).toPrecision(2))))}
        </>
      ) : (
        say.theDrawingIsUnitsAt(
          Number(wide.toPrecision(4)),
          Number(high.toPrecision(4)),
          percent(size[0] / (wide * UNIT_MM)),
        )
      )}
    </Typography>
  );
}
