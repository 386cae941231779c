/** The bench: the simulated RIP with its plates, the cutter with its run, stacks of fabric with cutter and sewing machine. */
import {
  Alert,
  Button,
  FormControlLabel,
  LinearProgress,
  Radio,
  RadioGroup,
  Stack,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { Failure } from "../help/Failure";
import type { Release, RipReport } from "../api/client";
import { useQuery } from "@tanstack/react-query";
import { useRip } from "../api/benchChanges";
import { queries } from "../api/queries";
import { queueQueries } from "../api/queueChanges";
import { stackQueries } from "../api/stacks";
import { ChoiceRow } from "../ui/ChoiceRow";
import { Cutter } from "./Cutter";
import { QueueActions } from "./QueueActions";
import { Queues } from "./Queues";
import { RipDoes } from "./RipDoes";
import { Plates, sheetOf, SheetPicture } from "./Plates";
import { StackBench } from "./StackBench";
import { machineOf, stateOf, type Machine } from "./states";
import { common } from "../texts/common";
import { bench as say } from "../texts/bench";
import { queues as queueWords } from "../texts/queues";

const hours = (h: number) => (h < 1 ? `${h * 60} min` : `${h} h`);

export function Bench() {
  const [params, setParams] = useSearchParams();
  const bench = useQuery(queries.bench());
  /** The machine that somebody has chosen for a sheet; until then it is the one that the sheet waits for. */
  const [picked, setPicked] = useState<{ id: number; machine: Machine } | null>(null);
  const stacks = useQuery(stackQueries.packages());
  const queues = useQuery(queueQueries.queues());
  const listed = bench.data ?? [];
  const stacked = stacks.data ?? [];
  const stack =
    stacked.find((made) => made.id === Number(params.get("stack"))) ??
    (params.has("release") || listed.length ? undefined : stacked[0]);
  const chosen = stack
    ? undefined
    : (listed.find((made) => made.id === Number(params.get("release"))) ?? listed[0]);
  const machine = chosen && (picked?.id === chosen.id ? picked.machine : machineOf(chosen));
  if (bench.isPending || stacks.isPending) return <LinearProgress aria-label={common.loadingLabel} />;
  if (bench.isError) return <Failure of={bench.error} alone />;
  if (!listed.length && !stacked.length)
    return (
      <Typography sx={{ p: 6, textAlign: "center" }} color="text.secondary">
        {say.nothingWaitsReleaseAJob}
      </Typography>
    );
  return (
    <Stack direction="row" sx={{ height: "100%" }}>
      <Stack
        component="nav"
        aria-label={say.releasedJobsLabel}
        spacing={0.5}
        sx={{ width: 320, flex: "none", p: 1, overflowY: "auto", bgcolor: "background.paper" }}
      >
        <Typography variant="h2" sx={{ p: 1 }}>
          {say.bench}
        </Typography>
        {queues.data && (
          <Queues
            queues={queues.data}
            listed={listed}
            chosen={chosen?.id ?? null}
            onChoose={(release, at) => {
              setParams({ release: String(release) });
              setPicked(picked?.id === release ? picked : { id: release, machine: at });
            }}
          />
        )}
        <Failure of={queues.error} />
        {stacked.map((made) => (
          <ChoiceRow
            key={`stack ${made.id}`}
            name={made.job_name}
            chosen={made.id === stack?.id}
            onChoose={() => setParams({ stack: String(made.id) })}
          >
            {say.stackOfLayerCut(made.id, made.cut, made.layers.length)}
          </ChoiceRow>
        ))}
      </Stack>
      {stack && <StackBench key={stack.id} made={stack} />}
      {chosen && (
        <Stack sx={{ flex: 1, minWidth: 0 }}>
          <Stack direction="row" spacing={2} sx={{ p: 1, alignItems: "center", bgcolor: "background.paper" }}>
            <ToggleButtonGroup
              size="small"
              exclusive
              value={machine}
              onChange={(_, next: Machine | null) => next && setPicked({ id: chosen.id, machine: next })}
              aria-label={say.machineLabel}
            >
              <ToggleButton value="rip" disabled={chosen.makes === "cut"}>
                {say.rip}
              </ToggleButton>
              <ToggleButton value="cutter" disabled={chosen.makes === "print"}>
                {say.cutter}
              </ToggleButton>
            </ToggleButtonGroup>
            <Typography noWrap>{chosen.job_name}</Typography>
            <Typography variant="body2" color="text.secondary" data-testid="state" sx={{ flex: 1 }}>
              {say.simulatedMachines(stateOf(chosen))}
            </Typography>
            {machine && <QueueActions key={`${chosen.id} ${machine}`} made={chosen} machine={machine} />}
          </Stack>
          {machine === "rip" ? <Rip made={chosen} /> : <Cutter key={chosen.id} made={chosen} />}
        </Stack>
      )}
    </Stack>
  );
}

function Rip({ made }: { made: Release }) {
  const rip = useRip();
  const [preset, setPreset] = useState(made.usual_preset);
  const [report, setReport] = useState<RipReport | null>(null);
  if (made.rip_state === "waiting")
    return (
      <Stack direction="row" sx={{ flex: 1, minHeight: 0 }}>
        <SheetPicture made={made} of={sheetOf(made)} label={say.theSheet} />
        <Stack
          spacing={2}
          sx={{ width: 340, p: 2, alignItems: "flex-start", bgcolor: "background.paper", overflowY: "auto" }}
        >
          <Typography variant="h2">{say.itWaitsForThePrinter}</Typography>
          <Typography variant="body2">{say.chooseTheHotFolderThat}</Typography>
          <RadioGroup value={preset} onChange={(_, next) => setPreset(next)} aria-label={say.hotFolderLabel}>
            {made.presets.map((one) => (
              <FormControlLabel
                key={one.id}
                value={one.id}
                control={<Radio size="small" />}
                label={say.ppiPassesDryAfterBefore(
                  one.title,
                  one.profile,
                  one.ppi,
                  one.passes,
                  hours(one.dry_h),
                  hours(one.laminate_h),
                )}
              />
            ))}
          </RadioGroup>
          <RipDoes report={report} onChange={setReport} />
          <Button
            variant="contained"
            size="medium"
            disabled={rip.isPending || rip.isSuccess || made.held}
            onClick={() => rip.mutate({ release: made.id, preset, report })}
          >
            {rip.isSuccess ? say.printing : say.printIt}
          </Button>
          <Failure of={rip.error} />
        </Stack>
      </Stack>
    );
  if (made.rip_state === "printing") return <LinearProgress aria-label={queueWords.printing} />;
  if (made.rip_state !== "done")
    return (
      <Alert severity="error" sx={{ m: 3 }}>
        {made.rip_state === "refused"
          ? say.theRipRefusedTheFile(made.rip_refused)
          : `${made.rip_state === "failed" ? queueWords.printFailed : queueWords.cancelled}. ${made.rip_refused}`}
      </Alert>
    );
  return (
    <>
      <Reported made={made} />
      <Plates made={made} />
    </>
  );
}

/** What the RIP says that it has done, and what came of it for the cut. */
function Reported({ made }: { made: Release }) {
  const refused = made.sheet?.refused ?? "";
  const finds = made.sheet?.findings ?? [];
  if (!made.report.length) return null;
  return (
    <Alert
      severity={refused ? "error" : finds.length ? "warning" : "info"}
      sx={{ m: 1 }}
      data-testid="reported"
    >
      {queueWords.itReports(made.report.join(", "))} {refused || queueWords.cutFollows}
      {finds.length > 0 && ` ${queueWords.findsNow(finds.join(", "))}`}
    </Alert>
  );
}
