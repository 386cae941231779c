/** The stations as a graduated tape; each mark says clean, what is left, or not reached. */
import { Box, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Job } from "../api/client";
import { STOP } from "../theme";

export type Station = "check" | "lines" | "sheet" | "cut" | "release";
const STATIONS: [Station, string][] = [
  ["check", "Check"], ["lines", "Lines"], ["sheet", "Sheet"], ["cut", "Cut"], ["release", "Release"],
];

const passes = (n: number) => `${n} pass${n === 1 ? "" : "es"}`;

function stateOf(job: Job, station: Station): [string, boolean] {
  if (!job.seen) return ["not reached", false];
  const lineStops = job.findings.filter((f) => f.severity === "stop" && /^(line|ink\.near)/.test(f.id)).length;
  const left = (n: number): [string, boolean] => (n ? [`${n} stop${n > 1 ? "s" : ""} left`, true] : ["clean", false]);
  if (station === "check") return left(job.stops);
  if (station === "lines") return left(lineStops);
  if (station === "sheet") return job.sheet.error ? ["does not fit", true] : [`${job.sheet.columns} × ${job.sheet.rows}`, false];
  if (station === "cut") return job.sheet.error ? ["not reached", false] : [passes(job.cut.operations?.length ?? 0), false];
  return job.releases.length ? ["released", false] : [job.stops ? "blocked" : "ready", job.stops > 0];
}

export function Tape({ job, station }: { job: Job; station: Station }) {
  return (
    <Stack component="nav" aria-label="stations" direction="row" sx={{
      bgcolor: "background.paper", px: 2, borderBottom: "1px solid #CFCFCF",
      backgroundImage: "repeating-linear-gradient(90deg,#999 0 1px,transparent 1px 16px)",
      backgroundSize: "100% 5px", backgroundRepeat: "no-repeat", backgroundPosition: "bottom",
    }}>
      {STATIONS.map(([key, words]) => {
        const [state, bad] = stateOf(job, key);
        const here = key === station;
        return (
          <Box key={key} component={Link} to={`/jobs/${job.id}/${key}`} aria-current={here ? "step" : undefined} sx={{
            flex: 1, color: "inherit", textDecoration: "none", pb: 1.2, pt: 0.3, pl: 1,
            borderLeft: "2px solid #555", bgcolor: here ? "rgba(11,92,99,.10)" : "transparent",
          }}>
            <Typography component="span" sx={{ fontWeight: here ? 700 : 600 }}>{words}</Typography>{" "}
            <Typography component="span" variant="body2" sx={{ ml: 1, color: bad ? STOP : "text.secondary" }}>{state}</Typography>
          </Box>
        );
      })}
    </Stack>
  );
}
