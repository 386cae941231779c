/** How the cut file gets to the cutter: on a stick, into its hot folder, or straight to its socket. */
import { Alert, Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { useHandOver } from "../api/benchChanges";
import type { Bed, LineFormat, Release } from "../api/client";
import { looks } from "../api/looks";
import { Choice } from "../ui/fields";

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
      <Typography variant="h2">Hand the cut file over</Typography>
      {bed.formats.length > 1 && (
        <Typography variant="sentence">
          in{" "}
          <Choice
            label="format of the cut file"
            value={format}
            options={bed.formats.map((one) => [one, WORDS[one]] as const)}
            onChange={setChosen}
          />
        </Typography>
      )}
      <Stack direction="row" spacing={1}>
        <Button size="small" variant="outlined" href={`/api/bench/${made.id}/stick`}>
          For a stick
        </Button>
        <Button
          size="small"
          variant="outlined"
          disabled={hand.isPending}
          onClick={() => hand.mutate({ way: "hot-folder", format })}
        >
          Hot folder
        </Button>
        <Button
          size="small"
          variant="outlined"
          disabled={hand.isPending}
          onClick={() => hand.mutate({ way: "socket", format })}
        >
          To the device
        </Button>
      </Stack>
      {hand.isSuccess && <Alert severity="success">{hand.data.words}</Alert>}
      <Failure of={hand.error} />
    </Stack>
  );
}
