/** A sheet that several jobs share: what lies on it, what would still fit, how it is laid out, its release. */
import { Spacer } from "../ui/Row";
import {
  Alert,
  Box,
  Button,
  LinearProgress,
  Link as Anchor,
  Stack,
  Tab,
  Tabs,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { Failure, WhyRefused } from "../help/Failure";
import { useSharedChange } from "../api/sharedChanges";
import type { Shared } from "../api/client";
import { useWorkOfShared } from "../api/progress";
import { queries } from "../api/queries";
import { ReleasePart } from "./ReleasePart";
import { SheetPanel } from "../sheet/SheetPanel";
import { useSharedTarget, type Turn } from "../sheet/target";
import { RoleSign } from "../stage/RoleLine";
import { Amount, Choice } from "../ui/fields";
import { lookOf } from "../ui/roles";
import { WorkProgress } from "../ui/WorkProgress";
import { metres, minutes, plural, size, WORK_WORDS } from "../ui/words";

const TURNS: readonly (readonly [Turn, string])[] = [
  ["free", "turned freely"],
  ["quarter", "by quarters"],
  ["half", "by halves"],
  ["none", "as it lies"],
];

export function SharedPage() {
  const params = useParams();
  const shared = useQuery(queries.shared(Number(params.id)));
  if (shared.isPending) return <LinearProgress aria-label="loading" />;
  if (shared.isError)
    return (
      <Failure of={shared.error} alone>
        <Link to="/">Back to the Desk</Link>
      </Failure>
    );
  return <Opened key={shared.data.id} shared={shared.data} />;
}

function Opened({ shared }: { shared: Shared }) {
  const target = useSharedTarget(shared);
  const work = useWorkOfShared(shared);
  const [part, setPart] = useState("jobs");
  return (
    <Stack sx={{ height: "100%" }}>
      <Stack
        direction="row"
        spacing={2}
        sx={{ px: 2, pt: 0.5, minHeight: 40, alignItems: "baseline", bgcolor: "background.paper" }}
      >
        <Typography variant="h1" noWrap>
          {shared.name}
        </Typography>
        <Typography variant="body2" color="text.secondary" noWrap>
          {plural(shared.shares.length, "job")}, {plural(target.copies, "copy", "copies")} · {shared.material}
        </Typography>
        <Spacer />
        <WorkProgress work={work} />
      </Stack>
      <Outcome shared={shared} />
      <Box sx={{ flex: 1, minHeight: 0, display: "flex" }}>
        <SheetPanel
          target={target}
          label={shared.name}
          material={shared.material_id}
          waiting={<Typography variant="body2">The sheet is being laid out.</Typography>}
          head={
            <>
              <Tabs value={part} onChange={(_, next: string) => setPart(next)} aria-label="what of the sheet">
                <Tab value="jobs" label={`Jobs · ${shared.shares.length}`} />
                <Tab value="tray" label={`Would fit · ${shared.offered.length}`} />
                <Tab value="cut" label="Cut" />
              </Tabs>
              {part === "jobs" && <Jobs shared={shared} />}
              {part === "tray" && <Tray shared={shared} />}
              {part === "cut" && <CutPart shared={shared} />}
            </>
          }
          foot={<ReleasePart shared={shared} />}
        />
      </Box>
    </Stack>
  );
}

function Outcome({ shared }: { shared: Shared }) {
  const work = useWorkOfShared(shared);
  if (work?.state !== "failed") return null;
  if (work.kind === "nest")
    return (
      <Alert severity="info" role="status">
        {work.error}
      </Alert>
    );
  return (
    <Alert severity="error" role="alert" action={<WhyRefused code={work.code} />}>
      {WORK_WORDS[work.kind]} did not finish. {work.error}
    </Alert>
  );
}

/** Jobs as they are sent, with one of them changed, put on or taken off. */
const sharesOf = (shared: Shared) =>
  shared.shares.map(({ job, quantity, turn }) => ({ job: job.id, quantity, turn: turn as Turn }));

function Jobs({ shared }: { shared: Shared }) {
  const change = useSharedChange(shared.id);
  const all = sharesOf(shared);
  return (
    <Stack component="ul" aria-label="jobs on the sheet" spacing={1} sx={{ listStyle: "none", p: 0, m: 0 }}>
      {shared.shares.map((share, i) => (
        <Box component="li" key={share.job.id} data-share={share.job.id}>
          <Stack direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
            <Typography sx={{ fontWeight: 700, flex: 1, minWidth: 0 }} noWrap>
              <Anchor component={Link} to={`/jobs/${share.job.id}/check`}>
                {share.job.name}
              </Anchor>
            </Typography>
            <Amount
              label={`copies of ${share.job.name}`}
              unit=""
              value={share.quantity}
              least={1}
              most={20000}
              step={1}
              onChange={(v) =>
                v &&
                change.mutate({
                  shares: all.map((one, n) => (n === i ? { ...one, quantity: Math.round(v) } : one)),
                })
              }
            />
            <Typography variant="body2">of {share.ordered}</Typography>
            <Button
              disabled={all.length < 2}
              onClick={() => change.mutate({ shares: all.filter((_, n) => n !== i) })}
              aria-label={`take ${share.job.name} off`}
              sx={{ minWidth: 0, py: 0, minHeight: 26 }}
            >
              Take off
            </Button>
          </Stack>
          <Typography component="div" variant="body2" color="text.secondary">
            revision {share.revision},{" "}
            <Choice<Turn>
              label={`how ${share.job.name} may be turned`}
              value={share.turn as Turn}
              options={TURNS}
              onChange={(turn) =>
                change.mutate({ shares: all.map((one, n) => (n === i ? { ...one, turn } : one)) })
              }
            />
            {share.job.due && ` · due ${share.job.due}`}
            {share.free > share.quantity && ` · ${share.free - share.quantity} more wait`}
          </Typography>
          {!!share.job.stops && (
            <Alert severity="error" sx={{ py: 0 }}>
              {share.job.holds}
            </Alert>
          )}
          {share.changed && (
            <Alert severity="warning" sx={{ py: 0 }}>
              {share.changed}
            </Alert>
          )}
        </Box>
      ))}
      <Failure of={change.error} />
    </Stack>
  );
}

/** What waits and would go on the sheet, due first. */
function Tray({ shared }: { shared: Shared }) {
  const change = useSharedChange(shared.id);
  if (!shared.offered.length)
    return (
      <Typography variant="body2" color="text.secondary">
        No other job waits for {shared.material} at this destination.
      </Typography>
    );
  return (
    <Stack
      component="ul"
      aria-label="jobs that would fit"
      spacing={0.5}
      sx={{ listStyle: "none", p: 0, m: 0 }}
    >
      {shared.offered.map(({ job, free }) => (
        <Stack component="li" key={job.id} direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Typography noWrap>{job.name}</Typography>
            <Typography variant="body2" color="text.secondary">
              {free} copies, {size(job.size_mm)}
              {job.due && `, due ${job.due}`}
              {job.stops ? ` · ${plural(job.stops, "stop")} open` : ""}
            </Typography>
          </Box>
          <Button
            variant="outlined"
            disabled={change.isPending}
            onClick={() =>
              change.mutate({
                shares: [...sharesOf(shared), { job: job.id, quantity: free, turn: "quarter" }],
              })
            }
            aria-label={`put ${job.name} on the sheet`}
          >
            Put on
          </Button>
        </Stack>
      ))}
      <Failure of={change.error} />
    </Stack>
  );
}

function CutPart({ shared }: { shared: Shared }) {
  return (
    <Stack spacing={0.5}>
      {shared.cuts.map((cut, n) => (
        <Box key={n}>
          {shared.cuts.length > 1 && <Typography variant="h2">Sheet {n + 1}</Typography>}
          {cut.operations.map((one, i) => (
            <Typography key={i} component="div" variant="body2">
              <RoleSign role={one.role} /> {lookOf(one.role).words}: tool {one.tool.number},{" "}
              {one.tool.force_gf} gf; {plural(one.contours, "contour")}, {metres(one.cut_mm)},{" "}
              {minutes(one.time_s)}
            </Typography>
          ))}
          {!cut.operations.length && <Typography variant="body2">Nothing is cut.</Typography>}
        </Box>
      ))}
    </Stack>
  );
}
