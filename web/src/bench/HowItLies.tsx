/** What code and marks say of a sheet before the cutter: whether it is the right one, and how it lies. */
import { Button, Stack, Typography } from "@mui/material";
import { useNavigate } from "react-router";
import { useKnown, useLoad } from "../api/benchChanges";
import type { Bed } from "../api/client";
import { Failure } from "../help/Failure";
import { TELLING } from "../sheet/MarksPart";
import { Figure } from "../ui/Docket";
import { common } from "../texts/common";
import { bench as say } from "../texts/bench";
import { queues } from "../texts/queues";

export function Code({ bed }: { bed: Bed }) {
  const known = useKnown(bed.release_id, bed.side);
  if (bed.code_of !== null) return <AnotherSheet bed={bed} of={bed.code_of} />;
  if (!bed.known)
    return (
      <Stack spacing={1} sx={{ alignItems: "flex-start" }}>
        <Typography>{queues.notKnown}</Typography>
        <Button variant="contained" disabled={known.isPending} onClick={() => known.mutate()}>
          {queues.thisIsIt}
        </Button>
        <Failure of={known.error} />
      </Stack>
    );
  if (bed.side === "back") return null;
  if (!bed.code_meant)
    return (
      <Typography variant="body2" color="text.secondary">
        {say.withoutACodeTheCutter}
      </Typography>
    );
  if (bed.code_read === bed.code_meant)
    return <Typography variant="body2">{say.theCodeSaysItIs(bed.code_meant)}</Typography>;
  if (bed.known) return <Typography variant="body2">{queues.knownByEye}</Typography>;
  return null;
}

/** The code is another job's: which it is, and whether that is to be cut now that its sheet lies there. */
function AnotherSheet({ bed, of }: { bed: Bed; of: number }) {
  const load = useLoad(of);
  const go = useNavigate();
  return (
    <Stack spacing={1} role="alert" sx={{ p: 1.5, border: "2px solid #222", alignItems: "flex-start" }}>
      <Typography>{queues.isAnother(bed.code_read ?? "", bed.code_of_name)}</Typography>
      <Button
        variant="contained"
        disabled={load.isPending || !bed.laying}
        onClick={() =>
          bed.laying && load.mutate(bed.laying, { onSuccess: () => void go(`/bench?release=${of}`) })
        }
      >
        {queues.loadThat(bed.code_of_name)}
      </Button>
      <Failure of={load.error} />
    </Stack>
  );
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
