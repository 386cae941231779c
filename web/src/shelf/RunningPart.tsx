/** What runs, for whoever runs the shop: workers and what each does, what waits, what was set aside, how long it takes. */
import {
  Alert,
  LinearProgress,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import type { RunningShown } from "../api/client";
import { queries } from "../api/queries";
import { Failure } from "../help/Failure";
import { bytes, minutes, moment } from "../ui/words";
import { common } from "../texts/common";
import { running as say } from "../texts/running";

export function RunningPart() {
  const running = useQuery(queries.running());
  return (
    <Stack spacing={3} component="section" aria-label={say.title}>
      <Stack spacing={1}>
        <Typography variant="h1">{say.title}</Typography>
        <Typography variant="body2" color="text.secondary">
          {say.says}
        </Typography>
        {running.isPending && <LinearProgress aria-label={common.loadingLabel} />}
        <Failure of={running.error} />
      </Stack>
      {running.data && <Whole of={running.data} />}
    </Stack>
  );
}

function Whole({ of }: { of: RunningShown }) {
  return (
    <>
      <Workers of={of} />
      <Waits of={of} />
      {of.work.length > 0 && <UnderWay of={of} />}
      {of.aside.length > 0 && <Aside of={of} />}
      {of.steps.length > 0 && <Steps of={of} />}
      <Stack spacing={0.5}>
        <Typography variant="h2">{say.store}</Typography>
        <Typography variant="body2">
          {say.holds(of.store.files, bytes(of.store.bytes))}
          {of.store.free_bytes !== null && say.left(bytes(of.store.free_bytes))}
        </Typography>
      </Stack>
    </>
  );
}

/** A table under a heading; columns of figures stand at their right ends. */
function Listed({
  title,
  heads,
  children,
}: {
  title: string;
  heads: readonly string[];
  children: ReactNode;
}) {
  return (
    <Stack spacing={0.5}>
      <Typography variant="h2">{title}</Typography>
      <Table size="small" aria-label={title}>
        <TableHead>
          <TableRow>
            {heads.map((head) => (
              <TableCell key={head}>{head}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>{children}</TableBody>
      </Table>
    </Stack>
  );
}

function Workers({ of }: { of: RunningShown }) {
  return (
    <Stack spacing={1}>
      {of.workers.length === 0 && (
        <Alert severity="error">{of.broker ? say.nobodyElsewhere : say.nobodyHere}</Alert>
      )}
      {of.workers
        .filter((one) => !one.same)
        .map((one) => (
          <Alert key={one.name} severity="warning">
            {one.name}: {say.anotherVersion(one.version, of.version)}
          </Alert>
        ))}
      <Listed
        title={say.workers}
        heads={[say.name, say.machine, say.places, say.takes, say.version, say.does]}
      >
        {of.workers.map((one) => (
          <TableRow key={one.name} sx={{ verticalAlign: "top" }}>
            <TableCell sx={{ overflowWrap: "anywhere" }}>{one.name}</TableCell>
            <TableCell sx={{ overflowWrap: "anywhere" }}>{one.machine}</TableCell>
            <TableCell>{one.slots}</TableCell>
            <TableCell>{one.weights.length === 3 ? say.everything : one.weights.join(", ")}</TableCell>
            <TableCell>{one.version}</TableCell>
            <TableCell>
              {one.doing.length === 0 && say.nothing}
              {one.doing.map((does, i) => (
                <div key={i}>
                  {say.for(say.stepWords(does.what), minutes(does.seconds))}{" "}
                  {does.job_id !== null && <Link to={`/jobs/${does.job_id}`}>{does.job}</Link>}
                </div>
              ))}
            </TableCell>
          </TableRow>
        ))}
      </Listed>
    </Stack>
  );
}

function Waits({ of }: { of: RunningShown }) {
  return (
    <Listed title={say.waits} heads={[say.weight, say.waiting, say.runs, say.oldest]}>
      {of.queue.map((one) => (
        <TableRow key={one.weight}>
          <TableCell>{say.weights[one.weight]}</TableCell>
          <TableCell>{one.waiting}</TableCell>
          <TableCell>{one.running}</TableCell>
          <TableCell>{one.waiting ? minutes(one.oldest_s) : ""}</TableCell>
        </TableRow>
      ))}
    </Listed>
  );
}

function UnderWay({ of }: { of: RunningShown }) {
  return (
    <Listed title={say.underWay} heads={[say.job, say.what]}>
      {of.work.map((one, i) => (
        <TableRow key={i}>
          <TableCell>
            <Link to={`/jobs/${one.job_id}`}>{one.job}</Link>
          </TableCell>
          <TableCell>{say.askedFor(say.stepWords(one.what), minutes(one.seconds))}</TableCell>
        </TableRow>
      ))}
    </Listed>
  );
}

function Aside({ of }: { of: RunningShown }) {
  return (
    <Stack spacing={1}>
      <Listed title={say.aside} heads={[say.job, say.what, say.why]}>
        {of.aside.map((one) => (
          <TableRow key={one.work_id} sx={{ verticalAlign: "top" }}>
            <TableCell>
              <Link to={`/jobs/${one.job_id}`}>{one.job}</Link>
            </TableCell>
            <TableCell>{say.for(say.stepWords(one.kind), moment(one.when))}</TableCell>
            <TableCell>{one.error}</TableCell>
          </TableRow>
        ))}
      </Listed>
      <Typography variant="body2" color="text.secondary">
        {say.asideSays}
      </Typography>
    </Stack>
  );
}

const seconds = (value: number) => `${value.toPrecision(2)} s`;

function Steps({ of }: { of: RunningShown }) {
  return (
    <Listed title={say.steps} heads={[say.step, say.count, say.inVain, say.mean, say.most]}>
      {of.steps.map((one) => (
        <TableRow key={one.step}>
          <TableCell>{say.stepWords(one.step)}</TableCell>
          <TableCell>{one.count}</TableCell>
          <TableCell>{one.failed || ""}</TableCell>
          <TableCell>{seconds(one.mean_s)}</TableCell>
          <TableCell>{one.p95_s === null ? say.longer : seconds(one.p95_s)}</TableCell>
        </TableRow>
      ))}
    </Listed>
  );
}
