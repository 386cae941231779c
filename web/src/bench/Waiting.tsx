/** Why a sheet is not cut yet: its print is wet, or not laminated; with what a person may do about it. */
import { Alert, Button, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import { useDry } from "../api/benchChanges";
import { useEarly, useHold, useLaminated, usePrintAgain } from "../api/queueChanges";
import type { Release } from "../api/client";
import { Failure } from "../help/Failure";
import { Row } from "../ui/Row";
import { moment } from "../ui/words";
import { useNow } from "./useNow";
import { bench as words } from "../texts/bench";
import { queues as say } from "../texts/queues";

type Sheet = NonNullable<Release["sheet"]>;

export function Waiting({ made, sheet }: { made: Release; sheet: Sheet }) {
  const laminated = useLaminated();
  const hold = useHold("cutter");
  if (sheet.refused)
    return (
      <Alert severity="error" sx={{ m: 3 }}>
        {sheet.refused}
      </Alert>
    );
  if (sheet.held)
    return (
      <Stack spacing={2} sx={{ p: 4, alignItems: "flex-start" }}>
        <Typography>{say.heldHere}</Typography>
        <Button variant="contained" size="large" onClick={() => hold.mutate({ id: sheet.id, held: false })}>
          {say.letGo}
        </Button>
        <Failure of={hold.error} />
      </Stack>
    );
  if (sheet.waits_for === "print") return <Typography sx={{ p: 4 }}>{words.itIsNotPrintedYet}</Typography>;
  if (sheet.waits_for === "laminating")
    return (
      <Stack spacing={2} sx={{ p: 4, alignItems: "flex-start" }}>
        <Typography>{say.waitForLaminate}</Typography>
        <Button
          variant="contained"
          size="large"
          disabled={laminated.isPending}
          onClick={() => laminated.mutate(sheet.id)}
        >
          {say.isLaminated}
        </Button>
        <Failure of={laminated.error} />
      </Stack>
    );
  return <Wet made={made} sheet={sheet} />;
}

/** A cut that was cancelled: how the pieces are made all the same. */
export function Cancelled({ made }: { made: Release }) {
  const again = usePrintAgain();
  return (
    <Stack spacing={2} sx={{ p: 4, alignItems: "flex-start" }}>
      <Typography>{say.cutWasCancelled(made.sheet?.said ?? "")}</Typography>
      {made.makes === "both" ? (
        made.rip_state === "waiting" ? (
          <Typography>{words.itIsNotPrintedYet}</Typography>
        ) : (
          <Button variant="contained" disabled={again.isPending} onClick={() => again.mutate(made.id)}>
            {say.printAgain}
          </Button>
        )
      ) : (
        <Button variant="contained" component={Link} to={`/jobs/${made.job_id}/release`}>
          {say.orderAgain}
        </Button>
      )}
      <Failure of={again.error} />
    </Stack>
  );
}

/** The time that is left, counted down; and the reason for which somebody does not wait. */
function Wet({ made, sheet }: { made: Release; sheet: Sheet }) {
  const dry = useDry();
  const early = useEarly();
  const [reason, setReason] = useState("");
  const now = useNow(1_000);
  const until = made.dry_at ?? made.printed ?? "";
  const left = Math.max(0, Math.ceil((Date.parse(until) - now) / 1_000));
  const two = (value: number) => String(value).padStart(2, "0");
  return (
    <Stack spacing={2} sx={{ p: 4, alignItems: "flex-start" }}>
      <Typography>{say.isWetUntil(moment(until))}</Typography>
      <Row spacing={1} sx={{ alignItems: "baseline" }}>
        <Typography
          sx={{ fontSize: 44, fontVariantNumeric: "tabular-nums", lineHeight: 1 }}
          data-testid="left"
        >
          {Math.floor(left / 3_600)}:{two(Math.floor(left / 60) % 60)}:{two(left % 60)}
        </Typography>
        <Typography>{say.leftNow}</Typography>
      </Row>
      {made.ink_percent > 0 && <Typography>{say.inkOf(made.ink_percent)}</Typography>}
      {sheet.laminates && <Typography>{say.laminatedFirst}</Typography>}
      <Button variant="contained" onClick={() => dry.mutate(made.id)} disabled={dry.isPending}>
        {words.waitUntilItIsDry}
      </Button>
      <Row
        component="form"
        spacing={1}
        onSubmit={(event) => {
          event.preventDefault();
          if (reason.trim().length > 2) early.mutate({ id: sheet.id, reason });
        }}
      >
        <TextField
          label={say.whyNow}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
          sx={{ width: 380 }}
        />
        <Button type="submit" variant="outlined" disabled={reason.trim().length < 3 || early.isPending}>
          {say.cutAnyway}
        </Button>
      </Row>
      <Failure of={dry.error ?? early.error} />
    </Stack>
  );
}
