/** All letters that went out, the latest first. */
import { LinearProgress, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { pileQueries } from "../api/pileQueries";
import { Failure } from "../help/Failure";
import { LetterList } from "./LetterList";
import { common } from "../texts/common";
import { customers as say } from "../texts/customers";

export function Outbox() {
  const letters = useQuery(pileQueries.letters());
  return (
    <Stack spacing={1.5} sx={{ px: 3, py: 2, maxWidth: 980 }}>
      <Typography variant="h1">{say.lettersTitle}</Typography>
      <Typography variant="body2" color="text.secondary">
        {say.lettersSay}
      </Typography>
      {letters.isPending && <LinearProgress aria-label={common.loadingLabel} />}
      <Failure of={letters.error} />
      {letters.data?.length === 0 && <Typography>{say.noLetters}</Typography>}
      <LetterList letters={letters.data ?? []} />
    </Stack>
  );
}
