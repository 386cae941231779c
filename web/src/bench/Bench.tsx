/** The bench: the simulated RIP with its plates, the cutter with its run, stacks of fabric with cutter and sewing machine. */
import {
  Alert,
  Box,
  LinearProgress,
  Stack,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { Failure } from "../help/Failure";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../api/queries";
import { queueQueries } from "../api/queueChanges";
import { stackQueries } from "../api/stacks";
import { ChoiceRow } from "../ui/ChoiceRow";
import { Cutter } from "./Cutter";
import { QueueActions } from "./QueueActions";
import { Queues } from "./Queues";
import { Rip } from "./Rip";
import { StackBench } from "./StackBench";
import { machineOf, repeatOf, stateOf, type Machine } from "./states";
import { common } from "../texts/common";
import { bench as say } from "../texts/bench";

export function Bench() {
  const [params, setParams] = useSearchParams();
  const bench = useQuery(queries.bench());
  /** The machine that somebody has chosen for a sheet; until then it is the one that the sheet waits for. */
  const [picked, setPicked] = useState<{ id: number; machine: Machine } | null>(null);
  /** What is shown where nobody has chosen: it stays, whatever comes to the list. A press is for what was read. */
  const [first, setFirst] = useState<number | null>(null);
  const stacks = useQuery(stackQueries.packages());
  const queues = useQuery(queueQueries.queues());
  const listed = bench.data ?? [];
  const stacked = stacks.data ?? [];
  const asked = params.get("release");
  const stack =
    stacked.find((made) => made.id === Number(params.get("stack"))) ??
    (asked || listed.length ? undefined : stacked[0]);
  // never another one than was asked for: it might be printed in its place
  const wanted = listed.find((made) => made.id === (asked ? Number(asked) : first));
  const chosen = stack ? undefined : asked ? wanted : (wanted ?? listed[0]);
  if (!asked && chosen && !bench.isFetching && chosen.id !== first) setFirst(chosen.id);
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
            chosen={chosen ?? null}
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
      {asked && !stack && !chosen && (
        <Box sx={{ flex: 1 }}>
          {bench.isFetching ? (
            <LinearProgress aria-label={common.loadingLabel} />
          ) : (
            <Alert severity="error" sx={{ m: 3 }}>
              {say.noSuchPackage(asked)}
            </Alert>
          )}
        </Box>
      )}
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
            <Typography noWrap>
              {chosen.job_name}
              {machine === "cutter" && repeatOf(chosen.sheet)}
            </Typography>
            <Typography variant="body2" color="text.secondary" data-testid="state" sx={{ flex: 1 }}>
              {say.simulatedMachines(stateOf(chosen))}
            </Typography>
            {machine && <QueueActions key={`${chosen.id} ${machine}`} made={chosen} machine={machine} />}
          </Stack>
          {machine === "rip" ? (
            <Rip key={chosen.id} made={chosen} />
          ) : (
            <Cutter key={`${chosen.id} ${chosen.sheet?.id ?? ""}`} made={chosen} />
          )}
        </Stack>
      )}
    </Stack>
  );
}
