/** What code and marks say of a sheet before the cutter: whether it is the right one, and how it lies. */
import { Button, Stack, Typography } from "@mui/material";
import type { Bed } from "../api/client";
import { TELLING } from "../sheet/MarksPart";
import { Figure } from "../ui/Docket";

export function Code({ bed }: { bed: Bed }) {
  if (bed.side === "back") return null;
  if (!bed.code_meant)
    return (
      <Typography variant="body2" color="text.secondary">
        Without a code the cutter cannot tell which end goes first, nor whose sheet it is. Look yourself.
      </Typography>
    );
  if (bed.code_read === bed.code_meant)
    return <Typography variant="body2">The code says {bed.code_meant}: it is this sheet.</Typography>;
  if (bed.code_of)
    return (
      <Button size="small" href={`/bench?release=${bed.code_of}`}>
        Fetch the job of {bed.code_read}
      </Button>
    );
  return null;
}

interface FitProps {
  fit: NonNullable<NonNullable<Bed["aligned"]>["fit"]>;
  /** How many marks it goes by, and how many the sheet has. */
  marks: number;
  printed: number;
}

export function FitFigures({ fit, marks, printed }: FitProps) {
  const [x = 0, y = 0] = fit.moved_mm;
  return (
    <Stack>
      <Typography variant="h2">How it lies</Typography>
      <Figure words="Moved">
        {x.toFixed(2)}, {y.toFixed(2)} mm
      </Figure>
      <Figure words="Turned">{fit.turn_deg.toFixed(3)}°</Figure>
      <Figure words="Stretched across, along">
        {fit.stretch_x.toFixed(3)} %, {fit.stretch_y.toFixed(3)} %
      </Figure>
      <Figure words="Skewed">{fit.skew_deg.toFixed(3)}°</Figure>
      {fit.bend_mm !== 0 && <Figure words="Bent">{fit.bend_mm.toFixed(2)} mm</Figure>}
      {marks < TELLING ? (
        <Typography variant="body2">
          {marks} marks always fit: they prove nothing.{" "}
          {printed >= TELLING
            ? "Read a fourth one to see whether the cut lands right."
            : "This sheet has no fourth one: measure the first piece that is cut, and lay the next sheet out with four."}
        </Typography>
      ) : (
        <Figure words="Greatest residual">{fit.worst_mm.toFixed(3)} mm</Figure>
      )}
    </Stack>
  );
}
