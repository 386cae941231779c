/** A file that is dropped on a job is taken as its corrected one. */
import { Box, Stack, Typography } from "@mui/material";
import { useState, type ReactNode } from "react";
import { useOtherFile } from "../api/changes";
import type { Job } from "../api/client";
import { useMay } from "../api/may";
import { Failure } from "../help/Failure";
import { pile as say } from "../texts/pile";

export function DropOver({ job, children }: { job: Job; children: ReactNode }) {
  const [over, setOver] = useState(false);
  const other = useOtherFile(job.id);
  const may = useMay("take-in");
  return (
    <Stack
      sx={{ height: "100%", position: "relative" }}
      onDragOver={(event) => {
        if (!may || !event.dataTransfer.types.includes("Files")) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget as Node | null)) setOver(false);
      }}
      onDrop={(event) => {
        const file = event.dataTransfer.files[0];
        setOver(false);
        if (!may || !file) return;
        event.preventDefault();
        other.mutate(file);
      }}
    >
      {children}
      <Failure of={other.error} />
      {over && (
        <Box
          sx={{
            position: "absolute",
            inset: 0,
            display: "grid",
            placeItems: "center",
            bgcolor: "rgba(255,255,255,.85)",
            border: "3px solid",
            borderColor: "primary.main",
            pointerEvents: "none",
            zIndex: 10,
          }}
        >
          <Typography variant="h1">{say.dropHere}</Typography>
        </Box>
      )}
    </Stack>
  );
}
