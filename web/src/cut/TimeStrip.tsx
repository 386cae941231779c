/** The operations as a strip of time to scale, left to right: the tool down, the tool up, pauses. */
import { Box, Stack, Tooltip, Typography } from "@mui/material";
import type { Job } from "../api/client";
import { lookOf } from "../ui/roles";
import { minutes } from "../ui/words";

type Cut = NonNullable<Job["cut"]>;

const LEAST_SHARE = 0.004;

export function TimeStrip({ cut }: { cut: Cut }) {
  if (!cut.time_s) return null;
  const share = (seconds: number) => Math.max(seconds / cut.time_s, LEAST_SHARE);
  return (
    <Box>
      <Stack
        direction="row"
        role="group"
        aria-label={`${minutes(cut.time_s)} in all`}
        sx={{ height: 26, border: "1px solid #8A8A8A" }}
      >
        {cut.operations.map((operation, i) => {
          const pause = cut.pauses.find((one) => one.before === i);
          return [
            pause && (
              <Tooltip key={`pause-${i}`} title={pause.words || `Another tool, ${minutes(pause.time_s)}`}>
                <Box
                  role="img"
                  data-pause={i}
                  sx={{
                    flexGrow: share(pause.time_s),
                    flexBasis: 0,
                    background: pause.words
                      ? "repeating-linear-gradient(45deg, #FFF 0 4px, #5A5A5A 4px 6px)"
                      : "#E2E2E2",
                  }}
                />
              </Tooltip>
            ),
            <Tooltip
              key={i}
              title={`${operation.words || lookOf(operation.role).words}, ${minutes(operation.time_s)}`}
            >
              <Box
                role="img"
                data-part={operation.role}
                sx={{
                  flexGrow: share(operation.time_s),
                  flexBasis: 0,
                  bgcolor: lookOf(operation.role).colour,
                  opacity: operation.aligning ? 0.55 : 1,
                }}
              />
            </Tooltip>,
          ];
        })}
      </Stack>
      <Stack direction="row" sx={{ justifyContent: "space-between" }}>
        <Typography variant="caption">0</Typography>
        <Typography variant="caption">{minutes(cut.time_s)}</Typography>
      </Stack>
    </Box>
  );
}
