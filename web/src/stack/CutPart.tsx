/** The cut jobs of a stack in their order: what is laid before each, how deep it goes, and its test cut. */
import { Row } from "../ui/Row";
import { Button, Stack, Typography } from "@mui/material";
import { Failure } from "../help/Failure";
import type { FabricLayer, Job, SeenOutcome, StackShown, StackWanted } from "../api/client";
import { testFile, useFabricTest } from "../api/stacks";
import { metres, minutes } from "../ui/words";
import { changed } from "./wanted";

interface Props {
  job: Job;
  stack: StackWanted;
  shown: StackShown;
  onForce: (layer: number, force_gf: number, passed: boolean) => void;
}

/** What is seen when the figure of a test cut is weeded from fabric. */
const FABRIC_SEEN: [SeenOutcome, string, string][] = [
  ["too-shallow", "Hangs on", "the figure hangs on by threads."],
  ["right", "Right", "the figure comes away, and what lies below is whole."],
  ["into-the-liner", "Into the one below", "the figure comes away, and what lies below is cut into."],
  ["through", "Right through", "what lies below is cut through as well."],
];
const WORDS = Object.fromEntries(FABRIC_SEEN.map(([seen, , words]) => [seen, words]));

export function CutPart({ job, stack, shown, onForce }: Props) {
  const jobs = [...shown.layers].sort((a, b) => a.cut_as - b.cut_as);
  return (
    <Stack spacing={1.5}>
      <Typography variant="body2" color="text.secondary">
        One job a layer, the lowest first. The origin is set once; the cutter parks there and comes back to
        it.
      </Typography>
      {jobs.map((layer) => (
        <OneCut key={layer.number} job={job} stack={stack} layer={layer} onForce={onForce} />
      ))}
    </Stack>
  );
}

function OneCut({
  job,
  stack,
  layer,
  onForce,
}: Omit<Props, "shown"> & {
  layer: FabricLayer;
}) {
  const test = useFabricTest(job, layer.number);
  const found = test.data;
  const save = async () => {
    const link = document.createElement("a");
    link.href = URL.createObjectURL(await testFile(job, stack, layer.number));
    link.download = `test-${layer.name}.plt`;
    link.click();
    URL.revokeObjectURL(link.href);
  };
  return (
    <Stack spacing={0.5} data-cut-job={layer.name} sx={{ pl: 1, borderLeft: `6px solid ${layer.colour}` }}>
      <Typography variant="subtitle1">
        {layer.cut_as}. {layer.name}, {layer.fabric.toLowerCase()}
      </Typography>
      <Typography variant="body2">{layer.lay}</Typography>
      <Typography variant="body2" color="text.secondary">
        {metres(layer.cut_mm)} cut, {minutes(layer.time_s)};{" "}
        {layer.force_gf === null ? "the machine’s own force" : `${layer.force_gf} gf`} go{" "}
        {layer.reaches_um.toFixed(0)} µm deep, {layer.own_um.toFixed(0)} µm are its own
      </Typography>
      <Row spacing={1}>
        <Button size="small" disabled={test.isPending} onClick={() => test.mutate(stack)}>
          {found ? "Cut the figure again" : "Test cut"}
        </Button>
        <Button size="small" onClick={() => void save()} aria-label={`The file of ${layer.name}’s test cut`}>
          its file
        </Button>
      </Row>
      <Failure of={test.error} />
      {found && (
        <>
          <Typography variant="body2" role="status">
            {found.force_gf === null ? "The machine’s own force" : `${found.force_gf} gf`}:{" "}
            {WORDS[found.seen]}
          </Typography>
          <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap" }}>
            {found.corrected_gf &&
              FABRIC_SEEN.map(([seen, label]) => (
                <Button
                  key={seen}
                  size="small"
                  variant={seen === found.seen ? "contained" : "outlined"}
                  aria-label={`${layer.name}: ${label.toLowerCase()}`}
                  onClick={() => {
                    const force_gf = found.corrected_gf?.[seen];
                    if (force_gf === undefined) return;
                    onForce(layer.number, force_gf, seen === "right");
                    if (seen === "right") test.reset();
                    else
                      test.mutate({
                        ...stack,
                        layers: changed(stack.layers, layer.number, { force_gf, passed: false }),
                      });
                  }}
                >
                  {label}
                </Button>
              ))}
          </Stack>
        </>
      )}
    </Stack>
  );
}
