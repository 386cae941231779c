/** What a file leaves open: asked once, in plain words, before anything else is shown. */
import { Row } from "../../ui/Row";
import { Box, Button, Checkbox, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Failure } from "../../help/Failure";
import type { Answers, Job, Question } from "../../api/client";
import { useAnswers } from "../../api/changes";
import { CUTS, lookOf, ROLES } from "../../ui/roles";
import { RoleSign } from "../../stage/RoleLine";
import { LengthField } from "../../ui/LengthField";
import { SizeMeans } from "./SizeMeans";
import { useBusy } from "../../api/progress";
import { order as say } from "../../texts/order";

type Said = Partial<Answers>;
const WANTED: Record<string, string> = {
  size: say.howLargeItIs,
  pages: say.whichPage,
  binding: say.whatEachLineIs,
  unit: say.theUnit,
  password: say.thePassword,
};

export function Questions({ job }: { job: Job }) {
  const answers = useAnswers(job.id);
  const [said, setSaid] = useState<Said>({});
  const add = (next: Said) => setSaid((before) => ({ ...before, ...next }));
  const pages = job.questions.find((question) => question.id === "pages");
  const ready = job.questions.every((question) => isSaid(question, said));
  const working = useBusy(job);
  const busy = answers.isPending || working;
  const send = (more: Said = {}) => answers.mutate({ ...said, ...more });
  return (
    <Box sx={{ flex: 1, overflowY: "auto", py: 4 }}>
      <Stack
        component="form"
        spacing={3}
        aria-label={say.questionsLabel}
        sx={{ width: 680, maxWidth: "92%", mx: "auto", bgcolor: "background.paper", p: 3 }}
        onSubmit={(event) => {
          event.preventDefault();
          if (ready) send();
        }}
      >
        <Typography variant="body2" color="text.secondary">
          {say.isKeptAsItCame(job.intake.file_name)}
        </Typography>
        {!pages && <Glance job={job} />}
        {job.questions.map((question) => (
          <Asked key={question.id} job={job} question={question} said={said} onSay={add} />
        ))}
        <Failure of={answers.error} />
        {pages && (said.pages?.length ?? 0) > 1 ? (
          <Stack direction="row" spacing={1}>
            <Button
              variant="contained"
              size="medium"
              disabled={busy}
              onClick={() => send({ each_page: true })}
            >
              {say.make}
              {said.pages?.length}
              {say.jobsOneAPage}
            </Button>
            {job.intake.kind !== "tiff" && (
              <Button variant="outlined" size="medium" disabled={busy} onClick={() => send()}>
                {say.oneJobWith}
                {said.pages?.length}
                {say.pieces}
              </Button>
            )}
          </Stack>
        ) : (
          <Row spacing={2}>
            <Button type="submit" variant="contained" size="medium" disabled={!ready || busy}>
              {pages && said.pages?.length === 1 ? say.takePage(said.pages[0]) : say.goOnWithThis}
            </Button>
            {!ready && (
              <Typography variant="body2" color="text.secondary">
                {say.stillToSay(
                  job.questions
                    .filter((q) => !isSaid(q, said))
                    .map((q) => WANTED[q.id] ?? q.id)
                    .join(", "),
                )}
              </Typography>
            )}
          </Row>
        )}
      </Stack>
    </Box>
  );
}

/**
 * What the file shows, as far as it can be told before it is taken in. Its place is kept from the
 * beginning, so that no question moves away under a press when the picture comes or does not.
 */
function Glance({ job }: { job: Job }) {
  const [there, setThere] = useState(true);
  if (job.questions.some((question) => question.id === "password")) return null;
  return (
    <Row sx={{ height: 240, maxWidth: "100%" }}>
      {there ? (
        <Box
          component="img"
          alt={say.whatShows(job.intake.file_name)}
          src={`/api/jobs/${job.id}/glance`}
          onError={() => setThere(false)}
          sx={{ maxWidth: "100%", height: 240, objectFit: "contain", border: "1px solid #D9D9D9" }}
        />
      ) : (
        <Typography variant="body2" color="text.secondary">
          {say.nothingShowsYet}
        </Typography>
      )}
    </Row>
  );
}

function isSaid(question: Question, said: Said): boolean {
  if (question.id === "size") return !!(said.width_mm || said.height_mm);
  if (question.id === "pages") return !!said.pages?.length;
  if (question.id === "binding")
    return question.choices.every((choice) => said.binding?.[choice.key] || choice.said);
  return !!said[question.id as "password" | "unit"];
}

interface AskedProps {
  job: Job;
  question: Question;
  said: Said;
  onSay: (next: Said) => void;
}

function Asked({ job, question, said, onSay }: AskedProps) {
  return (
    <Stack spacing={1.5} data-question={question.id}>
      <Typography variant="h2">{question.words}</Typography>
      {question.id === "password" && (
        <TextField
          label={say.passwordOfTheFile}
          type="password"
          autoFocus
          value={said.password ?? ""}
          onChange={(e) => onSay({ password: e.target.value })}
          autoComplete="off"
        />
      )}
      {question.id === "size" && (
        <Row spacing={1}>
          <LengthField
            label={say.width}
            autoFocus
            value={said.width_mm}
            onChange={(width_mm) => onSay({ width_mm })}
          />
          <Typography>{say.or}</Typography>
          <LengthField
            label={say.height}
            value={said.height_mm}
            onChange={(height_mm) => onSay({ height_mm })}
          />
          <Typography variant="body2" color="text.secondary">
            {say.oneOfThemIsEnough}
          </Typography>
        </Row>
      )}
      {question.id === "size" && (
        <SizeMeans question={question} width={said.width_mm} height={said.height_mm} />
      )}
      {question.id === "unit" && (
        <TextField
          select
          label={say.oneUnitIsOne}
          value={said.unit ?? ""}
          onChange={(e) => onSay({ unit: e.target.value })}
          sx={{ width: 380 }}
        >
          {question.choices.map((choice) => (
            <MenuItem key={choice.key} value={choice.key}>
              {choice.words}
            </MenuItem>
          ))}
        </TextField>
      )}
      {question.id === "pages" && (
        <Pages
          job={job}
          question={question}
          pages={said.pages ?? []}
          onChoose={(pages) => onSay({ pages })}
        />
      )}
      {question.id === "binding" && (
        <Binding
          choices={question.choices}
          binding={said.binding ?? {}}
          onBind={(binding) => onSay({ binding })}
          customer={job.customer}
        />
      )}
    </Stack>
  );
}

function Pages({
  job,
  question,
  pages,
  onChoose,
}: {
  job: Job;
  question: Question;
  pages: number[];
  onChoose: (pages: number[]) => void;
}) {
  const all = question.choices.map((choice) => Number(choice.key));
  const flip = (page: number) =>
    onChoose(pages.includes(page) ? pages.filter((p) => p !== page) : [...pages, page].sort((a, b) => a - b));
  return (
    <>
      <Stack direction="row" spacing={1}>
        <Button variant="outlined" onClick={() => onChoose(all)}>
          {say.allPages}
        </Button>
        <Button variant="outlined" onClick={() => onChoose([])} disabled={!pages.length}>
          {say.none}
        </Button>
      </Stack>
      <Box
        sx={{
          display: "grid",
          gridTemplateColumns: "repeat(auto-fill, minmax(140px, 1fr))",
          gap: 1,
          maxHeight: 420,
          overflowY: "auto",
        }}
      >
        {question.choices.map((choice) => {
          const page = Number(choice.key);
          return (
            <Box
              key={choice.key}
              component="label"
              sx={{
                display: "flex",
                flexDirection: "column",
                bgcolor: pages.includes(page) ? "#DDE8E8" : "#F4F4F4",
                p: 1,
                cursor: "pointer",
              }}
            >
              <Box
                component="img"
                loading="lazy"
                alt=""
                src={`/api/jobs/${job.id}/pages/${page}`}
                sx={{ height: 110, objectFit: "contain", bgcolor: "#E6E6E6" }}
              />
              <Row>
                <Checkbox
                  size="small"
                  checked={pages.includes(page)}
                  onChange={() => flip(page)}
                  sx={{ p: 0.5 }}
                />
                <Typography variant="body2">{choice.words}</Typography>
              </Row>
            </Box>
          );
        })}
      </Box>
    </>
  );
}

interface BindingProps {
  choices: Question["choices"];
  binding: Record<string, string>;
  onBind: (binding: Record<string, string>) => void;
  customer: string;
}

export function Binding({ choices, binding, onBind, customer }: BindingProps) {
  return (
    <Stack spacing={0.75}>
      {choices.map((choice) => {
        const value = binding[choice.key] ?? choice.said;
        return (
          <Row key={choice.key} spacing={1.5}>
            {choice.sample.startsWith("M") ? (
              <svg
                width={56}
                height={56}
                viewBox="0 0 100 100"
                style={{ background: "#F4F4F4", flex: "none" }}
                aria-hidden
              >
                <path
                  d={choice.sample}
                  transform="matrix(1 0 0 -1 0 100)"
                  fill="none"
                  stroke="#1A1A1A"
                  strokeWidth={1.5}
                  vectorEffect="non-scaling-stroke"
                />
              </svg>
            ) : (
              choice.sample && (
                <Box sx={{ width: 26, borderTop: "3px solid", borderColor: choice.sample, flex: "none" }} />
              )
            )}
            <Typography variant="body2" sx={{ flex: 1, overflowWrap: "anywhere" }}>
              {choice.words}
            </Typography>
            <Box sx={{ width: 36 }}>{value && ROLES[value] && <RoleSign role={value} />}</Box>
            <TextField
              select
              value={value}
              onChange={(e) => onBind({ ...binding, [choice.key]: e.target.value })}
              sx={{ width: 180 }}
              slotProps={{ htmlInput: { "aria-label": say.whatIs(choice.words) } }}
            >
              {CUTS.map((role) => (
                <MenuItem key={role} value={role}>
                  {lookOf(role).words}
                </MenuItem>
              ))}
              <MenuItem value="art">{say.artPrinted}</MenuItem>
              <MenuItem value="leave-out">{say.leftOut}</MenuItem>
            </TextField>
          </Row>
        );
      })}
      <Typography variant="body2" color="text.secondary">
        {customer ? say.rememberedFor(customer) : say.withACustomerInThe}
      </Typography>
    </Stack>
  );
}
