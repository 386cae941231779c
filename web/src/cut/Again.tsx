/** A part of the sheet again, when a piece was spoilt: only these copies, by the numbers on the stage. */
import { Button, Stack, TextField } from "@mui/material";
import { useState } from "react";
import type { Job } from "../api/client";
import { useJobChange } from "../api/changes";
import { copiesIn, runsWords } from "./time";
import { cut as say } from "../texts/cut";

export function Again({ job, count }: { job: Job; count: number }) {
  const change = useJobChange(job.id);
  const kept = job.layout.cut_copies;
  const [text, setText] = useState(kept ? runsWords(kept) : "");
  const found = copiesIn(text, count);
  const wrong = typeof found === "string";
  const changed = JSON.stringify(found) !== JSON.stringify(kept);
  return (
    <Stack
      direction="row"
      spacing={1}
      component="form"
      sx={{ alignItems: "flex-start" }}
      onSubmit={(event) => {
        event.preventDefault();
        if (!wrong) change.mutate({ cut_copies: found });
      }}
    >
      <TextField
        label={say.onlyTheCopies}
        placeholder={say.all(count)}
        value={text}
        error={wrong}
        helperText={wrong ? say.isNoneOfThe1(found, count) : say.numbersAsOnTheStage}
        slotProps={{ inputLabel: { shrink: true } }}
        onChange={(event) => setText(event.target.value)}
        sx={{ flex: 1 }}
      />
      {changed && !wrong && (
        <Button type="submit" variant="contained">
          {found ? say.cutThese : say.cutAll}
        </Button>
      )}
    </Stack>
  );
}
