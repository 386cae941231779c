/** Tries a draft before it is kept: on a job, on names of files, as a letter. */
import {
  Box,
  Button,
  MenuItem,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { ShelfKind } from "../api/client";
import { queries } from "../api/queries";
import { useTryLetter, useTryNames, useTryThing } from "../api/shelfChanges";
import { Failure } from "../help/Failure";
import { Row } from "../ui/Row";
import { Effect } from "./Effect";
import type { Data } from "./form/schema";
import { OnFigure } from "./OnFigure";
import { Sample } from "./Sample";
import { shelf as say } from "../texts/shelf";

interface Props {
  about: ShelfKind;
  id: string | null;
  title: string;
  data: Data;
  /** Whether something of the draft is wrong, so that it cannot be tried yet. */
  wrong: boolean;
}

export function TryIt(props: Props) {
  const { kind, on_jobs } = props.about;
  if (kind === "check-sheet") return null; // tried where it is changed
  if (kind === "cutter")
    return (
      <>
        <OnFigure title={props.title} data={props.data} wrong={props.wrong} />
        {on_jobs && <OnJob {...props} />}
      </>
    );
  if (on_jobs) return <OnJob {...props} />;
  if (kind === "file-names") return <OnNames {...props} />;
  if (kind === "letter") return <AsLetter {...props} />;
  if (kind === "thread")
    return (
      <Typography variant="body2">
        {say.inTheseColours}
        <Sample thing={{ kind, data: props.data }} />
      </Typography>
    );
  if (kind === "perforation")
    return (
      <Typography variant="body2">
        {say.atTrueLength}
        <Sample thing={{ kind, data: props.data }} />
      </Typography>
    );
  return null;
}

/** A job to try something on. */
function JobChoice({ value, onChange }: { value: number | null; onChange: (job: number) => void }) {
  const jobs = useQuery(queries.jobs());
  const checked = (jobs.data ?? []).filter((job) => job.verdict !== null);
  return (
    <TextField
      select
      label={say.jobToTryItOn}
      value={value ?? ""}
      onChange={(event) => onChange(Number(event.target.value))}
      sx={{ width: 300 }}
    >
      {!checked.length && (
        <MenuItem value="" disabled>
          {say.noJobWasCheckedYet}
        </MenuItem>
      )}
      {checked.map((job) => (
        <MenuItem key={job.id} value={job.id}>
          {job.name}
          {job.customer && ` · ${job.customer}`}
        </MenuItem>
      ))}
    </TextField>
  );
}

function OnJob({ about, id, title, data, wrong }: Props) {
  const [job, setJob] = useState<number | null>(null);
  const tried = useTryThing();
  const asked = tried.data?.id;
  const work = useQuery({ ...queries.work(asked ?? 0), enabled: asked !== undefined });
  return (
    <Stack spacing={1} component="section" aria-label={say.tryItLabel}>
      <Row spacing={1}>
        <JobChoice value={job} onChange={setJob} />
        <Button
          variant="outlined"
          disabled={job === null || wrong || tried.isPending}
          onClick={() => job !== null && tried.mutate({ kind: about.kind, id, title, data, job })}
        >
          {say.tryIt}
        </Button>
        <Typography variant="body2" color="text.secondary">
          {say.nothingIsKeptByTrying}
        </Typography>
      </Row>
      <Failure of={tried.error} />
      {work.data && <Effect work={work.data} />}
    </Stack>
  );
}

const SAMPLES = say.saltmarshTrustTernSticker60x60;

function OnNames({ data }: Props) {
  const [names, setNames] = useState(SAMPLES);
  const tried = useTryNames();
  return (
    <Stack spacing={1} component="section" aria-label={say.tryItLabel}>
      <TextField
        label={say.namesOfFilesOneA}
        value={names}
        multiline
        minRows={3}
        onChange={(event) => setNames(event.target.value)}
      />
      <Box>
        <Button
          variant="outlined"
          disabled={tried.isPending}
          onClick={() =>
            tried.mutate({
              pattern: String(data["pattern"] ?? ""),
              names: names
                .split("\n")
                .filter((name) => name.trim())
                .slice(0, 100),
            })
          }
        >
          {say.tryItOnThese}
        </Button>
      </Box>
      <Failure of={tried.error} />
      {tried.data && (
        <Table size="small" aria-label={say.whatTheNamesSay}>
          <TableBody>
            {tried.data.map((one, i) => (
              <TableRow key={i}>
                <TableCell sx={{ overflowWrap: "anywhere" }}>{one.name}</TableCell>
                <TableCell>
                  {one.fits
                    ? Object.entries(one.said)
                        .map(([key, value]) => `${key.replace(/_mm$/, "")}: ${value}`)
                        .join(" · ") || say.saysNothing
                    : say.doesNotFit}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
    </Stack>
  );
}

function AsLetter({ data, wrong }: Props) {
  const tried = useTryLetter();
  return (
    <Stack spacing={1} component="section" aria-label={say.tryItLabel}>
      <Row spacing={1}>
        <Button variant="outlined" disabled={wrong || tried.isPending} onClick={() => tried.mutate({ data })}>
          {say.seeALetterWithThese}
        </Button>
        <Typography variant="body2" color="text.secondary">
          {say.withMadeUpFindings}
        </Typography>
      </Row>
      <Failure of={tried.error} />
      {tried.data && (
        <Box
          role="status"
          aria-label={say.theLetterLabel}
          sx={{ bgcolor: "background.paper", p: 2, whiteSpace: "pre-wrap", maxWidth: 720 }}
        >
          {tried.data.text}
        </Box>
      )}
    </Stack>
  );
}
