/** How the artwork came to be what it is: every revision with its picture; compared, gone to, kept as a recipe. */
import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Stack,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { Failure } from "../../help/Failure";
import { useTake } from "../../api/changes";
import type { Job, Revision } from "../../api/client";
import { useBusy } from "../../api/progress";
import { RecipeDialog } from "../../shelf/RecipeDialog";
import { artOf } from "../../stage/Art";
import type { Box as Bounds } from "../../stage/geometry";
import { moment } from "../../ui/words";
import { proofWords } from "./proofWords";
import { stepsTo, whereFrom } from "./revisions";
import { common } from "../../texts/common";
import { mending as say } from "../../texts/mending";

const PICTURE_PX = 120;

export function History({ job, onClose }: { job: Job; onClose: () => void }) {
  const [, setParams] = useSearchParams();
  const [from, setFrom] = useState<number | null>(null);
  const [keeping, setKeeping] = useState<Revision | null>(null);
  const take = useTake(job.id);
  const busy = useBusy(job);
  const compare = (before: number, after: number) => {
    setParams(
      (params) => {
        params.set("show", "compare");
        params.set("before", String(before));
        params.set("after", String(after));
        return params;
      },
      { replace: true },
    );
    onClose();
  };
  if (keeping)
    return (
      <RecipeDialog
        start={{
          name: "",
          steps: stepsTo(job.revisions, keeping.number),
          customers: job.customer ? [job.customer] : [],
        }}
        onClose={() => setKeeping(null)}
      />
    );
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="history">
      <DialogTitle id="history">{say.historyOf(job.name)}</DialogTitle>
      <DialogContent>
        <Failure of={take.error} />
        <Typography variant="body2" color="text.secondary" sx={{ mb: 1 }}>
          {from === null ? say.nothingIsEverLostHere : say.revisionIsOnTheLeft(from)}
        </Typography>
        <Stack component="ol" spacing={1} sx={{ listStyle: "none", p: 0, m: 0 }}>
          {job.revisions.map((revision) => (
            <Stack
              key={revision.id}
              component="li"
              direction="row"
              spacing={1.5}
              data-revision={revision.number}
              aria-current={revision.current || undefined}
              sx={{
                p: 1,
                bgcolor: revision.current ? "#DDE8E8" : "#F4F4F4",
                borderLeft: "4px solid",
                borderColor: revision.current ? "primary.main" : "transparent",
              }}
            >
              <Small job={job} revision={revision} />
              <Box sx={{ flex: 1, minWidth: 0 }}>
                <Typography variant="subtitle1">
                  {revision.number}
                  {revision.current && say.thisIsTheOneThat}
                  {whereFrom(job.revisions, revision)}
                </Typography>
                <Typography variant="body2" sx={{ overflowWrap: "anywhere" }}>
                  {revision.said || say.asItCameFromThe}
                </Typography>
                <Typography variant="mono" color="text.secondary">
                  {moment(revision.created)}
                  {revision.proof && ` · ${proofWords(revision.proof)}`}
                </Typography>
                <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: "wrap", mt: 0.5 }}>
                  {!revision.current && (
                    <Button variant="outlined" disabled={busy} onClick={() => take.mutate(revision.number)}>
                      {say.goToThisOne}
                    </Button>
                  )}
                  {from === null ? (
                    <Button disabled={job.revisions.length < 2} onClick={() => setFrom(revision.number)}>
                      {say.compareWith}
                    </Button>
                  ) : (
                    <Button
                      variant="contained"
                      disabled={from === revision.number}
                      onClick={() => compare(from, revision.number)}
                    >
                      {say.compareWith2(from, revision.number)}
                    </Button>
                  )}
                  {stepsTo(job.revisions, revision.number).length > 0 && (
                    <Button onClick={() => setKeeping(revision)}>{say.keepTheWayHereAs}</Button>
                  )}
                </Stack>
              </Box>
            </Stack>
          ))}
        </Stack>
      </DialogContent>
      <DialogActions>
        {from !== null && <Button onClick={() => setFrom(null)}>{say.chooseAnotherLeftOne}</Button>}
        <Button onClick={onClose}>{common.close}</Button>
      </DialogActions>
    </Dialog>
  );
}

/** A revision, small. */
function Small({ job, revision }: { job: Job; revision: Revision }) {
  const media = (job.seen?.media_box_mm ?? job.media_box_mm) as Bounds | undefined;
  if (!media || media.length < 4) return <Box sx={{ width: PICTURE_PX, flex: "none" }} />;
  const longer = Math.max(media[2] - media[0], media[3] - media[1]);
  const source = artOf(job.id, revision.sha256, "seen", revision.number);
  return (
    <Box
      component="img"
      alt={say.revision(revision.number)}
      loading="lazy"
      src={source(media, (PICTURE_PX * 2 * 25.4) / longer)}
      sx={{ width: PICTURE_PX, height: PICTURE_PX, objectFit: "contain", flex: "none", bgcolor: "#fff" }}
    />
  );
}
