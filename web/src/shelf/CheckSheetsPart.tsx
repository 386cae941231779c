/** Check sheets: limits and severities of the shop, a destination, a material or a customer; tried before they are kept. */
import {
  Alert,
  Button,
  MenuItem,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { type CheckSheets } from "../api/client";
import { useQuery } from "@tanstack/react-query";
import { useSaveSheet, useTrySheet } from "../api/shelfChanges";
import { useWork } from "../api/progress";
import { queries } from "../api/queries";
import { MONO, STOP } from "../ui/theme";
import { moment } from "../ui/words";
import { ImportButton } from "./ImportButton";

type Sheet = CheckSheets["sheets"][number];
type Check = CheckSheets["checks"][number];
interface Values {
  limits: Record<string, number>;
  severities: Record<string, string>;
}
const SCOPES: Record<string, string> = {
  shop: "the whole shop",
  destination: "destination",
  material: "material",
  customer: "customer",
};
const NONE: Values = { limits: {}, severities: {} };
const without = <T,>(record: Record<string, T>, key: string): Record<string, T> =>
  Object.fromEntries(Object.entries(record).filter(([name]) => name !== key));
const idOf = (sheet: Sheet) => `${sheet.scope} ${sheet.subject}`;
const valuesOf = (sheet: Sheet): Values => {
  const last = sheet.versions[0];
  return last ? { limits: { ...last.limits }, severities: { ...last.severities } } : NONE;
};

export function CheckSheetsPart() {
  const sheets = useQuery(queries.checkSheets());
  const [id, setId] = useState("shop ");
  if (sheets.isError) return <Failure of={sheets.error} />;
  if (!sheets.data) return <Typography variant="body2">Fetching the check sheets…</Typography>;
  const sheet = sheets.data.sheets.find((s) => idOf(s) === id) ?? sheets.data.sheets[0];
  if (!sheet) return null;
  return (
    <Stack spacing={1.5} component="section" aria-label="check sheets">
      <Typography variant="h2">Check sheets</Typography>
      <Typography variant="body2" color="text.secondary">
        What is not filled in stands as shipped. A customer's sheet goes before a material's, that before a
        destination's, that before the shop's; what an order says goes before all.
      </Typography>
      <TextField
        select
        label="Sheet of"
        value={idOf(sheet)}
        onChange={(e) => setId(e.target.value)}
        sx={{ width: 420 }}
      >
        {sheets.data.sheets.map((s) => (
          <MenuItem key={idOf(s)} value={idOf(s)}>
            {s.scope === "shop" ? SCOPES["shop"] : `${SCOPES[s.scope]}: ${s.title}`}
            {s.versions.length ? ` · version ${s.versions[0]?.number}` : ""}
          </MenuItem>
        ))}
      </TextField>
      <Editor
        key={`${idOf(sheet)} ${sheet.versions.length}`}
        sheet={sheet}
        checks={sheets.data.checks}
        mayEdit={sheets.data.may_edit}
      />
    </Stack>
  );
}

function Editor({ sheet, checks, mayEdit }: { sheet: Sheet; checks: Check[]; mayEdit: boolean }) {
  const [values, setValues] = useState(() => valuesOf(sheet));
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [note, setNote] = useState("");
  const [job, setJob] = useState<number | "">("");
  const [problem, setProblem] = useState("");
  const jobs = useQuery(queries.jobs());
  const save = useSaveSheet();
  const tried = useTrySheet();
  const work = useWork(tried.data?.id);
  const changed = JSON.stringify(values) !== JSON.stringify(valuesOf(sheet));
  const unsound = Object.keys(typed).filter(
    (key) =>
      !Number.isFinite(Number(typed[key]?.replace(",", "."))) || Number(typed[key]?.replace(",", ".")) < 0,
  );
  const draft = { scope: sheet.scope, subject: sheet.subject, ...values, note, job: job === "" ? null : job };
  const forget = () => {
    tried.reset();
    save.reset();
    setProblem("");
  };
  const setLimit = (key: string, text: string) => {
    forget();
    setTyped({ ...typed, [key]: text });
    const number = Number(text.replace(",", "."));
    const limits =
      text.trim() === ""
        ? without(values.limits, key)
        : Number.isFinite(number) && number >= 0
          ? { ...values.limits, [key]: number }
          : values.limits;
    setValues({ ...values, limits });
  };
  const setSeverity = (key: string, severity: string) => {
    forget();
    setValues({
      ...values,
      severities:
        severity === "shipped" ? without(values.severities, key) : { ...values.severities, [key]: severity },
    });
  };
  const load = (next: Values) => {
    forget();
    setTyped({});
    setValues({ limits: { ...next.limits }, severities: { ...next.severities } });
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
          label="Try on job"
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
          onClick={() => tried.mutate(draft)}
        >
          Show the effect
        </Button>
        <TextField
          label="What was changed, and why"
          value={note}
          onChange={(e) => setNote(e.target.value)}
          sx={{ width: 240 }}
        />
        <Button
          variant="contained"
          disabled={!mayEdit || !changed || unsound.length > 0 || save.isPending}
          onClick={() => save.mutate(draft)}
        >
          Keep as version {(sheet.versions[0]?.number ?? 0) + 1}
        </Button>
        <Button href={`/api/sheets/export?scope=${sheet.scope}&subject=${encodeURIComponent(sheet.subject)}`}>
          Export
        </Button>
        <ImportButton
          to="/api/sheets/import"
          label="check sheet to import"
          onRead={load}
          onRefused={setProblem}
        />
      </Stack>
      {!mayEdit && (
        <Alert severity="info">
          You may try limits on a job, but not keep them: that is for people with the right to change the
          Shelf.
        </Alert>
      )}
      {(problem || save.isError || tried.isError) && (
        <Alert severity="error">{problem || save.error?.message || tried.error?.message}</Alert>
      )}
      {unsound.length > 0 && <Alert severity="error">{unsound.join(", ")}: give a number from 0 on.</Alert>}
      {save.isSuccess && !changed && (
        <Alert severity="success">
          Kept. {job === "" ? "Jobs go by it when they are checked next." : "The job is checked by it now."}
        </Alert>
      )}
      {work.data && (
        <Effect
          state={work.data.state}
          what={work.data.what}
          error={work.data.error}
          result={work.data.result as EffectShape | null}
        />
      )}
      {sheet.versions.length > 0 && (
        <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: "wrap", alignItems: "center" }}>
          <Typography variant="body2" color="text.secondary">
            Versions:
          </Typography>
          {sheet.versions.slice(0, 12).map((v) => (
            <Button
              key={v.number}
              size="small"
              variant="outlined"
              title={`${v.who}, ${moment(v.when)}`}
              onClick={() => load(v)}
            >
              {v.number} · {v.note || v.who}
            </Button>
          ))}
          <Button onClick={() => load(NONE)}>As shipped</Button>
        </Stack>
      )}
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>Check</TableCell>
            <TableCell>Severity</TableCell>
            <TableCell>Limits</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {checks.map((check) => (
            <TableRow key={check.id} data-check={check.id}>
              <TableCell>
                <Typography variant="body2">{check.title}</Typography>
                <Typography variant="body2" sx={{ fontFamily: MONO, fontSize: 12 }} color="text.secondary">
                  {check.id}
                </Typography>
              </TableCell>
              <TableCell>
                <TextField
                  select
                  value={values.severities[check.id] ?? "shipped"}
                  onChange={(e) => setSeverity(check.id, e.target.value)}
                  sx={{ width: 150 }}
                  slotProps={{ htmlInput: { "aria-label": `severity of ${check.id}` } }}
                >
                  <MenuItem value="shipped">{check.severity} (shipped)</MenuItem>
                  {["stop", "look", "note", "off"].map((s) => (
                    <MenuItem key={s} value={s}>
                      {s}
                    </MenuItem>
                  ))}
                </TextField>
              </TableCell>
              <TableCell>
                <Stack direction="row" useFlexGap spacing={1} sx={{ flexWrap: "wrap" }}>
                  {check.limits
                    .filter((limit) => limit.value > 0 || limit.name)
                    .map((limit) => (
                      <TextField
                        key={limit.key}
                        label={[limit.name, limit.unit].filter(Boolean).join(", ")}
                        placeholder={String(limit.value)}
                        value={typed[limit.key] ?? values.limits[limit.key] ?? ""}
                        error={unsound.includes(limit.key)}
                        onChange={(e) => setLimit(limit.key, e.target.value)}
                        sx={{ width: 130 }}
                        slotProps={{
                          htmlInput: { "aria-label": `limit of ${limit.key}`, inputMode: "decimal" },
                          inputLabel: { shrink: true },
                        }}
                      />
                    ))}
                </Stack>
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </>
  );
}

interface Said {
  id: string;
  severity: string;
  message: string;
}
interface EffectShape {
  verdict: [string, string];
  goes: Said[];
  comes: Said[];
}

function Effect({
  state,
  what,
  error,
  result,
}: {
  state: string;
  what: string;
  error: string;
  result: EffectShape | null;
}) {
  if (state === "failed") return <Alert severity="error">{error}</Alert>;
  if (!result)
    return (
      <Typography variant="body2" role="status">
        {state === "cancelled" ? "Stopped." : `Trying it: ${what}…`}
      </Typography>
    );
  const rows: [string, Said[]][] = [
    ["goes", result.goes],
    ["comes", result.comes],
  ];
  return (
    <Stack spacing={0.5} role="status" data-testid="effect" sx={{ bgcolor: "background.paper", p: 1.5 }}>
      <Typography sx={{ fontWeight: 700 }}>
        {result.verdict[0] === result.verdict[1]
          ? `The job stays at “${result.verdict[0]}”.`
          : `The job goes from “${result.verdict[0]}” to “${result.verdict[1]}”.`}
      </Typography>
      {!result.goes.length && !result.comes.length && (
        <Typography variant="body2">No finding changes.</Typography>
      )}
      {rows.flatMap(([way, listed]) =>
        listed.map((f) => (
          <Typography
            key={way + f.id + f.message}
            variant="body2"
            sx={{ textDecoration: way === "goes" ? "line-through" : "none" }}
          >
            <b style={{ color: f.severity === "stop" ? STOP : undefined }}>
              {way} · {f.severity}
            </b>{" "}
            {f.message}
          </Typography>
        )),
      )}
    </Stack>
  );
}
