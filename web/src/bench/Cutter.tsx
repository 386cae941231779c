/** The simulated cutter: a dry print is laid in, its marks are found, then it is cut. */
import { LinearProgress, Stack, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Failure } from "../help/Failure";
import type { Release, Side } from "../api/client";
import { isRunning } from "../api/progress";
import { queries } from "../api/queries";
import { BedView } from "./BedView";
import { Player } from "./Player";
import { Cancelled, Waiting } from "./Waiting";
import { common } from "../texts/common";
import { bench as say } from "../texts/bench";

const SIDES: Record<Side, string> = { front: say.faceUp, back: say.faceDownForTheBack };
const OFTEN_MS = 350;
const BEGUN: readonly string[] = ["cutting", "stopped"];

export function Cutter({ made }: { made: Release }) {
  const [side, setSide] = useState<Side>("front");
  const stage = made.sheet?.stage ?? "";
  const [cuts, setCuts] = useState(made.cut.includes("front") || BEGUN.includes(stage));
  const bed = useQuery({
    ...queries.bed(made.id, side),
    refetchInterval: (query) => (isRunning(query.state.data?.work) ? OFTEN_MS : false),
  });
  const sheet = made.sheet;
  const lies = sheet !== null && ["loaded", "cutting", "stopped"].includes(sheet.stage);
  if (sheet?.stage === "cancelled") return <Cancelled made={made} />;
  if (sheet && !lies && sheet.stage !== "cut" && (sheet.waits_for ?? (sheet.refused || sheet.held)))
    return <Waiting made={made} sheet={sheet} />;
  if (bed.isPending) return <LinearProgress aria-label={common.loadingLabel} />;
  if (bed.isError) return <Failure of={bed.error} alone />;
  const ready =
    bed.data.loading !== null && !bed.data.aligned?.trouble && !isRunning(bed.data.work) && bed.data.known;
  return (
    <Stack sx={{ flex: 1, minHeight: 0 }}>
      <Stack
        direction="row"
        spacing={2}
        sx={{ px: 1, pb: 1, alignItems: "center", bgcolor: "background.paper" }}
      >
        {made.sides.length > 1 && (
          <ToggleButtonGroup
            size="small"
            exclusive
            value={side}
            aria-label={say.whichSideIsUp}
            sx={{ flex: "none" }}
            onChange={(_, next: Side | null) => {
              if (next) setSide(next);
              setCuts(!!next && made.cut.includes(next));
            }}
          >
            {(made.sides as Side[]).map((one) => (
              <ToggleButton key={one} value={one}>
                {SIDES[one]}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        )}
        <ToggleButtonGroup
          size="small"
          exclusive
          value={cuts && ready ? "cut" : "bed"}
          aria-label={say.whatIsDone}
          sx={{ flex: "none" }}
          onChange={(_, next) => next && setCuts(next === "cut")}
        >
          <ToggleButton value="bed">{say.loadAndFindTheMarks}</ToggleButton>
          <ToggleButton value="cut" disabled={!ready}>
            {common.cut}
          </ToggleButton>
        </ToggleButtonGroup>
        {bed.data.aligned?.trouble && !isRunning(bed.data.work) && (
          <Typography variant="body2" sx={{ fontWeight: 600 }} data-testid="trouble">
            {say.notToBeCutYet(bed.data.aligned.trouble)}
          </Typography>
        )}
      </Stack>
      {cuts && ready ? (
        <Player key={`${side} ${bed.data.loading}`} made={made} bed={bed.data} />
      ) : (
        <BedView
          key={`${side} ${bed.data.loading ?? ""}`}
          made={made}
          bed={bed.data}
          onCut={() => setCuts(true)}
          ready={ready}
        />
      )}
    </Stack>
  );
}
