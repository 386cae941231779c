/** An ink: its colour on screen, its exact name in mono with what is odd about it made visible, what it is and how much. */
import { Box, Stack, Typography } from "@mui/material";
import type { Job } from "../../api/client";
import { mm } from "../../ui/words";
import { MONO, STOP } from "../../ui/theme";

type Ink = NonNullable<Job["seen"]>["inks"][number];
const STYLES: Record<string, object> = {
  extra: { textDecoration: "line-through", color: STOP, fontWeight: 700 },
  other: { bgcolor: "#F6D5D2", color: STOP, fontWeight: 700 },
  missing: { borderBottom: `2px solid ${STOP}`, color: STOP, opacity: 0.75 },
};
/** Characters that look like nothing or like another; each with a sign and its name. */
const ODD: Record<string, [string, string]> = {
  "\u00a0": ["⍽", "no-break space"],
  "\u200b": ["◌", "zero-width space"],
  "\u200c": ["◌", "zero-width non-joiner"],
  "\u200d": ["◌", "zero-width joiner"],
  "\ufeff": ["◌", "byte order mark"],
  "\u00ad": ["◌", "soft hyphen"],
  "\t": ["⇥", "tab"],
  "\u2010": ["‐", "hyphen that is no minus"],
  "\u2011": ["‑", "no-break hyphen"],
  "\u2013": ["–", "en dash"],
  "\u2014": ["—", "em dash"],
};

function Visible({ text }: { text: string }) {
  const ends = text.length - text.trimEnd().length;
  return (
    <>
      {[...text].map((letter, i) => {
        const odd = ODD[letter];
        const edge = letter === " " && (i < text.length - text.trimStart().length || i >= text.length - ends);
        const foreign = !odd && letter > "\u024f";
        if (odd || edge || foreign)
          return (
            <Box
              key={i}
              component="span"
              title={
                odd?.[1] ??
                (edge ? "space at the end" : `U+${letter.codePointAt(0)?.toString(16).padStart(4, "0")}`)
              }
              sx={{ bgcolor: "#F6D5D2", fontWeight: 700 }}
            >
              {odd?.[0] ?? (edge ? "␣" : letter)}
            </Box>
          );
        return letter === " " ? (
          <span key={i} style={{ color: "#8A8A8A" }}>
            ␣
          </span>
        ) : (
          letter
        );
      })}
    </>
  );
}

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
        ? `${plate.area_cm2 < 10 ? plate.area_cm2.toFixed(2) : plate.area_cm2.toFixed(0)} cm² of full ink`
        : "";
  return (
    <Stack direction="row" spacing={1} sx={{ alignItems: "flex-start" }} data-ink-row={ink.name}>
      <Box
        component="button"
        type="button"
        onClick={onAlone}
        disabled={!onAlone || !plate}
        title="show this ink alone"
        aria-label={`show ${ink.name} alone`}
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
                <Visible text={run.text} />
              </Box>
            ))
          )}
        </Box>
        <Typography variant="body2" color="text.secondary">
          {ink.role ? `${ink.role.replace("-", " ")}${exact ? "" : `, wants ${ink.wanted}`}` : ink.kind} ·{" "}
          {ink.objects} object{ink.objects === 1 ? "" : "s"}
          {much && ` · ${much}`}
        </Typography>
      </Box>
    </Stack>
  );
}
