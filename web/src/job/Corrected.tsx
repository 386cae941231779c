/** A corrected file, laid over the one before: what changed, with places, and what was done by hand on the old one. */
import { Box, Button, LinearProgress, Stack, Typography } from "@mui/material";
import { useMemo } from "react";
import { useRedo } from "../api/changes";
import type { Corrected as Shown, FileChange, Job } from "../api/client";
import { Failure } from "../help/Failure";
import { Row, Spacer } from "../ui/Row";
import { useViewState } from "./viewState";
import { pile as say } from "../texts/pile";

interface Props {
  job: Job;
  corrected: Shown;
  busy: boolean;
  chosen: FileChange | null;
  onChoose: (change: FileChange | null) => void;
}

export function Corrected({ job, corrected, busy, chosen, onChoose }: Props) {
  const { get, set } = useViewState();
  const { changes } = corrected;
  const over = get("show") === "compare";
  return (
    <Stack component="section" aria-label={say.correctedFile} spacing={0.75} data-testid="corrected">
      <Row>
        <Typography variant="h2">{say.correctedFile}</Typography>
        <Spacer />
        {corrected.now > 0 && (
          <Button
            variant={over ? "contained" : "outlined"}
            aria-pressed={over}
            onClick={() =>
              set(
                over
                  ? { show: null, before: null, after: null }
                  : { show: "compare", before: String(corrected.before), after: String(corrected.now) },
              )
            }
          >
            {say.showBoth}
          </Button>
        )}
      </Row>
      {!changes && !corrected.error && <LinearProgress aria-label={say.comparing} />}
      {corrected.error && <Typography variant="body2">{say.couldNotCompare(corrected.error)}</Typography>}
      {changes && (
        <Typography variant="body2">
          {changes.length
            ? say.changedSince(changes.length, corrected.file)
            : say.sameAsBefore(corrected.file)}
        </Typography>
      )}
      {changes?.map((change) => (
        <Change
          key={change.words}
          change={change}
          chosen={change === chosen}
          onChoose={() => onChoose(change === chosen ? null : change)}
        />
      ))}
      <Redo job={job} corrected={corrected} busy={busy} />
    </Stack>
  );
}

function Change({ change, chosen, onChoose }: { change: FileChange; chosen: boolean; onChoose: () => void }) {
  if (!change.where.length)
    return (
      <Typography variant="body2" data-change={change.kind} sx={{ pl: 1.5 }}>
        {change.words}
      </Typography>
    );
  return (
    <Button
      data-change={change.kind}
      aria-pressed={chosen}
      title={say.showPlace(change.words)}
      onClick={onChoose}
      sx={{ justifyContent: "start", textAlign: "left", bgcolor: chosen ? "#EEF3F3" : undefined, py: 0.25 }}
    >
      {change.words}
    </Button>
  );
}

/** What was done by hand on the file before, step by step or all at once; each is proved on this one. */
function Redo({ job, corrected, busy }: { job: Job; corrected: Shown; busy: boolean }) {
  const redo = useRedo(job.id);
  const left = useMemo(() => corrected.redo.flatMap((step, i) => (step.done ? [] : [i])), [corrected.redo]);
  if (!corrected.redo.length) return null;
  return (
    <Box>
      <Typography variant="subtitle2">{say.redo}</Typography>
      {corrected.redo.map((step, i) => (
        <Row key={i} spacing={1}>
          <Typography variant="body2">{step.mend.label}</Typography>
          <Spacer />
          {step.done ? (
            <Typography variant="body2" color="text.secondary">
              {say.doneAgain}
            </Typography>
          ) : (
            <Button
              disabled={busy || redo.isPending}
              aria-label={say.redoThis(step.mend.label)}
              onClick={() => redo.mutate([i])}
            >
              {say.redoOne}
            </Button>
          )}
        </Row>
      ))}
      {left.length > 1 && (
        <Button
          variant="outlined"
          fullWidth
          disabled={busy || redo.isPending}
          onClick={() => redo.mutate(left)}
        >
          {say.redoAll(left.length)}
        </Button>
      )}
      <Failure of={redo.error} />
    </Box>
  );
}
