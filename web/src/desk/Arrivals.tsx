/** The files on their way in, above the jobs. */
import { Box, Button, LinearProgress, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import { MONO, STOP } from "../ui/theme";
import type { Arrival } from "./takingIn";
import { common } from "../texts/common";
import { desk as say } from "../texts/desk";

interface Props {
  arrivals: Arrival[];
  onStop: (key: number) => void;
  onAgain: (arrival: Arrival) => void;
  onClear: (key: number) => void;
}

const size = (bytes: number) =>
  bytes < 1e6 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;

/** So many that wait are listed; of more it is said how many, so that what came in stays in view. */
const FEW = 2;

export function Arrivals({ arrivals, onStop, onAgain, onClear }: Props) {
  const waiting = arrivals.filter((one) => one.state === "waiting");
  const many = waiting.length > FEW;
  const shown = arrivals.filter((one) => one.state !== "taken" && !(many && one.state === "waiting"));
  if (!shown.length && !many) return null;
  return (
    <Stack
      component="ul"
      aria-label={say.filesOnTheirWayIn}
      spacing={0.5}
      sx={{ listStyle: "none", p: 0, m: 0, mb: 1.5 }}
    >
      {shown.map((one) => (
        <Stack
          key={one.key}
          component="li"
          direction="row"
          spacing={2}
          data-arrival={one.state}
          sx={{ alignItems: "center", bgcolor: "background.paper", px: 1.5, py: 0.75 }}
        >
          <Typography sx={{ fontFamily: MONO, fontSize: 13, width: 280, overflowWrap: "anywhere" }}>
            {one.name}
          </Typography>
          <Typography variant="body2" color="text.secondary" sx={{ width: 70 }}>
            {size(one.file.size)}
          </Typography>
          <Box sx={{ flex: 1 }}>
            {one.state === "sending" && (
              <LinearProgress
                variant="determinate"
                value={one.share * 100}
                aria-label={say.sending(one.name)}
              />
            )}
            {one.state === "waiting" && (
              <Typography variant="body2" color="text.secondary">
                {say.waitsItsTurn}
              </Typography>
            )}
            {one.state === "stopped" && (
              <Typography variant="body2">{say.stoppedNothingWasTakenIn}</Typography>
            )}
            {one.state === "refused" && (
              <Typography variant="body2" role="alert" sx={{ color: STOP }}>
                {one.said}
              </Typography>
            )}
            {one.state === "known" && (
              <Typography variant="body2">{say.thisVeryFileIsHere(one.said)}</Typography>
            )}
          </Box>
          {one.state === "known" && (
            <Button component={Link} to={`/jobs/${one.job}`} variant="contained">
              {say.openThatJob}
            </Button>
          )}
          {one.state === "known" && (
            <Button variant="outlined" onClick={() => onAgain(one)}>
              {say.takeInAgain}
            </Button>
          )}
          {one.state === "waiting" || one.state === "sending" ? (
            <Button onClick={() => onStop(one.key)}>{common.stop}</Button>
          ) : (
            <Button onClick={() => onClear(one.key)} aria-label={say.putAway(one.name)}>
              {say.putAway2}
            </Button>
          )}
        </Stack>
      ))}
      {many && (
        <Stack
          component="li"
          direction="row"
          spacing={2}
          sx={{ alignItems: "center", bgcolor: "background.paper", px: 1.5, py: 0.75 }}
        >
          <Typography sx={{ flex: 1 }} role="status">
            {say.moreWait(waiting.length, arrivals.length - waiting.length, arrivals.length)}
          </Typography>
          <Button onClick={() => waiting.forEach((one) => onStop(one.key))}>{say.stopThese}</Button>
        </Stack>
      )}
    </Stack>
  );
}
