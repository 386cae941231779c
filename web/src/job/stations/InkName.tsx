/** An ink: its colour on screen, its exact name in mono with what is odd about it made visible, what it is and how much. */
import { Box, Stack, Typography } from "@mui/material";
import type { Job } from "../../api/client";
import { Visible } from "../../ui/Letters";
import { MONO, STOP } from "../../ui/theme";
import { mm } from "../../ui/words";
import { stations as say } from "../../texts/stations";

type Ink = NonNullable<Job["seen"]>["inks"][number];
const STYLES: Record<string, object> = {
  extra: { textDecoration: "line-through", color: STOP, fontWeight: 700 },
  other: { bgcolor: "#F6D5D2", color: STOP, fontWeight: 700 },
  missing: { borderBottom: `2px solid ${STOP}`, color: STOP, opacity: 0.75 },
};
export function InkName({ job, ink, onAlone }: { job: Job; ink: Ink; onAlone?: () => void }) {
  const exact = ink.name === ink.wanted;
  const plate = job.plates?.inks.find((one) => one.name === ink.name);
  const drawn =
    job.seen?.lines.filter((line) => line.ink === ink.name).reduce((sum, line) => sum + line.length_mm, 0) ??
    0;
  const much =
    ink.kind === "line"
      ? drawn
        ? mm(drawn, 0)
        : ""
      : plate
        ? say.cmOfFullInk(plate.area_cm2 < 10 ? plate.area_cm2.toFixed(2) : plate.area_cm2.toFixed(0))
        : "";
  return (
    <Stack direction="row" spacing={1} sx={{ alignItems: "flex-start" }} data-ink-row={ink.name}>
      <Box
        component="button"
        type="button"
        onClick={onAlone}
        disabled={!onAlone || !plate}
        title={say.showThisInkAlone}
        aria-label={say.showAlone(ink.name)}
        sx={{
          width: 20,
          height: 20,
          mt: 0.25,
          flex: "none",
          bgcolor: plate?.colour ?? "transparent",
          border: "1px solid #777",
          p: 0,
          cursor: "pointer",
        }}
      />
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Box sx={{ fontFamily: MONO, overflowWrap: "anywhere" }} aria-label={ink.name}>
          {exact ? (
            <Visible text={ink.name} />
          ) : (
            ink.spelling.map((run, i) => (
              <Box key={i} component="span" title={run.kind} sx={STYLES[run.kind] ?? {}}>
                <Visible text={run.text || run.wanted} />
              </Box>
            ))
          )}
        </Box>
        <Typography variant="body2" color="text.secondary">
          {ink.role ? `${ink.role.replace("-", " ")}${exact ? "" : say.wants(ink.wanted)}` : ink.kind} ·{" "}
          {say.object(ink.objects)}
          {much && ` · ${much}`}
        </Typography>
      </Box>
    </Stack>
  );
}
