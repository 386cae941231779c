/** A cutter's dialect, tried on a figure: what it is sent, and what is read back of that. */
import { Alert, Box, Button, Stack, Typography } from "@mui/material";
import { useTryCutter } from "../api/shelfChanges";
import { Failure } from "../help/Failure";
import { MONO } from "../ui/theme";
import type { Data } from "./form/schema";
import { shelf as say } from "../texts/shelf";

const SIDE_MM = 44;

export function OnFigure({ title, data, wrong }: { title: string; data: Data; wrong: boolean }) {
  const tried = useTryCutter();
  const found = tried.data;
  return (
    <Stack spacing={1} component="section" aria-label={say.onAFigureLabel}>
      <Box>
        <Button
          variant="outlined"
          disabled={wrong || tried.isPending}
          onClick={() => tried.mutate({ title: title || say.aCutter, data })}
        >
          {say.tryItOnAFigure}
        </Button>
      </Box>
      <Failure of={tried.error} />
      {found?.error && <Alert severity="error">{say.cannotBeReadBack(found.error)}</Alert>}
      {found && !found.error && (
        <Alert severity="success">{say.readBackWithin((found.off_mm ?? 0).toFixed(3))}</Alert>
      )}
      {found && (
        <Stack direction="row" spacing={2} sx={{ alignItems: "flex-start" }}>
          <svg
            viewBox={`-2 ${-SIDE_MM} ${SIDE_MM + 4} ${SIDE_MM + 2}`}
            width={200}
            role="img"
            aria-label={say.whatIsReadBack}
          >
            <path d={`M-2 0H${SIDE_MM}M0 2V${-SIDE_MM}`} stroke="#AAA" strokeWidth={0.3} fill="none" />
            {found.lines.map((line, i) => (
              <polyline
                key={i}
                points={line.map(([x = 0, y = 0]) => `${x},${-y}`).join(" ")}
                fill="none"
                stroke={i ? "#B0392B" : "#2B50B0"}
                strokeWidth={0.6}
              />
            ))}
          </svg>
          <Typography
            component="pre"
            sx={{
              fontFamily: MONO,
              fontSize: 12,
              m: 0,
              whiteSpace: "pre-wrap",
              overflowWrap: "anywhere",
              flex: 1,
            }}
          >
            {found.text}
          </Typography>
        </Stack>
      )}
    </Stack>
  );
}
