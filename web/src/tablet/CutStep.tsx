/** The cut: what it will stop for, begin, stop, done; where it has stopped, how far it had come. */
import { Box, Button, Slider, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useBeginHere, useOffHere, useStoodHere } from "../api/tabletChanges";
import type { AtCutter, Bed, Release } from "../api/client";
import { queries } from "../api/queries";
import { Failure } from "../help/Failure";
import { minutes } from "../ui/words";
import { bench } from "../texts/bench";
import { tablet as say } from "../texts/tablet";

interface Props {
  at: AtCutter;
  bed: Bed;
  sheet: NonNullable<Release["sheet"]>;
}

export function CutStep({ at, bed, sheet }: Props) {
  const begin = useBeginHere(at.release.id);
  const stood = useStoodHere(at.release.id);
  const off = useOffHere(at.release.id);
  const play = useQuery(queries.playback(at.release.id, bed.side, bed));
  const [at_s, setAt] = useState(bed.stood_s);
  const total = play.data?.total_s ?? at.time_s;
  const cutting = sheet.stage === "cutting";
  const cutBy = play.data?.pieces.filter((piece) => piece.at_s <= at_s).length ?? 0;
  const say_s = (stood_s: number) => stood.mutate({ side: bed.side, stood_s });
  const busy = begin.isPending || stood.isPending || off.isPending;
  const far = (
    <Box sx={{ px: 4 }}>
      <Slider
        value={at_s}
        max={total}
        step={0.1}
        aria-label={bench.timeLabel}
        onChange={(_, next) => setAt(next as number)}
        sx={{ "& .MuiSlider-thumb": { width: 44, height: 44 }, my: 2 }}
      />
    </Box>
  );
  return (
    <Stack spacing={2}>
      <Typography variant="h2" sx={{ fontSize: 26 }}>
        {cutting ? say.isCutting : say.cut}
      </Typography>
      {sheet.stage === "stopped" && (
        <Typography sx={{ fontSize: 22 }}>{say.stoppedWith(sheet.done.length, sheet.pieces)}</Typography>
      )}
      {at.pauses.length > 0 && (
        <Stack>
          <Typography sx={{ fontWeight: 700 }}>{say.pausesInOrder}</Typography>
          {at.pauses.map((pause) => (
            <Typography key={pause.before} sx={{ fontSize: 20 }}>
              {say.pause(pause.before, pause.words)}
            </Typography>
          ))}
        </Stack>
      )}
      {sheet.unsure && (
        <>
          <Typography sx={{ fontSize: 22 }}>{say.lookHowFar}</Typography>
          {far}
          <Button variant="contained" disabled={busy} onClick={() => say_s(Math.max(at_s, 0.1))}>
            {say.hadCome(cutBy, sheet.pieces)}
          </Button>
        </>
      )}
      {!cutting && !sheet.unsure && (
        <>
          <Typography>{say.takes(minutes(Math.max(0, total - bed.stood_s)))}</Typography>
          <Button variant="contained" disabled={busy} onClick={() => begin.mutate(bed.side)}>
            {bed.stood_s > 0 ? say.goOn : say.begin}
          </Button>
          <Button variant="outlined" disabled={busy} onClick={() => off.mutate(bed.side)}>
            {say.takeItOff}
          </Button>
        </>
      )}
      {cutting && (
        <>
          <Button variant="contained" disabled={busy} onClick={() => say_s(total)}>
            {say.isCut}
          </Button>
          <Typography>{say.howFar(cutBy, sheet.pieces)}</Typography>
          {far}
          <Button variant="outlined" color="error" disabled={busy} onClick={() => say_s(Math.max(at_s, 0.1))}>
            {say.stop}
          </Button>
        </>
      )}
      <Failure of={begin.error ?? stood.error ?? off.error} />
    </Stack>
  );
}
