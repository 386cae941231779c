/** Release: blocked while a stop is open; then the package, with what was measured on it. */
import { Alert, Button, Link as Anchor, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Job } from "../api/client";
import { useRelease } from "../api/hooks";
import { Stage } from "../stage/Stage";
import { MONO } from "../theme";
import { isBusy } from "./Check";
import { Docket, Figure } from "./Docket";
import { SheetView } from "./SheetView";

const size = (bytes: number) => (bytes < 1e6 ? `${(bytes / 1000).toFixed(1)} kB` : `${(bytes / 1e6).toFixed(1)} MB`);

export function Release({ job }: { job: Job }) {
  const release = useRelease(job.id);
  const sheet = job.sheet;
  const fits = !sheet.error && sheet.placements?.length;
  const stops = job.findings.filter((finding) => finding.severity === "stop");
  const ready = fits && !stops.length && !isBusy(job);
  return (
    <>
      <Stage bounds={fits ? [0, 0, sheet.width_mm, sheet.length_mm] : [0, 0, 1000, 600]} label="Sheet to be released">
        {() => (fits ? <SheetView job={job} /> : null)}
      </Stage>
      <Docket title={stops.length ? "Blocked" : "Release"}>
        {stops.length > 0 && (
          <Alert severity="error">
            {stops.length} stop{stops.length > 1 ? "s are" : " is"} open: {stops.map((s) => s.id).join(", ")}.{" "}
            <Link to={`/jobs/${job.id}/check`}>Mend them in Check</Link>
          </Alert>
        )}
        {sheet.error && <Alert severity="error">{sheet.error}</Alert>}
        <Typography variant="body2">
          Writes the print PDF (art and marks, each line role on its own layer, set not to print), the cut file and the
          ticket; then reads the cut file back. More than 0.05 mm off and nothing is released.
        </Typography>
        <Button variant="contained" size="medium" disabled={!ready} onClick={() => release.mutate(undefined)}>
          Release {sheet.placements?.length ?? 0} copies
        </Button>
        {release.isError && <Alert severity="error">{release.error.message}</Alert>}
        {job.releases.map((made) => (
          <Stack key={made.id} spacing={0.5} data-release={made.id}>
            <Typography sx={{ fontWeight: 700 }}>Package {made.id}, {new Date(made.created).toLocaleString("en-GB")}</Typography>
            <Figure words="Cut as written lies from cut as meant at most">{made.worst_off_mm.toFixed(4)} mm</Figure>
            {made.files.map((file) => (
              <Stack key={file.name} direction="row" sx={{ justifyContent: "space-between" }}>
                <Anchor href={`/api/bench/${made.id}/files/${file.name}`} sx={{ fontFamily: MONO, fontSize: 13, wordBreak: "break-all" }}>{file.name}</Anchor>
                <Typography variant="body2">{size(file.bytes)}</Typography>
              </Stack>
            ))}
            <Button component={Link} to={`/bench?release=${made.id}`} variant="outlined">Go to the bench</Button>
          </Stack>
        ))}
        <Typography variant="h2">What was decided</Typography>
        {job.decisions.slice(0, 12).map((decision, i) => (
          <Typography key={i} variant="body2" color="text.secondary">
            {new Date(decision.when).toLocaleTimeString("en-GB")} {decision.who}: {decision.what}
          </Typography>
        ))}
      </Docket>
    </>
  );
}
