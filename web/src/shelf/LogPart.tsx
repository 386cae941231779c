/** The log of the shop: who did what to which job, thing or person, and when; filtered, and taken out as CSV. */
import {
  Button,
  LinearProgress,
  MenuItem,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { Link } from "react-router";
import type { LogPage, LogTopic } from "../api/client";
import { LOG_ROWS, queries, type LogWanted } from "../api/queries";
import { Failure } from "../help/Failure";
import { Row, Spacer } from "../ui/Row";
import { moment } from "../ui/words";
import { common } from "../texts/common";
import { shelf as say } from "../texts/shelf";

const TOPICS: readonly (readonly [LogTopic, string])[] = [
  ["job", "jobs"],
  ["sheet", say.sharedSheets],
  ["shelf", say.theShelf],
  ["person", "people"],
];

export function LogPart() {
  const [by, setBy] = useState<LogWanted>({});
  const [offset, setOffset] = useState(0);
  const wanted = useDeferredValue(by);
  const log = useQuery(queries.log(wanted, offset));
  const change = (next: LogWanted) => {
    setOffset(0);
    setBy(Object.fromEntries(Object.entries({ ...by, ...next }).filter(([, value]) => value)));
  };
  return (
    <Stack spacing={1.5} component="section" aria-label={say.logLabel}>
      <Row spacing={1}>
        <Typography variant="h1">{say.log}</Typography>
        <Spacer />
        <Button variant="outlined" href={`/api/log/export?${new URLSearchParams({ ...by }).toString()}`}>
          {say.takeItOutAsCsv}
        </Button>
      </Row>
      <Typography variant="body2" color="text.secondary">
        {say.nobodyCanChangeItOr}
      </Typography>
      <Filters by={by} people={log.data?.people ?? []} onChange={change} />
      {log.isPending && <LinearProgress aria-label={say.loadingTheLog} />}
      <Failure of={log.error} />
      {log.data && <Entries page={log.data} offset={offset} onOffset={setOffset} />}
    </Stack>
  );
}

interface FilterProps {
  by: LogWanted;
  people: string[];
  onChange: (next: LogWanted) => void;
}

function Filters({ by, people, onChange }: FilterProps) {
  const shrink = { inputLabel: { shrink: true } };
  return (
    <Row spacing={1} useFlexGap sx={{ flexWrap: "wrap" }} role="search" aria-label={say.whichEntriesLabel}>
      <TextField
        select
        label={say.about}
        value={by.topic ?? ""}
        onChange={(event) => onChange({ topic: event.target.value as LogTopic })}
        sx={{ width: 150 }}
        slotProps={{ ...shrink, select: { displayEmpty: true } }}
      >
        <MenuItem value="">{say.everything}</MenuItem>
        {TOPICS.map(([topic, words]) => (
          <MenuItem key={topic} value={topic}>
            {words}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label={say.by2}
        value={by.who ?? ""}
        onChange={(event) => onChange({ who: event.target.value })}
        sx={{ width: 160 }}
        slotProps={{ ...shrink, select: { displayEmpty: true } }}
      >
        <MenuItem value="">{say.everybody}</MenuItem>
        {people.map((name) => (
          <MenuItem key={name} value={name}>
            {name}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        label={say.withTheseWords}
        value={by.search ?? ""}
        onChange={(event) => onChange({ search: event.target.value })}
        sx={{ width: 220 }}
      />
      {(["since", "until"] as const).map((end) => (
        <TextField
          key={end}
          label={end === "since" ? say.from2 : say.to2}
          type="date"
          value={by[end] ?? ""}
          onChange={(event) => onChange({ [end]: event.target.value })}
          slotProps={shrink}
          sx={{ width: 160 }}
        />
      ))}
    </Row>
  );
}

interface EntriesProps {
  page: LogPage;
  offset: number;
  onOffset: (offset: number) => void;
}

function Entries({ page, offset, onOffset }: EntriesProps) {
  return (
    <>
      <Row spacing={1}>
        <Typography variant="body2" role="status">
          {say.entry(page.count)}
          {page.count > LOG_ROWS && say.to3(offset + 1, Math.min(offset + LOG_ROWS, page.count))}
        </Typography>
        <Button disabled={offset === 0} onClick={() => onOffset(Math.max(0, offset - LOG_ROWS))}>
          {say.later}
        </Button>
        <Button disabled={offset + LOG_ROWS >= page.count} onClick={() => onOffset(offset + LOG_ROWS)}>
          {say.earlier}
        </Button>
      </Row>
      <Table size="small" aria-label={say.logLabel}>
        <TableHead>
          <TableRow>
            <TableCell>{say.when}</TableCell>
            <TableCell>{say.who}</TableCell>
            <TableCell>{say.onWhat}</TableCell>
            <TableCell>{say.whatWasDone}</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {page.entries.map((one) => (
            <TableRow key={one.id} sx={{ verticalAlign: "top" }}>
              <TableCell sx={{ whiteSpace: "nowrap" }}>{moment(one.when)}</TableCell>
              <TableCell sx={{ maxWidth: 140, overflowWrap: "anywhere" }}>
                {one.who || common.theShop}
              </TableCell>
              <TableCell sx={{ maxWidth: 240, overflowWrap: "anywhere" }}>
                <About of={one} />
              </TableCell>
              <TableCell sx={{ overflowWrap: "anywhere" }}>{one.what}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </>
  );
}

function About({ of }: { of: LogPage["entries"][number] }) {
  const to = of.job ? `/jobs/${of.job}` : of.sheet ? `/shared/${of.sheet}` : "";
  return to ? <Link to={to}>{of.about}</Link> : <>{of.about}</>;
}
