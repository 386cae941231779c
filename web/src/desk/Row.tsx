/** A job in the list: picture, order in a line, roles, how far it is, what holds it up. */
import { Box, LinearProgress, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { JobRow } from "../api/client";
import { STOP } from "../theme";
import { RoleSign } from "../stage/RoleLine";
import { Thumb } from "./Thumb";

const STATIONS = ["Check", "Lines", "Sheet", "Cut", "Release"];

export const orderLine = (job: JobRow) => {
  const { width_mm: w, height_mm: h, quantity, edge } = job.order;
  const size = w && h ? `${w} × ${h} mm` : "size not said";
  const edges: Record<string, string> = { bleed: "colour over the cut", border: "blank border", either: "any edge" };
  return `${quantity} of ${size} · ${job.material} · ${edges[edge ?? "either"]}`;
};

export function Row({ job }: { job: JobRow }) {
  const busy = job.work?.state === "running" || job.work?.state === "waiting";
  return (
    <Box component="li">
      <Stack component={Link} to={`/jobs/${job.id}`} direction="row" spacing={2} sx={{
        alignItems: "center", bgcolor: "background.paper", p: 1, color: "inherit", textDecoration: "none",
        "&:hover": { bgcolor: "#FAFAFA" },
      }}>
        <Thumb job={job} />
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography sx={{ fontWeight: 700 }} noWrap>{job.name}</Typography>
          <Typography variant="body2" color="text.secondary" noWrap>
            {job.customer ? `${job.customer} · ` : ""}{orderLine(job)}
          </Typography>
        </Box>
        <Stack sx={{ width: 130 }}>
          {job.roles.map((role) => (
            <Stack key={role} direction="row" spacing={0.5} sx={{ alignItems: "center" }}>
              <RoleSign role={role} />
              <Typography variant="body2">{role.replace("-", " ")}</Typography>
            </Stack>
          ))}
        </Stack>
        <Stack direction="row" spacing={0.5} role="img" aria-label={`${job.reached} of 5 stations done`}>
          {STATIONS.map((station, i) => (
            <Box key={station} title={station} sx={{
              width: 10, height: 10, borderRadius: "50%", border: "1.5px solid #555",
              bgcolor: i < job.reached ? "#555" : "transparent",
            }} />
          ))}
        </Stack>
        <Box sx={{ width: 350 }}>
          {busy ? (
            <>
              <Typography variant="body2">{job.work?.what}</Typography>
              <LinearProgress variant="determinate" value={100 * (job.work?.share ?? 0)} aria-label="progress" />
            </>
          ) : (
            <Typography variant="body2" sx={{ display: "-webkit-box", WebkitLineClamp: 2, WebkitBoxOrient: "vertical", overflow: "hidden" }}>
              {job.stops > 0 && <b style={{ color: STOP }}>{job.stops} stop{job.stops > 1 ? "s" : ""}: </b>}
              {job.holds}
            </Typography>
          )}
        </Box>
        <Typography variant="body2" sx={{ width: 90 }}>{job.due ? `due ${job.due.slice(5).split("-").reverse().join(".")}` : "no date"}</Typography>
      </Stack>
    </Box>
  );
}
