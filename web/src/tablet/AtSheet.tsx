/** A sheet at the cutter: the one step that it is at, with those before and after it. */
import { Alert, Box, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { AtCutter, Side } from "../api/client";
import { isRunning } from "../api/progress";
import { queries } from "../api/queries";
import { CutStep } from "./CutStep";
import { LoadStep } from "./LoadStep";
import { MarksStep } from "./MarksStep";
import { PiecesStep } from "./PiecesStep";
import { ToolsStep } from "./ToolsStep";
import { tablet as say } from "../texts/tablet";

const OFTEN_MS = 500;
const LYING: readonly string[] = ["loaded", "cutting", "stopped"];

export function AtSheet({ at }: { at: AtCutter }) {
  const made = at.release;
  const sheet = made.sheet;
  const side: Side = made.sides.includes("back") && made.cut.includes("front") ? "back" : "front";
  /** What a person has said is done, of the loading that lies there. */
  const [tools, setTools] = useState<number | null>(null);
  const [marks, setMarks] = useState<number | null>(null);
  const bed = useQuery({
    ...queries.bed(made.id, side),
    refetchInterval: (query) => (isRunning(query.state.data?.work) ? OFTEN_MS : false),
  });
  const lies = sheet !== null && LYING.includes(sheet.stage) && bed.data?.loading !== null;
  const loading = bed.data?.loading ?? null;
  const over = sheet?.stage === "cut" || sheet?.stage === "cancelled";
  /** Whether the cut may begin or goes on: what was laid in anew is looked at before. */
  const cuts = sheet?.stage === "cutting" || (sheet?.stage === "stopped" && (sheet.unsure || sheet.known));
  const step = over ? 4 : !lies ? 0 : cuts ? 3 : tools !== loading ? 1 : marks !== loading ? 2 : 3;
  return (
    <Stack spacing={2} sx={{ p: 2, flex: 1 }}>
      <Steps now={step} />
      {step === 0 && sheet && <LoadStep at={at} sheet={sheet} side={side} />}
      {step === 1 && bed.data && <ToolsStep at={at} side={side} onDone={() => setTools(loading)} />}
      {step === 2 && bed.data && <MarksStep at={at} bed={bed.data} onDone={() => setMarks(loading)} />}
      {step === 3 && bed.data && sheet && <CutStep at={at} bed={bed.data} sheet={sheet} />}
      {step === 4 && sheet && <PiecesStep at={at} sheet={sheet} />}
      {at.look_out.length > 0 && step < 4 && (
        <Alert severity="info" icon={false} sx={{ fontSize: 17 }}>
          <b>{say.lookOut}</b>
          {at.look_out.map((words) => (
            <div key={words}>{words}</div>
          ))}
        </Alert>
      )}
    </Stack>
  );
}

function Steps({ now }: { now: number }) {
  return (
    <Stack component="ol" direction="row" sx={{ listStyle: "none", p: 0, m: 0 }} aria-label={say.atTheCutter}>
      {say.steps.map((words, i) => (
        <Box
          component="li"
          key={words}
          aria-current={i === now ? "step" : undefined}
          sx={{
            flex: 1,
            textAlign: "center",
            py: 1,
            borderBottom: "6px solid",
            borderColor: i < now ? "#7A9A9C" : i === now ? "primary.main" : "#DDDDDD",
          }}
        >
          <Typography sx={{ fontSize: 17, fontWeight: i === now ? 700 : 400 }}>{words}</Typography>
        </Box>
      ))}
    </Stack>
  );
}
