/** A job in the list: picture, order in a line, roles, how far it is, what holds it up. */
import { looks } from "../api/looks";
import { Box, Button, LinearProgress, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import { useTakeBack } from "../api/changes";
import type { JobRow } from "../api/client";
import { useMay } from "../api/may";
import { isRunning, useWorkOf } from "../api/progress";
import { Failure } from "../help/Failure";
import { RoleSign } from "../stage/RoleLine";
import { soon } from "../ui/soon";
import { STOP } from "../ui/theme";
import { orderLine } from "./orderLine";
import { Thumb } from "./Thumb";
import { desk as say } from "../texts/desk";

// Few rows ask it: it is fetched when one does.
const LikeLine = soon(() => import("../job/LooksLike").then((room) => room.LikeLine));
const STATIONS = looks.stations.filter((station) => station.counted).map((station) => station.words);
const TWO_LINES = {
  display: "-webkit-box",
  WebkitLineClamp: 2,
  WebkitBoxOrient: "vertical",
  overflow: "hidden",
};

export function Row({ job }: { job: JobRow }) {
  return (
    <Box component="li">
      <Stack
        component={Link}
        to={`/jobs/${job.id}`}
        direction="row"
        spacing={2}
        sx={{
          alignItems: "center",
          bgcolor: "background.paper",
          p: 1,
          color: "inherit",
          textDecoration: "none",
          "&:hover": { bgcolor: "#FAFAFA" },
        }}
      >
        <Thumb job={job} />
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
            <Typography sx={{ fontWeight: 700 }} noWrap>
              {job.name}
            </Typography>
            {job.new && (
              <Box component="span" sx={{ fontSize: 12, border: "1px solid", px: 0.6, lineHeight: 1.4 }}>
                {say.newIt}
              </Box>
            )}
          </Stack>
          <Typography variant="body2" color="text.secondary" noWrap>
            {job.customer ? `${job.customer} · ` : ""}
            {orderLine(job)}
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
        <Pips reached={job.reached} />
        <Box sx={{ width: 350 }}>
          <Holds job={job} />
        </Box>
        <Typography variant="body2" sx={{ width: 90 }}>
          {job.due ? say.due(job.due.slice(5).split("-").reverse().join(".")) : say.noDate}
        </Typography>
      </Stack>
      {job.did.length > 0 && <Did job={job} />}
      {job.like && <LikeLine job={job} />}
    </Box>
  );
}

/** What was mended by itself, which one press takes back. */
function Did({ job }: { job: JobRow }) {
  const undo = useTakeBack();
  const may = useMay("work");
  const work = useWorkOf(job);
  return (
    <Stack
      direction="row"
      spacing={1}
      sx={{ alignItems: "center", bgcolor: "background.paper", pl: 12, pr: 1, pb: 0.5, mt: -1 }}
    >
      <Typography variant="body2" color="text.secondary">
        {say.doneByItself(job.did.join(", "))}
      </Typography>
      {may && (
        <Button
          disabled={undo.isPending || isRunning(work)}
          aria-label={say.takeBackOf(job.name)}
          onClick={() => undo.mutate(job)}
        >
          {say.takeBack}
        </Button>
      )}
      <Failure of={undo.error} />
    </Stack>
  );
}

/** How far a job is, a pip a station. */
function Pips({ reached }: { reached: number }) {
  return (
    <Stack direction="row" spacing={0.5} role="img" aria-label={say.ofStationsDone(reached, STATIONS.length)}>
      {STATIONS.map((station, i) => (
        <Box
          key={station}
          title={station}
          sx={{
            width: 10,
            height: 10,
            borderRadius: "50%",
            border: "1.5px solid #555",
            bgcolor: i < reached ? "#555" : "transparent",
          }}
        />
      ))}
    </Stack>
  );
}

/** The one thing that holds a job up, or how far the work on it is. */
function Holds({ job }: { job: JobRow }) {
  const work = useWorkOf(job);
  if (work && isRunning(work))
    return (
      <>
        <Typography variant="body2">{work.what}</Typography>
        <LinearProgress
          variant="determinate"
          value={100 * work.share}
          aria-label={say.progressOf(job.name)}
        />
      </>
    );
  return (
    <Typography variant="body2" sx={TWO_LINES}>
      {!!job.stops && <b style={{ color: STOP }}>{say.stop(job.stops)}: </b>}
      {job.holds}
    </Typography>
  );
}
