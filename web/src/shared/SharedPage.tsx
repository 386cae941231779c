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
import { metres, minutes, size, WORK_WORDS } from "../ui/words";
import { common } from "../texts/common";
import { shared as say } from "../texts/shared";

const TURNS: readonly (readonly [Turn, string])[] = [
  ["free", say.turnedFreely],
  ["quarter", say.byQuarters],
  ["half", say.byHalves],
  ["none", say.asItLies],
];

export function SharedPage() {
  const params = useParams();
  const shared = useQuery(queries.shared(Number(params.id)));
  if (shared.isPending) return <LinearProgress aria-label={common.loadingLabel} />;
  if (shared.isError)
    return (
      <Failure of={shared.error} alone>
        <Link to="/">{say.backToTheDesk}</Link>
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
          {say.job(shared.shares.length)}, {say.copy(target.copies)} · {shared.material}
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
          waiting={<Typography variant="body2">{say.theSheetIsBeingLaid}</Typography>}
          head={
            <>
              <Tabs
                value={part}
                onChange={(_, next: string) => setPart(next)}
                aria-label={say.whatOfTheSheet}
              >
                <Tab value="jobs" label={say.jobs(shared.shares.length)} />
                <Tab value="tray" label={say.wouldFit(shared.offered.length)} />
                <Tab value="cut" label={common.cut} />
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
      {say.didNotFinish(WORK_WORDS[work.kind], work.error)}
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
    <Stack component="ul" aria-label={say.jobsOnTheSheet} spacing={1} sx={{ listStyle: "none", p: 0, m: 0 }}>
      {shared.shares.map((share, i) => (
        <Box component="li" key={share.job.id} data-share={share.job.id}>
          <Stack direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
            <Typography sx={{ fontWeight: 700, flex: 1, minWidth: 0 }} noWrap>
              <Anchor component={Link} to={`/jobs/${share.job.id}/check`}>
                {share.job.name}
              </Anchor>
            </Typography>
            <Amount
              label={say.copiesOf(share.job.name)}
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
            <Typography variant="body2">{say.ofIt(share.ordered)}</Typography>
            <Button
              disabled={all.length < 2}
              onClick={() => change.mutate({ shares: all.filter((_, n) => n !== i) })}
              aria-label={say.takeOff(share.job.name)}
              sx={{ minWidth: 0, py: 0, minHeight: 26 }}
            >
              {say.takeOff2}
            </Button>
          </Stack>
          <Typography component="div" variant="body2" color="text.secondary">
            {say.revision(share.revision)}
            <Choice<Turn>
              label={say.howMayBeTurned(share.job.name)}
              value={share.turn as Turn}
              options={TURNS}
              onChange={(turn) =>
                change.mutate({ shares: all.map((one, n) => (n === i ? { ...one, turn } : one)) })
              }
            />
            {share.job.due && say.due(share.job.due)}
            {share.free > share.quantity && say.moreWait(share.free - share.quantity)}
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
        {say.noOtherJobWaitsFor(shared.material)}
      </Typography>
    );
  return (
    <Stack
      component="ul"
      aria-label={say.jobsThatWouldFit}
      spacing={0.5}
      sx={{ listStyle: "none", p: 0, m: 0 }}
    >
      {shared.offered.map(({ job, free }) => (
        <Stack component="li" key={job.id} direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Typography noWrap>{job.name}</Typography>
            <Typography variant="body2" color="text.secondary">
              {say.copies(free, size(job.size_mm))}
              {job.due && say.due2(job.due)}
              {job.stops ? say.stopOpen(job.stops) : ""}
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
            aria-label={say.putOnTheSheet(job.name)}
          >
            {say.putOn}
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
          {shared.cuts.length > 1 && <Typography variant="h2">{say.sheet(n + 1)}</Typography>}
          {cut.operations.map((one, i) => (
            <Typography key={i} component="div" variant="body2">
              <RoleSign role={one.role} />
              {say.tool(lookOf(one.role).words, one.tool.number)}
              {one.tool.force_gf} gf; {say.contour(one.contours)}, {metres(one.cut_mm)}, {minutes(one.time_s)}
            </Typography>
          ))}
          {!cut.operations.length && <Typography variant="body2">{say.nothingIsCut}</Typography>}
        </Box>
      ))}
    </Stack>
  );
}
