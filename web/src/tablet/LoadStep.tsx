/** How the sheet is loaded; or why it is not to be yet, and what a person may do about that. */
import { Button, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { useEarly, useHold, useLaminated } from "../api/queueChanges";
import { useLoadHere } from "../api/tabletChanges";
import type { AtCutter, Release, Side } from "../api/client";
import { useNow } from "../bench/useNow";
import { Failure } from "../help/Failure";
import { length, moment } from "../ui/words";
import { SheetDrawn } from "./SheetDrawn";
import { queues } from "../texts/queues";
import { tablet as say } from "../texts/tablet";

type Sheet = NonNullable<Release["sheet"]>;

export function LoadStep({ at, sheet, side }: { at: AtCutter; sheet: Sheet; side: Side }) {
  const load = useLoadHere(at.release.id);
  const waits = side === "front" && (sheet.held || sheet.refused || sheet.waits_for);
  if (waits) return <Waits at={at} sheet={sheet} />;
  return (
    <Stack spacing={2}>
      <Typography variant="h2" sx={{ fontSize: 26 }}>
        {say.loadIt}
      </Typography>
      <SheetDrawn at={at} />
      <Typography sx={{ fontSize: 22 }}>
        {side === "back" ? say.turnOver : at.mirrored ? say.faceDown : say.faceUp}
      </Typography>
      <Typography>
        {say.material(at.material, at.kept_at)} · {say.leader(length(at.leader_mm))}
      </Typography>
      <Failure of={load.error} />
      <Button variant="contained" disabled={load.isPending} onClick={() => load.mutate(side)}>
        {say.isLoaded}
      </Button>
    </Stack>
  );
}

function Waits({ at, sheet }: { at: AtCutter; sheet: Sheet }) {
  const early = useEarly();
  const laminated = useLaminated();
  const hold = useHold("cutter");
  const [reason, setReason] = useState("");
  const now = useNow(1_000);
  if (sheet.refused) return <Typography sx={{ fontSize: 24 }}>{sheet.refused}</Typography>;
  if (sheet.held)
    return (
      <Stack spacing={2}>
        <Typography sx={{ fontSize: 24 }}>{say.held}</Typography>
        <Button variant="contained" onClick={() => hold.mutate({ id: sheet.id, held: false })}>
          {say.letGo}
        </Button>
        <Failure of={hold.error} />
      </Stack>
    );
  if (sheet.waits_for === "print") return <Typography sx={{ fontSize: 24 }}>{say.notPrinted}</Typography>;
  if (sheet.waits_for === "laminating")
    return (
      <Stack spacing={2}>
        <Typography sx={{ fontSize: 24 }}>{say.laminateFirst}</Typography>
        <Button variant="contained" disabled={laminated.isPending} onClick={() => laminated.mutate(sheet.id)}>
          {say.isLaminated}
        </Button>
        <Failure of={laminated.error} />
      </Stack>
    );
  const until = at.release.dry_at ?? "";
  return (
    <Stack spacing={2}>
      <Typography sx={{ fontSize: 32, fontWeight: 700 }}>{say.isWetUntil(moment(until))}</Typography>
      <Typography sx={{ fontSize: 24 }}>
        {say.leftIs(queues.left(Math.max(0, Date.parse(until) - now) / 60_000))}
      </Typography>
      <Stack
        component="form"
        direction="row"
        spacing={1}
        onSubmit={(event) => {
          event.preventDefault();
          if (reason.trim().length > 2) early.mutate({ id: sheet.id, reason });
        }}
      >
        <TextField
          fullWidth
          label={say.whyNow}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
        <Button type="submit" variant="outlined" disabled={reason.trim().length < 3} sx={{ flex: "none" }}>
          {say.cutAnyway}
        </Button>
      </Stack>
      <Failure of={early.error} />
    </Stack>
  );
}
