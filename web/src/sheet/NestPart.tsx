/** Nesting by the cut outline: how copies may be turned, what lies between them, how long it may take. */
import { limits } from "../ui/limits";
import { Button, Typography } from "@mui/material";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { Amount, Choice } from "../ui/fields";
import type { Target, Turn } from "./target";

const TURNS = [
  ["free", "turned freely"],
  ["quarter", "turned by quarters"],
  ["half", "turned by halves, grain kept"],
  ["none", "as they lie"],
] as const;

export function NestPart({ target }: { target: Target }) {
  const { nest, busy, layout } = target;
  const [turn, setTurn] = useState<Turn>("free");
  const [gap, setGap] = useState<number | undefined>((layout.gap_mm as number | null) ?? undefined);
  const [seconds, setSeconds] = useState(10);
  if (target.copies < 2) return null;
  return (
    <Typography variant="sentence" role="group" aria-label="nesting">
      <Button
        variant="outlined"
        disabled={busy || nest.isPending || !target.known}
        onClick={() => nest.run(turn, gap ?? null, seconds)}
      >
        Nest
      </Button>{" "}
      copies by their outline, <Choice label="turned" value={turn} options={TURNS} onChange={setTurn} />,{" "}
      <Amount
        label="gap between cuts"
        value={gap}
        shipped="auto"
        {...limits.layout.gap_mm}
        onChange={setGap}
      />{" "}
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
      <Failure of={nest.error} />
    </Typography>
  );
}
