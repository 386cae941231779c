/** What came of it: pieces that are spoilt by their numbers, which are ordered again. */
import { Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useCutAgain, useSpoiltHere } from "../api/tabletChanges";
import type { AtCutter, Release } from "../api/client";
import { Failure } from "../help/Failure";
import { SheetDrawn } from "./SheetDrawn";
import { tablet as say } from "../texts/tablet";

export function PiecesStep({ at, sheet }: { at: AtCutter; sheet: NonNullable<Release["sheet"]> }) {
  const spoilt = useSpoiltHere();
  const again = useCutAgain();
  const go = useNavigate();
  const [chosen, setChosen] = useState<number[]>(sheet.spoilt);
  const fresh = chosen.filter((number) => !sheet.ordered.includes(number));
  const flip = (number: number) =>
    setChosen((all) => (all.includes(number) ? all.filter((one) => one !== number) : [...all, number]));
  const order = () =>
    spoilt.mutate({ sheet: sheet.id, pieces: chosen }, { onSuccess: () => again.mutate(sheet.id) });
  return (
    <Stack spacing={2}>
      <Typography variant="h2" sx={{ fontSize: 26 }}>
        {say.whichSpoilt}
      </Typography>
      <SheetDrawn at={at} spoilt={chosen} onPiece={sheet.stage === "cut" ? flip : undefined} />
      <Stack direction="row" useFlexGap sx={{ flexWrap: "wrap", gap: 1 }}>
        {sheet.done.map((number) => (
          <Button
            key={number}
            variant={chosen.includes(number) ? "contained" : "outlined"}
            color={chosen.includes(number) ? "error" : "primary"}
            aria-pressed={chosen.includes(number)}
            aria-label={say.piece(number)}
            onClick={() => flip(number)}
          >
            {number}
          </Button>
        ))}
      </Stack>
      {again.isSuccess ? (
        <Typography sx={{ fontSize: 22 }}>{say.ordered(chosen.length)}</Typography>
      ) : (
        fresh.length > 0 && (
          <Button variant="contained" disabled={spoilt.isPending || again.isPending} onClick={order}>
            {say.orderAgain(fresh.length)}
          </Button>
        )
      )}
      <Failure of={spoilt.error ?? again.error} />
      <Button variant={chosen.length ? "outlined" : "contained"} onClick={() => void go("/cutter")}>
        {chosen.length ? say.done : say.noneSpoilt}
      </Button>
    </Stack>
  );
}
