/** Nesting by the cut outline: how copies may be turned, what lies between them, how long it may take. */
import { limits } from "../ui/limits";
import { Button, Typography } from "@mui/material";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { Amount, Choice } from "../ui/fields";
import type { Target, Turn } from "./target";
import { sheet as say } from "../texts/sheet";

const TURNS = [
  ["free", say.turnedFreely],
  ["quarter", say.turnedByQuarters],
  ["half", say.turnedByHalvesGrainKept],
  ["none", say.asTheyLie],
] as const;

export function NestPart({ target }: { target: Target }) {
  const { nest, busy, layout } = target;
  const [turn, setTurn] = useState<Turn>("free");
  const [gap, setGap] = useState<number | undefined>((layout.gap_mm as number | null) ?? undefined);
  const [seconds, setSeconds] = useState(10);
  if (target.copies < 2) return null;
  return (
    <Typography variant="sentence" role="group" aria-label={say.nestingLabel}>
      <Button
        variant="outlined"
        disabled={busy || nest.isPending || !target.known}
        onClick={() => nest.run(turn, gap ?? null, seconds)}
      >
        {say.nest}
      </Button>
      {say.copiesByTheirOutline}
      <Choice label={say.turned} value={turn} options={TURNS} onChange={setTurn} />,{" "}
      <Amount
        label={say.gapBetweenCuts}
        value={gap}
        shipped={say.auto}
        {...limits.layout.gap_mm}
        onChange={setGap}
      />
      {say.apartForAtMost}
      <Amount
        label={say.secondsOfNesting}
        value={seconds}
        unit="s"
        least={1}
        most={600}
        step={5}
        onChange={(v) => setSeconds(v ?? 10)}
      />
      {say.stopKeepsTheBestSo}
      <Failure of={nest.error} />
    </Typography>
  );
}
