/** How a group of alike files is answered: by a mend that they offer, by a reason, or by one answer to a question. */
import { Button, MenuItem, Stack, TextField } from "@mui/material";
import { useState } from "react";
import { useAcceptAlike, useAnswerAlike, useMendAlike } from "../api/pileChanges";
import type { Alike, Answered, AskedAlike, ChosenFile } from "../api/client";
import { useMay } from "../api/may";
import { Failure } from "../help/Failure";
import { Binding } from "../job/order/Questions";
import { LengthField } from "../ui/LengthField";
import { Row } from "../ui/Row";
import { NoLines } from "./NoLines";
import { order as words } from "../texts/order";
import { pile as say } from "../texts/pile";

export interface Done {
  done: number;
  refused: { job_id: number; why: string }[];
}

interface Props {
  group: Alike;
  chosen: AskedAlike[];
  onDone: (done: Done) => void;
}

/** The files that are meant, each once, with the findings of it that are. */
export function filesOf(asked: AskedAlike[]): ChosenFile[] {
  const files = new Map<number, ChosenFile & { keys: string[] }>();
  for (const { job_id, version, revision, key } of asked) {
    const file = files.get(job_id) ?? { job_id, version, revision, keys: [] };
    if (key) file.keys.push(key);
    files.set(job_id, file);
  }
  return [...files.values()];
}

export function Answering(props: Props) {
  return props.group.severity === null ? <Question {...props} /> : <Finding {...props} />;
}

/** A finding: the mends that several of them offer, the most common first, and a reason why they may stand. */
function Finding({ group, chosen, onDone }: Props) {
  const mend = useMendAlike();
  const accept = useAcceptAlike();
  const [reason, setReason] = useState("");
  const mayWork = useMay("work");
  const mayWaive = useMay("waive");
  const stop = group.severity === "stop";
  const busy = mend.isPending || accept.isPending;
  const files = filesOf(chosen);
  const offering = ({ kind, label, each }: Alike["mends"][number]) =>
    chosen.filter((one) => one.offers.some((its) => its.kind === kind && (each || its.label === label)));
  return (
    <Stack spacing={1} role="group" aria-label={say.answerHere} aria-busy={busy}>
      <Row useFlexGap spacing={1} sx={{ flexWrap: "wrap" }}>
        {group.mends.map((one, i) => (
          <Button
            key={one.kind + one.label}
            variant={i === 0 ? "contained" : "outlined"}
            disabled={busy || !mayWork || offering(one).length === 0}
            onClick={() =>
              mend.mutate(
                { files: filesOf(offering(one)), kind: one.kind, label: one.label },
                { onSuccess: onDone },
              )
            }
          >
            {say.doFor(
              one.each ? say.eachItsOwn(one.kind.replaceAll("-", " ")) : one.label,
              filesOf(offering(one)).length,
            )}
          </Button>
        ))}
      </Row>
      {(group.id === "line.none" || group.id === "line.missing") && (
        <NoLines files={files} none={group.id === "line.none"} onDone={onDone} />
      )}
      {(!stop || mayWaive) && (
        <Row
          component="form"
          spacing={1}
          onSubmit={(event) => {
            event.preventDefault();
            if (reason.trim().length > 2) accept.mutate({ files, reason }, { onSuccess: onDone });
          }}
        >
          <TextField
            label={say.whyMayTheyStand}
            value={reason}
            disabled={busy}
            onChange={(e) => setReason(e.target.value)}
            sx={{ width: 380 }}
          />
          <Button
            type="submit"
            variant="outlined"
            color={stop ? "error" : "primary"}
            disabled={busy || !mayWork || !files.length || reason.trim().length < 3}
          >
            {stop ? say.letAllPass(files.length) : say.acceptAll(files.length)}
          </Button>
        </Row>
      )}
      <Failure of={mend.error ?? accept.error} />
    </Stack>
  );
}

/** A question of intake: the same answer for all. */
function Question({ group, chosen, onDone }: Props) {
  const answer = useAnswerAlike();
  const [said, setSaid] = useState<Partial<Answered>>({});
  const may = useMay("take-in");
  const files = filesOf(chosen);
  const add = (next: Partial<Answered>) => setSaid((before) => ({ ...before, ...next }));
  const ready =
    group.id === "size"
      ? !!(said.width_mm || said.height_mm)
      : group.id === "binding"
        ? group.choices.every((choice) => said.binding?.[choice.key] || choice.said)
        : !!said[group.id as "password" | "unit" | "pages"];
  const all = group.choices.map((choice) => Number(choice.key));
  const send = (more: Partial<Answered> = {}) =>
    answer.mutate({ files, answers: { ...said, ...more } }, { onSuccess: onDone });
  const blocked = answer.isPending || !may || !files.length;
  return (
    <Stack
      component="form"
      aria-label={say.answerHere}
      aria-busy={answer.isPending}
      spacing={1}
      sx={{ bgcolor: "background.paper", p: 1.5, maxWidth: 680 }}
      onSubmit={(event) => {
        event.preventDefault();
        if (ready && !blocked) send();
      }}
    >
      {group.id === "unit" && (
        <TextField
          select
          label={words.oneUnitIsOne}
          value={said.unit ?? ""}
          onChange={(e) => add({ unit: e.target.value })}
          sx={{ width: 380 }}
        >
          {group.choices.map((choice) => (
            <MenuItem key={choice.key} value={choice.key}>
              {choice.words}
            </MenuItem>
          ))}
        </TextField>
      )}
      {group.id === "password" && (
        <TextField
          label={words.passwordOfTheFile}
          type="password"
          autoComplete="off"
          value={said.password ?? ""}
          onChange={(e) => add({ password: e.target.value })}
          sx={{ width: 380 }}
        />
      )}
      {group.id === "size" && (
        <Row spacing={1}>
          <LengthField label={words.width} value={said.width_mm} onChange={(width_mm) => add({ width_mm })} />
          <LengthField
            label={words.height}
            value={said.height_mm}
            onChange={(height_mm) => add({ height_mm })}
          />
        </Row>
      )}
      {group.id === "binding" && (
        <Binding
          choices={group.choices}
          binding={said.binding ?? {}}
          onBind={(binding) => add({ binding })}
          customer={onlyCustomer(chosen)}
        />
      )}
      {group.id === "pages" ? (
        <Row spacing={1}>
          <Button
            variant="contained"
            disabled={blocked}
            onClick={() => send({ pages: all, each_page: true })}
          >
            {say.eachPageAJob}
          </Button>
          <Button variant="outlined" disabled={blocked} onClick={() => send({ pages: all })}>
            {say.allAsPieces}
          </Button>
          <Button variant="outlined" disabled={blocked} onClick={() => send({ pages: all.slice(0, 1) })}>
            {say.onlyTheFirst}
          </Button>
        </Row>
      ) : (
        <Button type="submit" variant="contained" disabled={!ready || blocked} sx={{ alignSelf: "start" }}>
          {say.answerAll(files.length)}
        </Button>
      )}
      <Failure of={answer.error} />
    </Stack>
  );
}

/** The customer of all of them; none where they are several people's. */
function onlyCustomer(chosen: AskedAlike[]): string {
  const names = new Set(chosen.map((one) => one.customer));
  return names.size === 1 ? ([...names][0] ?? "") : "";
}
