/** The cards of the findings, group by group, with what can be done about them. */
import { Failure } from "../../help/Failure";
import { Box, Button, Stack, Typography } from "@mui/material";
import { useEffect, useRef } from "react";
import { useMend, useMendSafely, useSettle, useUnsettle } from "../../api/changes";
import type { Finding, Job } from "../../api/client";
import { useBusy } from "../../api/progress";
import { STOP } from "../../ui/theme";
import { RecipeOffers } from "../mending/RecipeOffers";
import { FindingCard } from "./FindingCard";
import { groupOf, GROUPS } from "./groups";
import { findings as say } from "../../texts/findings";

interface Props {
  job: Job;
  findings: Finding[];
  chosen: Finding | null;
  onChoose: (key: string) => void;
}

export function FindingList({ job, findings, chosen, onChoose }: Props) {
  const mend = useMend(job.id);
  const safely = useMendSafely(job.id);
  const settle = useSettle(job.id);
  const unsettle = useUnsettle(job.id);
  const busy = useBusy(job);
  const list = useRef<HTMLDivElement>(null);
  const key = chosen?.key;
  useEffect(() => {
    const card = list.current?.querySelector('[aria-pressed="true"]')?.closest("[data-finding]");
    card?.scrollIntoView({ block: "nearest" });
  }, [key]);
  return (
    <>
      {[mend, safely, settle, unsettle].map((change, i) => (
        <Failure key={i} of={change.error} />
      ))}
      {job.safe_mends.length > 0 && (
        <Box sx={{ mb: 1.5 }}>
          <Button variant="contained" fullWidth disabled={busy} onClick={() => safely.mutate(undefined)}>
            {say.mendAllThatIsSafe(job.safe_mends.length)}
          </Button>
          <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
            {job.safe_mends.join(" · ")}
          </Typography>
        </Box>
      )}
      <RecipeOffers job={job} busy={busy} />
      <Stack ref={list} spacing={1.5}>
        {GROUPS.map(([name, words]) => {
          const listed = findings.filter((finding) => groupOf(finding) === name);
          if (!listed.length) return null;
          return (
            <Stack key={name} spacing={1} component="section" aria-label={words}>
              <Typography sx={{ fontWeight: 700, color: name === "stop" ? STOP : "text.primary" }}>
                {words} · {listed.length}
              </Typography>
              {listed.map((finding) => (
                <FindingCard
                  key={finding.key}
                  job={job.id}
                  finding={finding}
                  chosen={finding === chosen}
                  busy={busy || settle.isPending}
                  mayWaive={job.may_waive}
                  onChoose={() => onChoose(finding.key)}
                  onMend={(step) => mend.mutate(step)}
                  onSettle={(reason) => settle.mutate({ key: finding.key, reason })}
                  onUnsettle={() => unsettle.mutate(finding.key)}
                />
              ))}
            </Stack>
          );
        })}
      </Stack>
    </>
  );
}
