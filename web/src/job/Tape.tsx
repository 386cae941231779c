/** The stations as a graduated tape; each mark says clean, what is left, or that it is not known yet. */
import { Box, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Job } from "../api/client";
import { STATIONS, type Station } from "./stations/names";
import { STOP } from "../ui/theme";
import { job as say } from "../texts/job";

const OF_LINES = /^(line|ink\.near)/;
const NOT_REACHED: State = [say.notYet, false];

/** The stations of a job; that of stacks is on the tape where the job has one. */
const stationsOf = (job: Job, here: Station) =>
  STATIONS.filter(([key]) => key !== "stack" || job.stack !== null || here === "stack");

/** What a station says, and whether that is bad. */
type State = [string, boolean];

const left = (stops: number): State => (stops ? [say.stopLeft(stops), true] : ["clean", false]);

/** What each station says of itself once the job was looked at. */
const STATES: Record<Station, (job: Job, stops: number) => State> = {
  check: (_, stops) => left(stops),
  lines: (job, stops) => {
    if (!job.seen?.lines.length && !stops)
      return [job.order.roles?.length === 0 ? say.printOnly : say.noLine, false];
    const open = job.findings.filter((f) => f.severity === "stop" && !f.decision);
    return left(open.filter((f) => OF_LINES.test(f.id)).length);
  },
  stack: (job) =>
    !job.stack ? ["none", false] : [job.stacks.some((one) => one.current) ? "written" : "kept", false],
  sheet: ({ sheet }) => {
    if (!sheet) return NOT_REACHED;
    if (sheet.error) return [say.doesNotFit, true];
    return [sheet.columns ? `${sheet.columns} × ${sheet.rows}` : say.nested(sheet.placements.length), false];
  },
  cut: ({ cut, sheet }) => {
    if (!cut || !sheet || sheet.error) return NOT_REACHED;
    const passes = cut.operations.length;
    return [passes ? say.pass(passes) : say.nothingIsCut, false];
  },
  release: (job, stops) => {
    if (job.releases.length) return ["released", false];
    if (stops || job.sheet?.error) return ["blocked", true];
    const looks = job.looks ?? 0;
    return [looks ? say.lookOpen(looks) : "ready", false];
  },
};

export function stateOf(job: Job, station: Station): State {
  const { seen, stops } = job;
  if (station !== "stack" && (!seen || stops === null)) return NOT_REACHED;
  return STATES[station](job, stops ?? 0);
}

export function Tape({ job, station }: { job: Job; station: Station }) {
  return (
    <Stack
      component="nav"
      aria-label={say.stationsLabel}
      direction="row"
      sx={{
        bgcolor: "background.paper",
        px: 2,
        borderBottom: "1px solid #CFCFCF",
        backgroundImage: "repeating-linear-gradient(90deg,#999 0 1px,transparent 1px 16px)",
        backgroundSize: "100% 5px",
        backgroundRepeat: "no-repeat",
        backgroundPosition: "bottom",
      }}
    >
      {stationsOf(job, station).map(([key, words]) => {
        const [state, bad] = stateOf(job, key);
        const here = key === station;
        return (
          <Box
            key={key}
            component={Link}
            to={`/jobs/${job.id}/${key}`}
            aria-current={here ? "step" : undefined}
            sx={{
              flex: 1,
              color: "inherit",
              textDecoration: "none",
              pb: 1.2,
              pt: 0.3,
              pl: 1,
              borderLeft: "2px solid #555",
              bgcolor: here ? "rgba(11,92,99,.10)" : "transparent",
            }}
          >
            <Typography component="span" sx={{ fontWeight: here ? 700 : 600 }}>
              {words}
            </Typography>{" "}
            <Typography component="span" variant="body2" sx={{ ml: 1, color: bad ? STOP : "text.secondary" }}>
              {state}
            </Typography>
          </Box>
        );
      })}
    </Stack>
  );
}
