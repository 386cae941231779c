/** The figures of the shop: what came in and with what faults, how soon it was ready, what was printed and wasted. */
import {
  Box,
  Button,
  LinearProgress,
  Link as Anchor,
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
import { useState, type ReactNode } from "react";
import { Link } from "react-router";
import type { Figures as Shown } from "../api/client";
import { pileQueries } from "../api/pileQueries";
import { Failure } from "../help/Failure";
import { Row, Spacer } from "../ui/Row";
import { soon } from "../ui/soon";
import { metres } from "../ui/words";
import { common } from "../texts/common";
import { figures as say } from "../texts/figures";

const Arrived = soon(() => import("./charts").then((room) => room.Arrived));
const Kinds = soon(() => import("./charts").then((room) => room.Kinds));
const Media = soon(() => import("./charts").then((room) => room.Media));

const WEEKS = 12;
const iso = (at: Date) => at.toISOString().slice(0, 10);
const before = (days: number) => iso(new Date(Date.now() - days * 864e5));

export function Figures() {
  const [since, setSince] = useState(() => before(WEEKS * 7));
  const [until, setUntil] = useState(() => before(0));
  const figures = useQuery(pileQueries.figures(since, until));
  const dated = (label: string, value: string, change: (value: string) => void) => (
    <TextField
      type="date"
      label={label}
      value={value}
      onChange={(e) => e.target.value && change(e.target.value)}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  );
  return (
    <Stack spacing={1.5} sx={{ px: 3, py: 2 }}>
      <Row spacing={1.5}>
        <Typography variant="h1">{say.figures}</Typography>
        <Spacer />
        {dated(say.from, since, setSince)}
        {dated(say.until, until, setUntil)}
      </Row>
      {figures.isPending && <LinearProgress aria-label={common.loadingLabel} />}
      <Failure of={figures.error} />
      {figures.data && <All of={figures.data} />}
    </Stack>
  );
}

function All({ of }: { of: Shown }) {
  const csv = (which: string) => `/api/figures/${which}.csv?since=${of.since}&until=${of.until}`;
  return (
    <>
      <Summary of={of} />
      <Box sx={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr) minmax(0, 1fr)", gap: 2 }}>
        <Part title={say.arrived} csv={csv("weeks")}>
          {of.files > 0 ? <Arrived of={of} /> : <Typography variant="body2">{say.noFiles}</Typography>}
        </Part>
        <Part title={say.printed} csv={csv("weeks")}>
          {of.sheets > 0 ? <Media of={of} /> : <Typography variant="body2">{say.noneReleased}</Typography>}
        </Part>
        <Part title={say.byKind} csv={csv("faults")}>
          {of.faults.length > 0 ? <Kinds of={of} /> : <Typography variant="body2">{say.noFaults}</Typography>}
        </Part>
        <Part title={say.byCustomer} csv={csv("customers")}>
          <ByCustomer of={of} />
        </Part>
      </Box>
    </>
  );
}

function Part({ title, csv, children }: { title: string; csv: string; children: ReactNode }) {
  return (
    <Stack component="section" aria-label={title} sx={{ bgcolor: "background.paper", p: 1.5 }}>
      <Row>
        <Typography variant="h2">{title}</Typography>
        <Spacer />
        <Button href={csv} aria-label={`${title}: ${say.asTable}`}>
          {say.asTable}
        </Button>
      </Row>
      {children}
    </Stack>
  );
}

/** What one looks for first, as figures. */
function Summary({ of }: { of: Shown }) {
  const { hours_median: half, hours_p90: nine } = of;
  const told: [string, string, string][] = [
    [say.arrived, String(of.files), ""],
    [say.withoutAnybody, say.share(of.untouched, of.sorted), say.ofFiles(of.untouched, of.sorted)],
    [
      say.ready,
      half === null ? "–" : say.hours(half),
      half === null || nine === null ? say.nothingReady : `${say.half}; ${say.nine} ${say.hours(nine)}`,
    ],
    [say.printed, metres(of.metres * 1000), say.sheets(of.sheets)],
    [say.waste, say.share(of.waste_m2, of.area_m2), say.ofArea(of.waste_m2, of.area_m2)],
  ];
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "repeat(5, minmax(0, 1fr))", gap: 1 }}>
      {told.map(([words, figure, more]) => (
        <Box key={words} sx={{ bgcolor: "background.paper", p: 1.5 }}>
          <Typography variant="body2" color="text.secondary">
            {words}
          </Typography>
          <Typography sx={{ fontSize: 26, fontWeight: 700, lineHeight: 1.2 }}>{figure}</Typography>
          <Typography variant="body2">{more}</Typography>
        </Box>
      ))}
    </Box>
  );
}

const FEW = 8;

function ByCustomer({ of }: { of: Shown }) {
  const titles = new Map(of.faults.map((fault) => [fault.id, fault.title]));
  return (
    <Table size="small" aria-label={say.byCustomer}>
      <TableHead>
        <TableRow>
          <TableCell>{say.customer}</TableCell>
          <TableCell align="right">{say.files}</TableCell>
          <TableCell align="right">{say.faulty}</TableCell>
          <TableCell>{say.mostOften}</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {of.customers.slice(0, FEW).map((one) => {
          const [first] = Object.entries(one.kinds);
          return (
            <TableRow key={one.customer}>
              <TableCell sx={{ overflowWrap: "anywhere" }}>
                {one.customer ? (
                  <Anchor component={Link} to={`/customers/${encodeURIComponent(one.customer)}`}>
                    {one.customer}
                  </Anchor>
                ) : (
                  say.noCustomer
                )}
              </TableCell>
              <TableCell align="right">{one.files}</TableCell>
              <TableCell align="right">{one.faulty}</TableCell>
              <TableCell>{first ? `${titles.get(first[0]) ?? first[0]} (${first[1]})` : "–"}</TableCell>
            </TableRow>
          );
        })}
      </TableBody>
    </Table>
  );
}
