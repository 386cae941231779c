/** A finding in plain words, the measured value beside its limit, and the mends that answer it. */
import { Box, Button, Stack, Typography } from "@mui/material";
import type { Finding, Mend } from "../api/client";
import { LOOK, MONO, STOP } from "../theme";

const UNITS_OF_COUNT = new Set(["objects", "names", "roles", "inks", "texts", "repairs", "locks", "pages"]);

const measure = (finding: Finding) =>
  finding.measured === null || UNITS_OF_COUNT.has(finding.unit)
    ? `${finding.count} ${finding.count === 1 ? "place" : "places"}`
    : `${Number(finding.measured.toFixed(2))} ${finding.unit}, limit ${Number(finding.limit.toFixed(2))} ${finding.unit}`;

interface Props {
  finding: Finding;
  chosen: boolean;
  onChoose: () => void;
  onMend: (mend: Mend) => void;
  busy: boolean;
}

export function FindingCard({ finding, chosen, onChoose, onMend, busy }: Props) {
  const colour = finding.severity === "stop" ? STOP : LOOK;
  return (
    <Box data-finding={finding.id} sx={{ borderLeft: `4px solid ${colour}`, pl: 1.5, py: 0.5, bgcolor: chosen ? "#EEF3F3" : "transparent" }}>
      <Box component="button" type="button" onClick={onChoose} aria-pressed={chosen} sx={{
        display: "block", width: "100%", textAlign: "left", border: 0, bgcolor: "transparent", p: 0, font: "inherit", color: "inherit", cursor: "pointer",
      }}>
        <Stack direction="row" sx={{ justifyContent: "space-between" }}>
          <Typography variant="body2" sx={{ fontFamily: MONO, color: "text.secondary" }}>{finding.id}</Typography>
          <Typography variant="body2" sx={{ fontWeight: 600 }}>{measure(finding)}</Typography>
        </Stack>
        <Typography variant="body2">{finding.message}</Typography>
      </Box>
      {chosen && finding.detail && <Typography variant="body2" color="text.secondary">{finding.detail}</Typography>}
      {finding.mends.map((mend) => (
        <Box key={mend.label} sx={{ mt: 0.5 }}>
          <Button variant={chosen ? "contained" : "outlined"} disabled={busy} onClick={() => onMend(mend)}>{mend.label}</Button>
          {chosen && <Typography variant="body2" color="text.secondary" sx={{ mt: 0.3 }}>{mend.says}</Typography>}
        </Box>
      ))}
    </Box>
  );
}
