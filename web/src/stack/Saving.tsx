/** What is kept of a stack, the one press that writes its files, and what was not tried yet. */
import { Button, Link as Href, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import { Failure } from "../help/Failure";
import type { Job, StackShown, StackWanted } from "../api/client";
import { useBusy } from "../api/progress";
import { useWriteStack, type useKeepStack } from "../api/stacks";
import type { useStack } from "./useStack";
import { common } from "../texts/common";
import { stack as say } from "../texts/stack";

/** What is kept, and the one press that writes the files. */
export function Saving({
  job,
  stack,
  held,
  keep,
  made,
}: {
  job: Job;
  stack: StackWanted;
  held: ReturnType<typeof useStack>;
  keep: ReturnType<typeof useKeepStack>;
  made: StackShown | null;
}) {
  const write = useWriteStack(job.id);
  const busy = useBusy(job);
  const current = held.isKept ? job.stacks.find((one) => one.current) : undefined;
  const both = () => (held.isKept ? write.mutate() : keep.mutate(stack, { onSuccess: () => write.mutate() }));
  const fault = keep.error ?? write.error;
  return (
    <Stack spacing={1}>
      <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: "wrap", alignItems: "center" }}>
        {current ? (
          <Button
            variant="contained"
            component={Link}
            to={`/bench?stack=${current.id}`}
            aria-label={say.goToTheBenchWith}
          >
            {say.goToTheBench}
          </Button>
        ) : (
          <Button
            variant="contained"
            disabled={busy || !made || keep.isPending || write.isPending}
            onClick={both}
          >
            {say.writeTheFiles}
          </Button>
        )}
        {!held.isKept && (
          <Button disabled={keep.isPending || !made} onClick={() => keep.mutate(stack)}>
            {say.keepIt}
          </Button>
        )}
        <Button disabled={!held.canUndo} onClick={held.undo}>
          {common.undo}
        </Button>
        <Button disabled={!held.canRedo} onClick={held.redo}>
          {say.redo}
        </Button>
      </Stack>
      <Failure of={fault} />
      {current && (
        <Typography variant="body2" component="div">
          {say.writtenAtMostMmFrom(current.worst_off_mm.toFixed(3))}
          {current.files.map((file) => (
            <span key={file.name}>
              <Href href={`/api/stacks/${current.id}/files/${encodeURIComponent(file.name)}`}>
                {file.name}
              </Href>{" "}
            </span>
          ))}
          <Href href={`/api/stacks/${current.id}/stick`}>{say.allOfThemZip}</Href>
        </Typography>
      )}
    </Stack>
  );
}

/** Which fabrics nobody has cut a figure in yet: their force is only worked out. */
export function Untested({ stack, onTest }: { stack: StackWanted; onTest: () => void }) {
  const left = stack.layers.filter((one) => !one.passed).map((one) => one.name);
  if (!left.length) return null;
  return (
    <Typography variant="body2" color="text.secondary">
      {say.notTestCutYet(left.join(", "))}
      <Button onClick={onTest}>{say.testCut2}</Button>
    </Typography>
  );
}
