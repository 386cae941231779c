/** How the cut file gets to the cutter: on a stick, into its hot folder, or straight to its socket. */
import { Alert, Button, Stack, Typography } from "@mui/material";
import { Failure } from "../help/Failure";
import { useHandOver } from "../api/benchChanges";
import type { Bed, Release } from "../api/client";

export function HandOver({ made, bed }: { made: Release; bed: Bed }) {
  const hand = useHandOver(made.id, bed.side);
  return (
    <Stack spacing={0.5}>
      <Typography variant="h2">Hand the cut file over</Typography>
      <Stack direction="row" spacing={1}>
        <Button size="small" variant="outlined" href={`/api/bench/${made.id}/stick`}>
          For a stick
        </Button>
        <Button
          size="small"
          variant="outlined"
          disabled={hand.isPending}
          onClick={() => hand.mutate("hot-folder")}
        >
          Hot folder
        </Button>
        <Button
          size="small"
          variant="outlined"
          disabled={hand.isPending}
          onClick={() => hand.mutate("socket")}
        >
          To the device
        </Button>
      </Stack>
      {hand.isSuccess && <Alert severity="success">{hand.data.words}</Alert>}
      <Failure of={hand.error} />
    </Stack>
  );
}
