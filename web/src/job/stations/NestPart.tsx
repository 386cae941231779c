/** Nesting by the cut outline: how copies may be turned, what lies between them, how long it may take. */
import { Button, Typography } from "@mui/material";
import { useState } from "react";
import type { Job } from "../../api/client";
import { useNest } from "../../api/changes";
import { useBusy } from "../../api/progress";
import { Amount, Choice } from "../../ui/fields";

const TURNS = [
  ["free", "turned freely"],
  ["quarter", "turned by quarters"],
  ["half", "turned by halves"],
  ["none", "as they lie"],
] as const;
type Turn = (typeof TURNS)[number][0];

export function NestPart({ job }: { job: Job }) {
  const nest = useNest(job.id);
  const busy = useBusy(job);
  const [turn, setTurn] = useState<Turn>("free");
  const [gap, setGap] = useState<number | undefined>((job.layout.gap_mm as number | null) ?? undefined);
  const [seconds, setSeconds] = useState(10);
  if (job.order.quantity < 2) return null;
  return (
    <Typography component="div" variant="body2" role="group" aria-label="nesting" sx={{ lineHeight: 2.1 }}>
      <Button
        variant="outlined"
        disabled={busy || nest.isPending || !job.sheet}
        onClick={() => nest.mutate({ turn, gap_mm: gap ?? null, seconds })}
      >
        Nest
      </Button>{" "}
      copies by their outline, <Choice label="turned" value={turn} options={TURNS} onChange={setTurn} />,{" "}
      <Amount label="gap between cuts" value={gap} shipped="auto" least={0} most={1000} onChange={setGap} />{" "}
      apart, for at most{" "}
      <Amount
        label="seconds of nesting"
        value={seconds}
        unit="s"
        least={1}
        most={600}
        step={5}
        onChange={(v) => setSeconds(v ?? 10)}
      />
      . Stop keeps the best so far.
      {nest.isError && <Typography color="error">{nest.error.message}</Typography>}
    </Typography>
  );
}
