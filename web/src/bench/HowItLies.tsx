/** What code and marks say of a sheet before the cutter: whether it is the right one, and how it lies. */
import { Button, Stack, Typography } from "@mui/material";
import type { Bed } from "../api/client";
import { TELLING } from "../sheet/MarksPart";
import { Figure } from "../ui/Docket";
import { common } from "../texts/common";
import { bench as say } from "../texts/bench";

export function Code({ bed }: { bed: Bed }) {
  if (bed.side === "back") return null;
  if (!bed.code_meant)
    return (
      <Typography variant="body2" color="text.secondary">
        {say.withoutACodeTheCutter}
      </Typography>
    );
  if (bed.code_read === bed.code_meant)
    return <Typography variant="body2">{say.theCodeSaysItIs(bed.code_meant)}</Typography>;
  if (bed.code_of)
    return (
      <Button size="small" href={`/bench?release=${bed.code_of}`}>
        {say.fetchTheJobOf}
        {bed.code_read}
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
      <Typography variant="h2">{say.howItLies}</Typography>
      <Figure words={say.moved}>
        {x.toFixed(2)}, {y.toFixed(2)} mm
      </Figure>
      <Figure words={common.turned}>{fit.turn_deg.toFixed(3)}°</Figure>
      <Figure words={say.stretchedAcrossAlong}>
        {fit.stretch_x.toFixed(3)} %, {fit.stretch_y.toFixed(3)} %
      </Figure>
      <Figure words={say.skewed}>{fit.skew_deg.toFixed(3)}°</Figure>
      {fit.bend_mm !== 0 && <Figure words={say.bent}>{fit.bend_mm.toFixed(2)} mm</Figure>}
      {marks < TELLING ? (
        <Typography variant="body2">{say.marksAlwaysFitTheyProve(marks, printed >= TELLING)}</Typography>
      ) : (
        <Figure words={say.greatestResidual}>{fit.worst_mm.toFixed(3)} mm</Figure>
      )}
    </Stack>
  );
}
