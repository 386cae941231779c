/** The right-hand side of a station. */
import { Stack, Typography } from "@mui/material";
import type { ReactNode } from "react";

export function Docket({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Stack
      component="aside"
      aria-label={title}
      spacing={1.5}
      sx={{
        width: 380,
        flex: "none",
        overflowY: "auto",
        bgcolor: "background.paper",
        p: 2,
      }}
    >
      <Typography variant="h2">{title}</Typography>
      {children}
    </Stack>
  );
}

/** A figure with its words. */
export function Figure({ words, children }: { words: string; children: ReactNode }) {
  return (
    <Stack direction="row" sx={{ justifyContent: "space-between", gap: 2 }}>
      <Typography variant="body2" color="text.secondary">
        {words}
      </Typography>
      <Typography variant="body2" sx={{ fontWeight: 600, textAlign: "right" }}>
        {children}
      </Typography>
    </Stack>
  );
}
