/** Letters and proofs of a job: what was sent, what came back, and a proof to sign. */
import { Alert, Button, Link as Anchor, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Job, Letter } from "../../api/client";
import { useMay } from "../../api/may";
import { useAnswerProof, useSendProof } from "../../api/pileChanges";
import { useBusy } from "../../api/progress";
import { LetterList } from "../../customers/LetterList";
import { Failure } from "../../help/Failure";
import { Row } from "../../ui/Row";
import { day, moment } from "../../ui/words";
import { AnotherFile } from "../order/AnotherFile";
import { AddressField } from "./AddressField";
import { letters as say } from "../../texts/letters";

/** The letters that were sent, and where a reply's file goes. */
export function LettersPart({ job }: { job: Job }) {
  if (!job.letters.length) return null;
  const waits = job.letters.some((one) => one.answer === "open");
  return (
    <Stack component="section" aria-label={say.letters} spacing={0.75}>
      <Typography variant="h2">{say.letters}</Typography>
      <LetterList letters={job.letters} ofJob />
      {waits && <AnotherFile job={job} words={say.takeReply} label={say.replyFile} />}
    </Stack>
  );
}

/** A proof to sign: looked at, sent, and what came back on it. */
export function ProofPart({ job }: { job: Job }) {
  const send = useSendProof(job);
  const may = useMay("work");
  const busy = useBusy(job);
  const [to, setTo] = useState(job.write_to);
  const proofs = job.letters.filter((one) => one.kind === "proof");
  const last = proofs[0];
  const wanted = job.findings.some((one) => one.id === "file.proof" && !one.decision);
  const signed = proofs.find((one) => one.answer === "approved" && one.holds);
  return (
    <Stack component="section" aria-label={say.proof} spacing={0.75} data-testid="proof">
      <Typography variant="h2">{say.proof}</Typography>
      {wanted && <Alert severity="warning">{say.wanted}</Alert>}
      {signed && (
        <Alert severity="success">
          {say.signedFor(signed.signed_by, signed.signed_on ? day(signed.signed_on) : "")}
        </Alert>
      )}
      {last?.answer === "open" && (
        <>
          <Typography variant="body2">
            {say.waitsSince(moment(last.sent))} {!last.holds && say.outdated}
          </Typography>
          {may && <Answer job={job} letter={last} />}
        </>
      )}
      {!last && <Typography variant="body2">{say.proofSays}</Typography>}
      <Row spacing={1}>
        <AddressField value={to} onChange={setTo} />
        <Button
          variant={wanted && last?.answer !== "open" ? "contained" : "outlined"}
          disabled={busy || !may || send.isPending || job.revision === 0}
          onClick={() => send.mutate(to)}
          sx={{ flex: "none" }}
        >
          {last ? say.sendAnother : say.sendProof}
        </Button>
      </Row>
      <Anchor href={`/api/jobs/${job.id}/proof.pdf`} variant="body2">
        {say.lookAtIt}
      </Anchor>
      <Failure of={send.error} />
    </Stack>
  );
}

/** A proof came back: a yes or a no, by whom and when. */
function Answer({ job, letter }: { job: Job; letter: Letter }) {
  const answer = useAnswerProof(job);
  const [who, setWho] = useState("");
  const [on, setOn] = useState(() => new Date().toISOString().slice(0, 10));
  const [note, setNote] = useState("");
  const give = (yes: boolean) =>
    answer.mutate({
      letter: letter.id,
      answer: yes ? "approved" : "refused",
      signed_by: who,
      signed_on: on,
      note,
    });
  return (
    <Stack spacing={0.75} role="group" aria-label={say.answer}>
      <Row spacing={1}>
        <TextField label={say.whoSigned} value={who} onChange={(e) => setWho(e.target.value)} fullWidth />
        <TextField
          type="date"
          label={say.signedOn}
          value={on}
          onChange={(e) => setOn(e.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
          sx={{ width: 170, flex: "none" }}
        />
      </Row>
      <TextField label={say.whatToChange} value={note} onChange={(e) => setNote(e.target.value)} multiline />
      <Row spacing={1}>
        <Button variant="contained" disabled={!who.trim() || answer.isPending} onClick={() => give(true)}>
          {say.approved}
        </Button>
        <Button
          variant="outlined"
          disabled={!who.trim() || !note.trim() || answer.isPending}
          onClick={() => give(false)}
        >
          {say.refused}
        </Button>
      </Row>
      <Failure of={answer.error} />
    </Stack>
  );
}
