/** What a draft of something on the Shelf would change in a job. */
import { Alert, Stack, Typography } from "@mui/material";
import type { Work } from "../api/client";
import { STOP } from "../ui/theme";
import { shelf as say } from "../texts/shelf";

interface Said {
  id: string;
  severity: string;
  message: string;
}
interface EffectShape {
  /** Of a stack there is none. */
  verdict: [string, string] | null;
  goes: Said[];
  comes: Said[];
  /** What of the sheets and the cut comes out otherwise. */
  figures?: { what: string; before: string; after: string }[];
}

export function Effect({ work }: { work: Work }) {
  const { state, what, error } = work;
  const result = work.result as EffectShape | null;
  if (state === "failed") return <Alert severity="error">{error}</Alert>;
  if (!result)
    return (
      <Typography variant="body2" role="status">
        {state === "cancelled" ? say.stopped : say.tryingIt(what)}
      </Typography>
    );
  const rows: [string, Said[]][] = [
    ["goes", result.goes],
    ["comes", result.comes],
  ];
  return (
    <Stack spacing={0.5} role="status" data-testid="effect" sx={{ bgcolor: "background.paper", p: 1.5 }}>
      {result.verdict && (
        <Typography variant="subtitle1">
          {result.verdict[0] === result.verdict[1]
            ? say.theJobStaysAt(result.verdict[0])
            : say.theJobGoesFromTo(result.verdict[0], result.verdict[1])}
        </Typography>
      )}
      {!result.verdict && !result.figures?.length && (
        <Typography variant="body2">{say.nothingOfTheStackChanges}</Typography>
      )}
      {result.verdict && !result.goes.length && !result.comes.length && (
        <Typography variant="body2">{say.noFindingChanges}</Typography>
      )}
      {result.figures?.map(({ what, before, after }) => (
        <Typography key={what} variant="body2">
          {what}: <s>{before}</s> → <b>{after}</b>
        </Typography>
      ))}
      {rows.flatMap(([way, listed]) =>
        listed.map((f) => (
          <Typography
            key={way + f.id + f.message}
            variant="body2"
            sx={{ textDecoration: way === "goes" ? "line-through" : "none" }}
          >
            <b style={{ color: f.severity === "stop" ? STOP : undefined }}>
              {way} · {f.severity}
            </b>{" "}
            {f.message}
          </Typography>
        )),
      )}
    </Stack>
  );
}
