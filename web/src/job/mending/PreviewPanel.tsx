/** What a mend would come to, over the stage: said, proved, to be done or left. */
import { Button, LinearProgress, Stack, Typography } from "@mui/material";
import { useCancel } from "../../api/changes";
import { isRunning } from "../../api/progress";
import { proofWords } from "./proofWords";
import type { Previewing } from "./previewing";
import { common } from "../../texts/common";
import { mending as say } from "../../texts/mending";

export function PreviewPanel({ previewing, busy }: { previewing: Previewing; busy: boolean }) {
  const cancel = useCancel();
  const { mend, work, looked, error } = previewing;
  if (!mend) return null;
  return (
    <Stack
      spacing={0.75}
      role="region"
      aria-label={say.lookingAheadLabel}
      sx={{
        position: "absolute",
        bottom: 34,
        left: 34,
        right: 12,
        bgcolor: "rgba(255,255,255,.96)",
        borderTop: "3px solid",
        borderColor: "primary.main",
        p: 1.25,
        maxHeight: "40%",
        overflowY: "auto",
      }}
    >
      <Typography variant="subtitle1">
        {looked ? say.itWouldLookLikeThis : say.lookingAhead}: {mend.label}
      </Typography>
      {isRunning(work) && <LinearProgress variant="determinate" value={(work?.share ?? 0) * 100} />}
      {error && (
        <Typography color="error" role="alert">
          {error}
        </Typography>
      )}
      {looked && (
        <>
          <Typography variant="body2">{looked.said}</Typography>
          <Typography variant="mono" color="text.secondary">
            {proofWords(looked.proof)}
          </Typography>
        </>
      )}
      <Stack direction="row" spacing={1}>
        {looked && (
          <Button variant="contained" disabled={busy} onClick={previewing.carryOut}>
            {say.doIt}
          </Button>
        )}
        <Button
          variant="outlined"
          onClick={() => {
            if (work && isRunning(work)) cancel.mutate(work.id);
            previewing.leave();
          }}
        >
          {looked || error ? common.leaveIt : common.stop}
        </Button>
      </Stack>
    </Stack>
  );
}
