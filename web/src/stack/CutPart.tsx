/** The cut jobs of a stack in their order: what is laid before each, how deep it goes, and its test cut. */
import { Row } from "../ui/Row";
import { Button, Stack, Typography } from "@mui/material";
import { Failure } from "../help/Failure";
import type { FabricLayer, Job, SeenOutcome, StackShown, StackWanted } from "../api/client";
import { testFile, useFabricTest } from "../api/stacks";
import { metres, minutes } from "../ui/words";
import { changed } from "./wanted";
import { common } from "../texts/common";
import { stack as say } from "../texts/stack";

interface Props {
  job: Job;
  stack: StackWanted;
  shown: StackShown;
  onForce: (layer: number, force_gf: number, passed: boolean) => void;
}

/** What is seen when the figure of a test cut is weeded from fabric. */
const FABRIC_SEEN: [SeenOutcome, string, string][] = [
  ["too-shallow", say.hangsOn, say.theFigureHangsOnBy],
  ["right", common.right, say.theFigureComesAwayAnd],
  ["into-the-liner", say.intoTheOneBelow, say.theFigureComesAwayAndWhat],
  ["through", say.rightThrough, say.whatLiesBelowIsCut],
];
const WORDS = Object.fromEntries(FABRIC_SEEN.map(([seen, , words]) => [seen, words]));

export function CutPart({ job, stack, shown, onForce }: Props) {
  const jobs = [...shown.layers].sort((a, b) => a.cut_as - b.cut_as);
  return (
    <Stack spacing={1.5}>
      <Typography variant="body2" color="text.secondary">
        {say.oneJobALayerThe}
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
        {say.cutGoMDeepM(
          metres(layer.cut_mm),
          minutes(layer.time_s),
          layer.force_gf === null ? say.theMachinesOwnForce : `${layer.force_gf} gf`,
          layer.reaches_um.toFixed(0),
          layer.own_um.toFixed(0),
        )}
      </Typography>
      <Row spacing={1}>
        <Button size="small" disabled={test.isPending} onClick={() => test.mutate(stack)}>
          {found ? say.cutTheFigureAgain : say.testCut}
        </Button>
        <Button size="small" onClick={() => void save()} aria-label={say.theFileOfSTest(layer.name)}>
          {say.itsFile}
        </Button>
      </Row>
      <Failure of={test.error} />
      {found && (
        <>
          <Typography variant="body2" role="status">
            {found.force_gf === null ? say.theMachinesOwnForce2 : `${found.force_gf} gf`}: {WORDS[found.seen]}
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
