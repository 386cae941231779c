/** Whether the cutter has found the marks, and whether it is the right sheet that lies there. */
import { Button, LinearProgress, Stack, Typography } from "@mui/material";
import { useNavigate } from "react-router";
import { useState } from "react";
import { useKnownHere, useMarksSaid, useScanAgain } from "../api/tabletChanges";
import type { AtCutter, Bed } from "../api/client";
import { isRunning } from "../api/progress";
import { Failure } from "../help/Failure";
import { tablet as say } from "../texts/tablet";

export function MarksStep({ at, bed, onDone }: { at: AtCutter; bed: Bed; onDone: () => void }) {
  const said = useMarksSaid(at.release.id);
  const known = useKnownHere(at.release.id);
  const scan = useScanAgain(at.release.id);
  const go = useNavigate();
  const [lost, setLost] = useState(false);
  if (isRunning(bed.work))
    return (
      <Stack spacing={2}>
        <Typography sx={{ fontSize: 24 }}>{say.looking}</Typography>
        <LinearProgress aria-label={say.looking} />
      </Stack>
    );
  const trouble = bed.aligned?.trouble ?? "";
  const found = bed.aligned?.marks.filter((mark) => mark.place !== null).length ?? 0;
  const again = () => {
    setLost(false);
    scan.mutate(bed.side);
  };
  return (
    <Stack spacing={2}>
      <Typography variant="h2" sx={{ fontSize: 26 }}>
        {say.marks}
      </Typography>
      {bed.code_of !== null ? (
        <>
          <Typography sx={{ fontSize: 24 }}>
            {say.isAnother(bed.code_read ?? "", bed.code_of_name)}
          </Typography>
          <Button
            variant="contained"
            onClick={() => void go(`/cutter/${encodeURIComponent(bed.code_read ?? "")}`)}
          >
            {say.loadThat(bed.code_of_name)}
          </Button>
        </>
      ) : (
        !bed.known && (
          <>
            <Typography sx={{ fontSize: 24 }}>{say.notKnown}</Typography>
            <Button variant="contained" disabled={known.isPending} onClick={() => known.mutate(bed.side)}>
              {say.thisIsIt}
            </Button>
          </>
        )
      )}
      <Typography sx={{ fontSize: 22 }}>
        {at.marks || bed.side === "back" ? say.foundAll(found) : say.noMarks}
      </Typography>
      {trouble && <Typography sx={{ fontSize: 22 }}>{trouble}</Typography>}
      {(lost || trouble) && <Typography>{say.whenLost}</Typography>}
      <Stack direction="row" spacing={2}>
        <Button
          variant="contained"
          sx={{ flex: 1 }}
          disabled={Boolean(trouble) || !bed.known || said.isPending}
          onClick={() => said.mutate("found", { onSuccess: onDone })}
        >
          {say.foundTheMarks}
        </Button>
        <Button
          variant="outlined"
          sx={{ flex: 1 }}
          disabled={said.isPending}
          onClick={() => said.mutate("lost", { onSuccess: () => setLost(true) })}
        >
          {say.didNot}
        </Button>
      </Stack>
      {(lost || trouble) && bed.camera && (
        <Button variant="outlined" disabled={scan.isPending} onClick={again}>
          {say.lookAgain}
        </Button>
      )}
      <Failure of={said.error ?? known.error ?? scan.error} />
    </Stack>
  );
}
