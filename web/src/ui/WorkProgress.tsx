/** How far a piece of long work is, with the button that stops it. */
import { Button, LinearProgress, Stack, Typography } from "@mui/material";
import { useCancel } from "../api/changes";
import type { Work } from "../api/client";
import { isRunning } from "../api/progress";
import { WORK_WORDS } from "./words";
import { common } from "../texts/common";
import { ui as say } from "../texts/ui";

export function WorkProgress({ work }: { work: Work | null }) {
  const cancel = useCancel();
  if (!work || !isRunning(work)) return null;
  return (
    <Stack
      direction="row"
      spacing={1.5}
      sx={{ alignItems: "center", flex: "none", height: 28 }}
      role="status"
    >
      <Typography variant="body2" sx={{ width: 230, textAlign: "right" }} noWrap>
        {WORK_WORDS[work.kind]}: {work.what}
      </Typography>
      <LinearProgress
        variant="determinate"
        value={work.share * 100}
        sx={{ width: 150 }}
        aria-label={say.progressLabel}
      />
      <Button onClick={() => cancel.mutate(work.id)} sx={{ py: 0, minHeight: 26 }}>
        {common.stop}
      </Button>
    </Stack>
  );
}
