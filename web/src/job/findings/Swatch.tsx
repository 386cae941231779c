/** A colour of the file, about as it looks on this screen. */
import { Box } from "@mui/material";

/** RGB or CMYK, each 0 to 1. */
const shownAs = (values: readonly number[]) => {
  const [a = 0, b = 0, c = 0, k] = values;
  const rgb = k === undefined ? [a, b, c] : [a, b, c].map((ink) => (1 - ink) * (1 - k));
  return `rgb(${rgb.map((v) => Math.round(255 * v)).join()})`;
};

export const Swatch = ({ values }: { values: readonly number[] }) => (
  <Box
    component="span"
    sx={{
      display: "inline-block",
      width: 12,
      height: 12,
      mr: 0.75,
      border: "1px solid #777",
      bgcolor: shownAs(values),
    }}
  />
);
