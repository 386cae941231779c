/** All jobs, due first. Files dropped anywhere are taken in. */
import { Alert, Box, Button, LinearProgress, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useRef, useState } from "react";
import type { JobRow } from "../api/client";
import { useJobs, useTakeIn } from "../api/hooks";
import { Row } from "./Row";

const FILTERS: Record<string, (job: JobRow) => boolean> = {
  all: () => true,
  stopped: (job) => job.stops > 0,
  "to look at": (job) => job.stops === 0 && job.looks > 0,
  "ready to cut": (job) => job.reached === 5,
};

export function Desk() {
  const jobs = useJobs();
  const takeIn = useTakeIn();
  const [filter, setFilter] = useState("all");
  const [search, setSearch] = useState("");
  const [over, setOver] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const take = (files: FileList | null) => files?.length && takeIn.mutate([...files]);
  const listed = (jobs.data ?? [])
    .filter(FILTERS[filter] ?? (() => true))
    .filter((job) => `${job.name} ${job.customer}`.toLowerCase().includes(search.toLowerCase()));
  return (
    <Box
      onDragOver={(event) => { event.preventDefault(); setOver(true); }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => { event.preventDefault(); setOver(false); take(event.dataTransfer.files); }}
      sx={{ minHeight: "100%", px: 3, py: 2, outline: over ? "3px solid" : "none", outlineColor: "primary.main", outlineOffset: -6 }}
    >
      <Stack direction="row" spacing={2} sx={{ alignItems: "center", mb: 2 }}>
        <Typography variant="h1">Desk</Typography>
        <ToggleButtonGroup size="small" exclusive value={filter} onChange={(_, next) => next && setFilter(next)} aria-label="which jobs">
          {Object.entries(FILTERS).map(([words, test]) => (
            <ToggleButton key={words} value={words}>
              {words} · {(jobs.data ?? []).filter(test).length}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <TextField label="Search" value={search} onChange={(e) => setSearch(e.target.value)} sx={{ width: 220 }} />
        <Box sx={{ flex: 1 }} />
        <Typography variant="body2" color="text.secondary">Drop PDFs anywhere, or</Typography>
        <Button variant="contained" onClick={() => input.current?.click()}>Choose files</Button>
        <input ref={input} type="file" accept="application/pdf" multiple hidden aria-label="customer's PDF"
          onChange={(event) => { take(event.target.files); event.target.value = ""; }} />
      </Stack>
      {(jobs.isPending || takeIn.isPending) && <LinearProgress aria-label="loading" />}
      {takeIn.isError && <Alert severity="error" sx={{ mb: 1 }}>{takeIn.error.message}</Alert>}
      {jobs.isError && <Alert severity="error">{jobs.error.message}</Alert>}
      {jobs.data && !listed.length && (
        <Typography color="text.secondary" sx={{ py: 8, textAlign: "center" }}>
          {jobs.data.length ? "No job fits the filter." : "No jobs yet. Drop a customer's PDF here."}
        </Typography>
      )}
      <Stack component="ul" spacing={0.5} sx={{ listStyle: "none", p: 0, m: 0 }}>
        {listed.map((job) => <Row key={job.id} job={job} />)}
      </Stack>
    </Box>
  );
}
