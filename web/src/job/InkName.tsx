/** An ink's name in mono, spaces visible, with the letters that keep it from being the exact one. */
import { Box, Stack, Typography } from "@mui/material";
import type { Job } from "../api/client";
import { MONO, STOP } from "../theme";

type Ink = NonNullable<Job["seen"]>["inks"][number];
const visible = (text: string) => text.replaceAll(" ", "␣");
const STYLES: Record<string, object> = {
  extra: { textDecoration: "line-through", color: STOP, fontWeight: 700 },
  other: { bgcolor: "#F6D5D2", color: STOP, fontWeight: 700 },
  missing: { borderBottom: `2px solid ${STOP}`, color: STOP, opacity: 0.75 },
};

export function InkName({ ink }: { ink: Ink }) {
  const exact = ink.name === ink.wanted;
  return (
    <Stack direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
      <Box sx={{ fontFamily: MONO, flex: 1, wordBreak: "break-all" }} aria-label={ink.name}>
        {exact ? visible(ink.name) : ink.spelling.map((run, i) => (
          <Box key={i} component="span" title={run.kind} sx={STYLES[run.kind] ?? {}}>{visible(run.text)}</Box>
        ))}
      </Box>
      <Typography variant="body2" color="text.secondary">
        {ink.role ? `${ink.role.replace("-", " ")}${exact ? "" : `, wants ${ink.wanted}`}` : ink.kind}
      </Typography>
    </Stack>
  );
}
