/** A panel that lies over the stage. */
import { Stack } from "@mui/material";
import type { ReactNode } from "react";

export function Panel({ children }: { children: ReactNode }) {
  return (
    <Stack
      spacing={0.5}
      sx={{
        position: "absolute",
        top: 10,
        right: 10,
        width: 250,
        maxHeight: "80%",
        overflowY: "auto",
        bgcolor: "rgba(255,255,255,.95)",
        p: 1,
      }}
    >
      {children}
    </Stack>
  );
}
