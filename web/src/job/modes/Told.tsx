/** What the stage tells of the artwork, on top of the docket: it stays in view while the rest is read. */
import { Stack, Typography } from "@mui/material";
import type { ReactNode } from "react";

export function Told({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Stack
      component="section"
      aria-label={title}
      spacing={0.5}
      sx={{ borderBottom: 1, borderColor: "divider", pb: 1.5 }}
    >
      <Typography variant="h2">{title}</Typography>
      {children}
    </Stack>
  );
}
