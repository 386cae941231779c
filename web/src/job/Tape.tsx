/** The stations as a graduated tape; each mark says clean, what is left, or that it is not known yet. */
import { Box, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Job } from "../api/client";
import { STOP } from "../ui/theme";
import { plural } from "../ui/words";

export type Station = "check" | "lines" | "stack" | "sheet" | "cut" | "release";
const STATIONS: [Station, string][] = [
  ["check", "Check"],
  ["lines", "Lines"],
  ["stack", "Stack"],
  ["sheet", "Sheet"],
  ["cut", "Cut"],
  ["release", "Release"],
];
const OF_LINES = /^(line|ink\.near)/;
const NOT_REACHED: [string, boolean] = ["not yet", false];

/** The stations of a job; that of stacks is on the tape where the job has one. */
const stationsOf = (job: Job, here: Station) =>
  STATIONS.filter(([key]) => key !== "stack" || job.stack !== null || here === "stack");

/** What a station says of itself, and whether that is bad. */
export function stateOf(job: Job, station: Station): [string, boolean] {
  const { seen, sheet, cut, stops } = job;
  if (station === "stack")
    return !job.stack ? ["none", false] : [job.stacks.some((one) => one.current) ? "written" : "kept", false];
  if (!seen || stops === null) return NOT_REACHED;
  const left = (n: number): [string, boolean] => (n ? [`${plural(n, "stop")} left`, true] : ["clean", false]);
  if (station === "check") return left(stops);
  if (station === "lines" && !seen.lines.length && !stops)
    return [job.order.roles?.length === 0 ? "print only" : "no line", false];
  if (station === "lines")
    return left(
      job.findings.filter((f) => f.severity === "stop" && !f.decision && OF_LINES.test(f.id)).length,
    );
  if (station === "sheet")
    return !sheet
      ? NOT_REACHED
      : sheet.error
        ? ["does not fit", true]
        : [sheet.columns ? `${sheet.columns} × ${sheet.rows}` : `${sheet.placements.length} nested`, false];
  if (station === "cut")
    return !cut || !sheet || sheet.error
      ? NOT_REACHED
      : [cut.operations.length ? plural(cut.operations.length, "pass", "passes") : "nothing is cut", false];
  if (job.releases.length) return ["released", false];
  if (stops || sheet?.error) return ["blocked", true];
  const looks = job.looks ?? 0;
  return [looks ? `${plural(looks, "look")} open` : "ready", false];
}

export function Tape({ job, station }: { job: Job; station: Station }) {
  return (
    <Stack
      component="nav"
      aria-label="stations"
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
