/** A check sheet being written: tried on a job, then kept as a version. */
import { Alert, Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useWork } from "../api/progress";
import { queries } from "../api/queries";
import { useSaveSheet, useTrySheet } from "../api/shelfChanges";
import { moment } from "../ui/words";
import { CheckTable } from "./CheckTable";
import { Effect } from "./Effect";
import { ImportButton } from "./ImportButton";
import { NONE, useSheetDraft, type Check, type Sheet, type Values } from "./sheetDraft";
import { shelf as say } from "../texts/shelf";

interface Props {
  sheet: Sheet;
  checks: Check[];
  mayEdit: boolean;
}

export function CheckSheetEditor({ sheet, checks, mayEdit }: Props) {
  const [note, setNote] = useState("");
  const [job, setJob] = useState<number | "">("");
  const [problem, setProblem] = useState("");
  const jobs = useQuery(queries.jobs());
  const save = useSaveSheet();
  const tried = useTrySheet();
  const work = useWork(tried.data?.id);
  const forget = () => {
    tried.reset();
    save.reset();
    setProblem("");
  };
  const draft = useSheetDraft(sheet, forget);
  const { changed, unsound } = draft;
  const asked = {
    scope: sheet.scope,
    subject: sheet.subject,
    ...draft.values,
    note,
    job: job === "" ? null : job,
  };
  return (
    <>
      <Stack
        direction="row"
        useFlexGap
        spacing={1}
        sx={{
          alignItems: "center",
          flexWrap: "wrap",
          position: "sticky",
          top: 0,
          bgcolor: "background.default",
          py: 1,
          zIndex: 2,
        }}
      >
        <TextField
          select
          label={say.tryOnJob}
          value={job}
          onChange={(e) => {
            forget();
            setJob(Number(e.target.value));
          }}
          sx={{ width: 220 }}
        >
          {(jobs.data ?? [])
            .filter((j) => j.has_picture)
            .map((j) => (
              <MenuItem key={j.id} value={j.id}>
                {j.name}
              </MenuItem>
            ))}
        </TextField>
        <Button
          variant="outlined"
          disabled={job === "" || unsound.length > 0 || tried.isPending}
          onClick={() => tried.mutate(asked)}
        >
          {say.showTheEffect}
        </Button>
        <TextField
          label={say.whatWasChangedAndWhy}
          value={note}
          onChange={(e) => setNote(e.target.value)}
          sx={{ width: 240 }}
        />
        <Button
          variant="contained"
          disabled={!mayEdit || !changed || unsound.length > 0 || save.isPending}
          onClick={() => save.mutate(asked)}
        >
          {say.keepAsVersion((sheet.versions[0]?.number ?? 0) + 1)}
        </Button>
        <Button href={`/api/sheets/export?scope=${sheet.scope}&subject=${encodeURIComponent(sheet.subject)}`}>
          {say.exportIt}
        </Button>
        <ImportButton
          to="/api/sheets/import"
          label={say.checkSheetToImport}
          onRead={draft.load}
          onRefused={setProblem}
        />
      </Stack>
      {!mayEdit && <Alert severity="info">{say.youMayTryLimitsOn}</Alert>}
      {(problem || save.isError || tried.isError) && (
        <Alert severity="error">{problem || save.error?.message || tried.error?.message}</Alert>
      )}
      {unsound.length > 0 && <Alert severity="error">{say.giveANumberFrom0(unsound.join(", "))}</Alert>}
      {save.isSuccess && !changed && <Alert severity="success">{say.kept2(job === "")}</Alert>}
      {work.data && <Effect work={work.data} />}
      {sheet.versions.length > 0 && <Versions sheet={sheet} onLoad={draft.load} />}
      <CheckTable checks={checks} draft={draft} />
    </>
  );
}

function Versions({ sheet, onLoad }: { sheet: Sheet; onLoad: (values: Values) => void }) {
  return (
    <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: "wrap", alignItems: "center" }}>
      <Typography variant="body2" color="text.secondary">
        {say.versions2}
      </Typography>
      {sheet.versions.slice(0, 12).map((v) => (
        <Button
          key={v.number}
          size="small"
          variant="outlined"
          title={`${v.who}, ${moment(v.when)}`}
          onClick={() => onLoad(v)}
        >
          {v.number} · {v.note || v.who}
        </Button>
      ))}
      <Button onClick={() => onLoad(NONE)}>{say.asShipped2}</Button>
    </Stack>
  );
}
