/** A stack at the machines: the cutter, layer by layer, then the sewing machine. */
import { LinearProgress, Stack, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { Failure } from "../help/Failure";
import type { StackPackage } from "../api/client";
import { stackQueries } from "../api/stacks";
import { SewingMachine } from "./SewingMachine";
import { StackCutter } from "./StackCutter";
import { common } from "../texts/common";
import { bench as say } from "../texts/bench";

export function StackBench({ made }: { made: StackPackage }) {
  const [machine, setMachine] = useState("cutter");
  const bed = useQuery(stackQueries.bed(made.id));
  return (
    <Stack sx={{ flex: 1, minWidth: 0 }}>
      <Stack direction="row" spacing={2} sx={{ p: 1, alignItems: "center", bgcolor: "background.paper" }}>
        <ToggleButtonGroup
          size="small"
          exclusive
          value={machine}
          onChange={(_, next) => next && setMachine(next)}
          aria-label={say.machineLabel}
        >
          <ToggleButton value="cutter">{say.cutter}</ToggleButton>
          <ToggleButton value="sewing">{say.sewingMachine}</ToggleButton>
        </ToggleButtonGroup>
        <Typography noWrap>
          <Link to={`/jobs/${made.job_id}/stack`} style={{ color: "inherit" }}>
            {made.job_name}
          </Link>
        </Typography>
        <Typography variant="body2" color="text.secondary">
          {say.simulated}
          {!made.current && say.theJobsStackWasChanged}
        </Typography>
      </Stack>
      {bed.isPending && <LinearProgress aria-label={common.loadingLabel} />}
      <Failure of={bed.error} />
      {bed.data && (machine === "cutter" ? <StackCutter bed={bed.data} /> : <SewingMachine bed={bed.data} />)}
    </Stack>
  );
}
