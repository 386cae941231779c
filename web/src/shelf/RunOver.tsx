/** Runs a recipe over chosen jobs, and says of each how far it is and what became of it. */
import { Row } from "../ui/Row";
import {
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  LinearProgress,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useInfiniteQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { Failure } from "../help/Failure";
import { useCancel } from "../api/changes";
import { useRunRecipe } from "../api/shelfChanges";
import type { JobRow, Recipe, RunOver as Run } from "../api/client";
import { isRunning, useWork } from "../api/progress";
import { queries } from "../api/queries";
import { common } from "../texts/common";
import { shelf as say } from "../texts/shelf";

export function RunOver({ recipe, onClose }: { recipe: Recipe; onClose: () => void }) {
  const [search, setSearch] = useState("");
  const [chosen, setChosen] = useState<ReadonlyMap<number, JobRow>>(new Map());
  const jobs = useInfiniteQuery(queries.desk("all", search.trim()));
  const run = useRunRecipe();
  const listed = (jobs.data?.pages.flat() ?? []).filter((job) => job.verdict);
  const fits = (job: JobRow) => !recipe.customers.length || recipe.customers.includes(job.customer);
  const toggle = (job: JobRow) => {
    const next = new Map(chosen);
    if (!next.delete(job.id)) next.set(job.id, job);
    setChosen(next);
  };
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="run">
      <DialogTitle id="run">{say.runVersion(recipe.name, recipe.version)}</DialogTitle>
      <DialogContent>
        <Typography variant="body2" color="text.secondary">
          {recipe.steps.map((step) => step.label).join(" · ")}
        </Typography>
        <Failure of={run.error} />
        {run.data ? (
          <Stack spacing={1} sx={{ mt: 1.5 }} role="status" aria-label={say.whatBecameOfIt}>
            {run.data.map((one) => (
              <Outcome key={one.job_id} run={one} />
            ))}
          </Stack>
        ) : (
          <>
            <Stack direction="row" spacing={1} sx={{ my: 1.5, alignItems: "center" }}>
              <TextField label={say.search} value={search} onChange={(e) => setSearch(e.target.value)} />
              <Button
                onClick={() => setChosen(new Map(listed.filter(fits).map((job) => [job.id, job])))}
                disabled={!listed.some(fits)}
              >
                {say.chooseAllThatFit}
              </Button>
              <Button onClick={() => setChosen(new Map())} disabled={!chosen.size}>
                {say.none}
              </Button>
            </Stack>
            {!listed.length && !jobs.isPending && (
              <Typography variant="body2">{say.noJobThatWasChecked}</Typography>
            )}
            {listed.map((job) => (
              <Box key={job.id}>
                <FormControlLabel
                  control={
                    <Checkbox size="small" checked={chosen.has(job.id)} onChange={() => toggle(job)} />
                  }
                  label={`${job.name}${job.customer ? ` · ${job.customer}` : ""} · ${job.holds}`}
                />
              </Box>
            ))}
            {jobs.hasNextPage && <Button onClick={() => void jobs.fetchNextPage()}>{say.showMore}</Button>}
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{common.close}</Button>
        {!run.data && (
          <Button
            variant="contained"
            disabled={!chosen.size || run.isPending}
            onClick={() =>
              run.mutate({
                recipe: recipe.id,
                jobs: [...chosen.values()].map((job) => ({ id: job.id, version: job.version })),
              })
            }
          >
            {say.runItOverJob(chosen.size)}
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}

interface Result {
  skipped?: { label: string; why: string }[];
  refused?: { label: string; why: string }[];
}

function Outcome({ run }: { run: Run }) {
  const work = useWork(run.work?.id);
  const cancel = useCancel();
  const now = work.data ?? run.work;
  const result = (now?.result ?? {}) as Result;
  const refused = result.refused ?? [];
  return (
    <Box sx={{ bgcolor: "#F4F4F4", p: 1 }} data-outcome={run.job_id}>
      <Row spacing={1}>
        <Typography sx={{ fontWeight: 700, flex: 1 }}>
          <Link to={`/jobs/${run.job_id}/check`} style={{ color: "inherit" }}>
            {run.name}
          </Link>
        </Typography>
        {now && isRunning(now) && <Button onClick={() => cancel.mutate(now.id)}>{common.stop}</Button>}
      </Row>
      {run.why && <Typography color="error">{run.why}</Typography>}
      {now && isRunning(now) && (
        <>
          <Typography variant="body2">{now.what}</Typography>
          <LinearProgress variant="determinate" value={now.share * 100} />
        </>
      )}
      {now?.state === "failed" && <Typography color="error">{now.error}</Typography>}
      {now?.state === "cancelled" && <Typography>{say.stoppedItStaysAsIt}</Typography>}
      {now?.state === "done" && (
        <Typography variant="body2">
          {say.done(result.skipped?.length ? say.stepHadNothingToDo(result.skipped.length) : "")}
        </Typography>
      )}
      {refused.map((one) => (
        <Typography key={one.label} variant="body2" color="error">
          {say.setAside(one.label, one.why)}
        </Typography>
      ))}
    </Box>
  );
}
