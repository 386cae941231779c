/** What several files ask alike: their pictures side by side, and one answer for all of them or some. */
import { Alert, Box, Button, LinearProgress, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Alike as Group, AlikeRow } from "../api/client";
import { queries } from "../api/queries";
import { pileQueries } from "../api/pileQueries";
import { Failure } from "../help/Failure";
import { Row, Spacer } from "../ui/Row";
import { LOOK, STOP } from "../ui/theme";
import { Answering } from "./Answering";
import { doesOf, Tile } from "./Tile";
import { common } from "../texts/common";
import { desk } from "../texts/desk";
import { pile as say } from "../texts/pile";

export function Alike() {
  const groups = useQuery(queries.alike());
  const [asked, ask] = useSearchParams();
  const wanted = asked.get("group") ?? "";
  const listed = groups.data ?? [];
  // an answered group goes, and the next one comes up in its place
  const key = listed.some((one) => one.key === wanted) ? wanted : (listed[0]?.key ?? "");
  const group = useQuery(pileQueries.alikeGroup(key));
  return (
    <Stack direction="row" sx={{ height: "100%", minHeight: 0 }}>
      <Stack
        component="nav"
        aria-label={desk.askedAlikeLabel}
        sx={{ width: 300, flex: "none", overflowY: "auto", p: 2, gap: 0.5, bgcolor: "background.paper" }}
      >
        <Typography variant="h1" sx={{ mb: 1 }}>
          {say.alikeAtOnce}
        </Typography>
        {listed.map((one) => (
          <GroupButton
            key={one.key}
            group={one}
            here={one.key === key}
            onChoose={() => ask({ group: one.key }, { replace: true })}
          />
        ))}
        <Button component={Link} to="/" sx={{ alignSelf: "start", mt: 1 }}>
          {say.backToTheDesk}
        </Button>
      </Stack>
      <Box sx={{ flex: 1, minWidth: 0, overflowY: "auto", p: 2 }}>
        {(groups.isPending || (key !== "" && group.isPending)) && (
          <LinearProgress aria-label={common.loadingLabel} />
        )}
        <Failure of={groups.error} />
        {groups.data?.length === 0 && (
          <Typography color="text.secondary" sx={{ py: 8, textAlign: "center" }}>
            {say.nothingIsAskedAlike} {say.whatTheySayApart}
          </Typography>
        )}
        {group.data && <Asked key={group.data.key} group={group.data} />}
      </Box>
    </Stack>
  );
}

const colourOf = (severity: AlikeRow["severity"]) =>
  severity === "stop" ? STOP : severity === "look" ? LOOK : "text.primary";

function GroupButton({ group, here, onChoose }: { group: AlikeRow; here: boolean; onChoose: () => void }) {
  return (
    <Button
      onClick={onChoose}
      aria-current={here ? "true" : undefined}
      sx={{
        justifyContent: "start",
        textAlign: "left",
        color: "text.primary",
        borderLeft: "4px solid",
        borderColor: here ? "primary.main" : "transparent",
        bgcolor: here ? "#EEF3F3" : undefined,
        borderRadius: 0,
      }}
    >
      <Box>
        {group.title}
        <Typography variant="body2" sx={{ color: colourOf(group.severity) }}>
          {desk.filesAsk(group.files)} · {group.severity ?? say.question}
        </Typography>
      </Box>
    </Button>
  );
}

/** A group: who of it is meant, what is done, and the files. */
function Asked({ group }: { group: Group }) {
  const [left, leave] = useState<ReadonlySet<number>>(new Set());
  const [refused, setRefused] = useState<string[]>([]);
  const files = [...new Set(group.asked.map((one) => one.job_id))];
  const [first] = group.asked;
  const same = group.asked.every((one) => one.message === first?.message) ? (first?.message ?? null) : null;
  const doAlike = group.asked.every((one) => doesOf(one) === (first && doesOf(first)));
  const chosen = group.asked.filter((one) => !left.has(one.job_id));
  const flip = (job: number) => {
    const next = new Set(left);
    if (!next.delete(job)) next.add(job);
    leave(next);
  };
  const nameOf = (job: number) => group.asked.find((one) => one.job_id === job)?.name ?? say.aFile;
  return (
    <Stack spacing={1.5} component="section" aria-label={group.title}>
      <Row spacing={1}>
        <Typography variant="h2">
          {group.title} · {desk.filesAsk(group.files)}
        </Typography>
        <Spacer />
        <Typography variant="body2" role="status">
          {say.chosenOf(files.length - left.size, files.length)}
        </Typography>
        <Button onClick={() => leave(new Set())} disabled={left.size === 0}>
          {say.all}
        </Button>
        <Button onClick={() => leave(new Set(files))} disabled={left.size === files.length}>
          {say.none}
        </Button>
      </Row>
      {same !== null && group.severity !== null && <Typography>{same}</Typography>}
      <Answering
        group={group}
        chosen={chosen}
        onDone={({ refused: those }) =>
          setRefused(those.map((one) => say.leftOut(nameOf(one.job_id), one.why)))
        }
      />
      {refused.length > 0 && (
        <Alert severity="warning" role="alert">
          {refused.map((words) => (
            <div key={words}>{words}</div>
          ))}
        </Alert>
      )}
      <Box
        component="ul"
        sx={{
          display: "grid",
          gridTemplateColumns: "repeat(auto-fill, minmax(220px, 1fr))",
          gap: 1,
          listStyle: "none",
          p: 0,
          m: 0,
        }}
      >
        {group.asked.map((one) => (
          <Tile
            key={`${one.job_id} ${one.key}`}
            asked={one}
            says={same === null && one.key !== ""}
            does={!doAlike}
            chosen={!left.has(one.job_id)}
            onFlip={() => flip(one.job_id)}
          />
        ))}
      </Box>
    </Stack>
  );
}
