/** Why a finding may stand, as a person says it. */
import { Button, Stack, TextField } from "@mui/material";
import { useState } from "react";
import { findings as say } from "../../texts/findings";

export function Reason({
  stop,
  busy,
  before,
  onSettle,
}: {
  stop: boolean;
  busy: boolean;
  before: string;
  onSettle: (reason: string) => void;
}) {
  const [reason, setReason] = useState(before);
  return (
    <Stack
      component="form"
      direction="row"
      spacing={1}
      sx={{ mt: 0.75 }}
      onSubmit={(event) => {
        event.preventDefault();
        onSettle(reason);
      }}
    >
      <TextField
        fullWidth
        multiline
        maxRows={4}
        label={stop ? say.whyMayThisPass : say.whyIsThisAllRight}
        value={reason}
        onChange={(e) => setReason(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter" && !e.shiftKey) {
            e.preventDefault();
            if (reason.trim().length > 2) onSettle(reason);
          }
        }}
      />
      <Button
        type="submit"
        variant="outlined"
        color={stop ? "error" : "primary"}
        disabled={busy || reason.trim().length < 3}
        sx={{ flex: "none" }}
      >
        {stop ? say.letItPass : say.accept}
      </Button>
    </Stack>
  );
}
