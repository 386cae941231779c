/** How the cut file gets to the cutter: on a stick, into its hot folder, or straight to its socket. */
import { Alert, Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { useHandOver } from "../api/benchChanges";
import type { Bed, LineFormat, Release } from "../api/client";
import { looks } from "../api/looks";
import { Choice } from "../ui/fields";
import { bench as say } from "../texts/bench";

const WORDS = Object.fromEntries(looks.formats.map(({ id, words }) => [id, words])) as Record<
  LineFormat,
  string
>;

export function HandOver({ made, bed }: { made: Release; bed: Bed }) {
  const hand = useHandOver(made.id, bed.side);
  const [chosen, setChosen] = useState<LineFormat>("hpgl");
  const format = bed.formats.includes(chosen) ? chosen : (bed.formats[0] ?? "hpgl");
  return (
    <Stack spacing={0.5}>
      <Typography variant="h2">{say.handTheCutFileOver}</Typography>
      {bed.formats.length > 1 && (
        <Typography variant="sentence">
          {say.inIt}
          <Choice
            label={say.formatOfTheCutFile}
            value={format}
            options={bed.formats.map((one) => [one, WORDS[one]] as const)}
            onChange={setChosen}
          />
        </Typography>
      )}
      <Stack direction="row" spacing={1}>
        <Button size="small" variant="outlined" href={`/api/bench/${made.id}/stick`}>
          {say.forAStick}
        </Button>
        <Button
          size="small"
          variant="outlined"
          disabled={hand.isPending}
          onClick={() => hand.mutate({ way: "hot-folder", format })}
        >
          {say.hotFolder}
        </Button>
        <Button
          size="small"
          variant="outlined"
          disabled={hand.isPending}
          onClick={() => hand.mutate({ way: "socket", format })}
        >
          {say.toTheDevice}
        </Button>
      </Stack>
      {hand.isSuccess && <Alert severity="success">{hand.data.words}</Alert>}
      <Failure of={hand.error} />
    </Stack>
  );
}
