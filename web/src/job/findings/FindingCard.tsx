/** A finding in plain words: its picture, the measured value beside its limit, the mends, and the decision on it. */
import { said } from "../../ui/lengths";
import { unitNow } from "../../ui/unit";
import { Box, Button, Stack, Typography } from "@mui/material";
import type { Finding, Mend } from "../../api/client";
import { NameBeside } from "../../ui/Letters";
import { Why } from "../../help/Help";
import { LOOK, MONO, STOP } from "../../ui/theme";
import { moment } from "../../ui/words";
import { MendOffer } from "../mending/MendOffer";
import { Candidates, otherMends } from "./Candidates";
import { NoLine } from "./NoLine";
import { Reason } from "./Reason";
import { findings as say } from "../../texts/findings";

const MEASURES = new Set(["mm", "pt", "%", "ppi", "°", "mm²", "nodes/mm", "°/mm"]);
const figure = (value: number, unit: string) =>
  said(`${Number(value.toFixed(unit === "ppi" ? 0 : 2))} ${unit}`, unitNow());
const places = (count: number) => say.place(count);

/** The measured value beside its limit, or how many there are. */
export const measure = (finding: Finding) =>
  finding.measured === null
    ? say.notMeasured
    : MEASURES.has(finding.unit)
      ? say.limit(figure(finding.measured, finding.unit), figure(finding.limit, finding.unit))
      : places(finding.count);

interface Props {
  job: number;
  finding: Finding;
  chosen: boolean;
  busy: boolean;
  onMend: (mend: Mend) => void;
  onChoose?: () => void;
  /** Without these the card does not ask for a decision. */
  mayWaive?: boolean;
  onSettle?: (reason: string) => void;
  onUnsettle?: () => void;
}

export function FindingCard({
  job,
  finding,
  chosen,
  busy,
  mayWaive,
  onChoose,
  onMend,
  onSettle,
  onUnsettle,
}: Props) {
  const settled = finding.decision;
  const colour = settled
    ? "#9A9A9A"
    : finding.severity === "stop"
      ? STOP
      : finding.severity === "look"
        ? LOOK
        : "#6B6B6B";
  return (
    <Box
      data-finding={finding.id}
      data-settled={!!settled}
      sx={{
        borderLeft: `4px solid ${colour}`,
        pl: 1.5,
        py: 0.5,
        bgcolor: chosen ? "#EEF3F3" : "transparent",
      }}
    >
      <Box
        component="button"
        type="button"
        onClick={onChoose}
        aria-pressed={chosen}
        sx={{
          display: "block",
          width: "100%",
          textAlign: "left",
          border: 0,
          bgcolor: "transparent",
          p: 0,
          font: "inherit",
          color: "inherit",
          cursor: "pointer",
        }}
      >
        <Evidence job={job} finding={finding} large={chosen} />
        <Typography variant="body2" sx={{ color: settled ? "text.secondary" : "inherit" }}>
          {finding.message}
        </Typography>
      </Box>
      <Stack direction="row" sx={{ alignItems: "center", gap: 1 }}>
        <Typography variant="body2" sx={{ fontWeight: 700, flex: 1 }}>
          {measure(finding)}
        </Typography>
        <Typography variant="body2" sx={{ fontFamily: MONO, color: "text.secondary", fontSize: 11 }}>
          {finding.id}
        </Typography>
        <Why of={finding.id} />
      </Stack>
      {settled && <Decided of={settled} busy={busy} onUnsettle={onUnsettle} />}
      {chosen && <Details of={finding} />}
      {!settled && finding.before && (
        <Typography variant="body2" sx={{ overflowWrap: "anywhere" }}>
          {say.askedAgainSinceItHas(finding.before.verb, finding.before.who, finding.before.reason)}
        </Typography>
      )}
      {!settled && <Candidates job={job} finding={finding} busy={busy} onMend={onMend} />}
      {!settled && finding.id === "line.none" && <NoLine job={job} busy={busy} />}
      {!settled &&
        otherMends(finding).map((mend) => (
          <MendOffer key={mend.label} mend={mend} busy={busy} open={chosen} onMend={onMend} />
        ))}
      {chosen &&
        onSettle &&
        !settled &&
        finding.severity !== "note" &&
        (finding.severity === "look" || mayWaive) && (
          <Reason
            stop={finding.severity === "stop"}
            busy={busy}
            onSettle={onSettle}
            before={finding.before?.reason ?? ""}
          />
        )}
    </Box>
  );
}

/** A picture of the worst place, or the names letter under letter. */
function Evidence({ job, finding, large }: { job: number; finding: Finding; large: boolean }) {
  if (finding.names.length)
    return finding.names.map((one) => <NameBeside key={`${one.ink} ${one.wanted}`} {...one} />);
  if (!finding.where.length) return null;
  return (
    <Box
      component="img"
      alt=""
      loading="lazy"
      src={`/api/jobs/${job}/evidence/${finding.key}`}
      width={352}
      height={140}
      sx={{
        display: "block",
        width: "100%",
        height: large ? "auto" : 64,
        objectFit: "cover",
        mb: 0.5,
        bgcolor: "#E6E6E6",
        opacity: finding.decision ? 0.5 : 1,
      }}
    />
  );
}

interface DecidedProps {
  of: NonNullable<Finding["decision"]>;
  busy: boolean;
  onUnsettle?: (() => void) | undefined;
}

function Decided({ of, busy, onUnsettle }: DecidedProps) {
  return (
    <Stack direction="row" sx={{ alignItems: "baseline", justifyContent: "space-between" }}>
      <Typography variant="body2" sx={{ overflowWrap: "anywhere" }}>
        <b>{say.by(of.verb, of.who)}</b>, {moment(of.when)}: {of.reason}
      </Typography>
      {onUnsettle && (
        <Button disabled={busy} onClick={onUnsettle} sx={{ flex: "none", py: 0 }}>
          {say.askAgain}
        </Button>
      )}
    </Stack>
  );
}

function Details({ of }: { of: Finding }) {
  const lines = [
    of.detail,
    of.count > of.where.length && of.where.length > 0
      ? say.theFirstOfAreFramed(of.where.length, of.count)
      : "",
    of.carried ? say.carriedOverNothingThatIt : "",
  ];
  return lines.filter(Boolean).map((words) => (
    <Typography key={words} variant="body2" color="text.secondary">
      {words}
    </Typography>
  ));
}
