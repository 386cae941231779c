/** How the file was taken in: its kind, what was noted, and what its layers, pens and colours are bound to. */
import { Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Failure } from "../../help/Failure";
import type { Job } from "../../api/client";
import { useAnswers } from "../../api/changes";
import { MONO } from "../../ui/theme";
import { kindWords } from "../../ui/words";
import { useBusy } from "../../api/progress";
import { AnotherFile } from "./AnotherFile";
import { Binding } from "./Questions";
import { common } from "../../texts/common";
import { order as say } from "../../texts/order";

export function TakenInAs({ job }: { job: Job }) {
  const answers = useAnswers(job.id);
  const [binding, setBinding] = useState<Record<string, string> | null>(null);
  const { intake } = job;
  const busy = useBusy(job);
  return (
    <Stack spacing={0.75}>
      <Typography variant="h2">{say.theFile}</Typography>
      <Typography variant="body2">
        <span style={{ fontFamily: MONO }}>{intake.file_name}</span>,{" "}
        {intake.kind ? kindWords(intake.kind) : busy ? say.beingRead : say.notRead}
        {job.seen?.annotations ? say.printingAnnotationsMadePartOf(job.seen.annotations) : ""}
      </Typography>
      {intake.notes.map((note) => (
        <Typography
          key={note.words}
          variant="body2"
          color={note.severity === "look" ? "text.primary" : "text.secondary"}
        >
          {note.words}
        </Typography>
      ))}
      {intake.choices.length > 0 && !binding && (
        <Button variant="outlined" sx={{ alignSelf: "flex-start" }} onClick={() => setBinding({})}>
          {say.sayWhichLayersAndColours}
        </Button>
      )}
      <AnotherFile job={job} words={say.theCustomerSentAnotherFile} label={say.anotherFileLabel} />
      {job.seen?.made && (
        <Typography variant="body2" color="text.secondary">
          {say.linesThatWereMadeHere}
        </Typography>
      )}
      {binding && (
        <>
          <Binding choices={intake.choices} binding={binding} onBind={setBinding} customer={job.customer} />
          <Failure of={answers.error} />
          <Stack direction="row" spacing={1}>
            <Button
              variant="contained"
              disabled={busy || !Object.keys(binding).length}
              onClick={() => answers.mutate({ binding }, { onSuccess: () => setBinding(null) })}
            >
              {say.takeInAgainSo}
            </Button>
            <Button onClick={() => setBinding(null)}>{common.leaveIt}</Button>
          </Stack>
        </>
      )}
    </Stack>
  );
}
