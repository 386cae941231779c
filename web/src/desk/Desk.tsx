/** All jobs, due first. Files and folders dropped anywhere, or pasted, are taken in. */
import {
  Alert,
  Autocomplete,
  Box,
  Button,
  LinearProgress,
  Stack,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState, type ChangeEvent } from "react";
import type { JobRow } from "../api/client";
import { queries } from "../api/queries";
import { Arrivals } from "./Arrivals";
import { Row } from "./Row";
import { filesOf, useTakingIn } from "./takingIn";

const FILTERS: Record<string, (job: JobRow) => boolean> = {
  all: () => true,
  "asks something": (job) => job.asks > 0,
  stopped: (job) => !!job.stops,
  "to look at": (job) => job.stops === 0 && !!job.looks,
  "ready to cut": (job) => job.reached === 5,
};
const KINDS = ".pdf,.ai,.eps,.ps,.svg,.png,.jpg,.jpeg,.tif,.tiff,.plt,.hpgl,.hpg,.dxf";

export function Desk() {
  const jobs = useQuery(queries.jobs());
  const taking = useTakingIn();
  const [filter, setFilter] = useState("all");
  const [search, setSearch] = useState("");
  const [customer, setCustomer] = useState("");
  const [over, setOver] = useState(false);
  const { add } = taking;
  usePasted((files) => add(files, customer));
  const all = jobs.data;
  const wanted = search.toLowerCase();
  const listed = (all ?? [])
    .filter(FILTERS[filter] ?? (() => true))
    .filter((job) => `${job.name} ${job.customer}`.toLowerCase().includes(wanted));
  const customers = [...new Set((all ?? []).map((job) => job.customer).filter(Boolean))];
  return (
    <Box
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void filesOf(event.dataTransfer).then((found) => add(found, customer));
      }}
      sx={{
        minHeight: "100%",
        px: 3,
        py: 2,
        outline: over ? "3px solid" : "none",
        outlineColor: "primary.main",
        outlineOffset: -6,
      }}
    >
      <Stack direction="row" useFlexGap spacing={1.5} sx={{ alignItems: "center", mb: 1 }}>
        <Typography variant="h1">Desk</Typography>
        <Box sx={{ flex: 1 }} />
        <Typography variant="body2" color="text.secondary" sx={{ maxWidth: 300, lineHeight: 1.25 }}>
          Drop or paste artwork anywhere: PDF, EPS, SVG, PNG, JPEG, TIFF; lines as DXF or HP-GL.
        </Typography>
        <Autocomplete
          freeSolo
          options={customers}
          inputValue={customer}
          onInputChange={(_, next) => setCustomer(next)}
          sx={{ width: 200 }}
          renderInput={(field) => <TextField {...field} label="For which customer" />}
        />
        <Choosers onFiles={(files) => add(files, customer)} />
      </Stack>
      <Stack direction="row" spacing={1.5} sx={{ alignItems: "center", mb: 1.5 }}>
        <ToggleButtonGroup
          size="small"
          exclusive
          value={filter}
          onChange={(_, next) => next && setFilter(next)}
          aria-label="which jobs"
        >
          {Object.entries(FILTERS).map(([words, test]) => (
            <ToggleButton key={words} value={words}>
              {words} · {all ? all.filter(test).length : "…"}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <TextField
          label="Search"
          value={search}
          onChange={(e) => setSearch(e.target.value)}
          sx={{ width: 220 }}
        />
      </Stack>
      {jobs.isPending && <LinearProgress aria-label="loading" />}
      {jobs.isError && <Alert severity="error">{jobs.error.message}</Alert>}
      <Arrivals
        arrivals={taking.arrivals}
        onStop={taking.stop}
        onAgain={taking.again}
        onClear={taking.clear}
      />
      {all && !listed.length && (
        <Typography color="text.secondary" sx={{ py: 8, textAlign: "center" }}>
          {all.length ? "No job fits the filter." : "No jobs yet. Drop a customer's file here."}
        </Typography>
      )}
      <Stack component="ul" aria-label="jobs" spacing={0.5} sx={{ listStyle: "none", p: 0, m: 0 }}>
        {listed.map((job) => (
          <Row key={job.id} job={job} />
        ))}
      </Stack>
    </Box>
  );
}

/** Files that are pasted anywhere on the page. */
function usePasted(onFiles: (files: File[]) => void) {
  const heard = useRef(onFiles);
  useEffect(() => {
    heard.current = onFiles;
  });
  useEffect(() => {
    const onPaste = (event: ClipboardEvent) => {
      const found = [...(event.clipboardData?.files ?? [])];
      if (!found.length) return;
      event.preventDefault();
      heard.current(found);
    };
    window.addEventListener("paste", onPaste);
    return () => window.removeEventListener("paste", onPaste);
  }, []);
}

/** The buttons for those who do not drop. */
function Choosers({ onFiles }: { onFiles: (files: File[]) => void }) {
  const files = useRef<HTMLInputElement>(null);
  const folder = useRef<HTMLInputElement>(null);
  const chosen = (event: ChangeEvent<HTMLInputElement>) => {
    onFiles([...(event.target.files ?? [])]);
    event.target.value = "";
  };
  return (
    <>
      <Button variant="outlined" size="medium" onClick={() => folder.current?.click()}>
        Choose a folder
      </Button>
      <Button variant="contained" size="medium" onClick={() => files.current?.click()}>
        Choose files
      </Button>
      <input
        ref={files}
        type="file"
        accept={KINDS}
        multiple
        hidden
        aria-label="customer's files"
        data-testid="files"
        onChange={chosen}
      />
      <input
        ref={folder}
        type="file"
        multiple
        hidden
        aria-label="a folder of customer's files"
        data-testid="folder"
        {...{ webkitdirectory: "" }}
        onChange={chosen}
      />
    </>
  );
}
