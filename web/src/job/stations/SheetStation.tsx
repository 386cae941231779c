/** Sheet: copies in rows and columns on the material, marks and code, margins; length, waste, how far off cuts land. */
import { Alert, Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Job } from "../../api/client";
import { useJobChange } from "../../api/changes";
import { mm, typed } from "../../ui/words";
import { Docket, Figure } from "../../ui/Docket";
import { MaterialField } from "../order/MaterialField";
import { MarksPart, type Marks } from "./MarksPart";
import { Expected, MisplacementMap } from "./Misplacement";
import { NestPart } from "./NestPart";
import { NotYet, SheetStage } from "./SheetStage";

export function SheetStation({ job }: { job: Job }) {
  const sheet = job.sheet;
  const [shown, setShown] = useState(false);
  return (
    <>
      <SheetStage job={job} label="Sheet">
        {shown && sheet?.misplacement && <MisplacementMap of={sheet.misplacement} />}
      </SheetStage>
      <Docket title="Sheet">
        {!sheet && <NotYet job={job} />}
        {sheet?.error && <Alert severity="error">{sheet.error}</Alert>}
        {sheet && !sheet.error ? (
          <>
            <Figure words="Copies">
              {sheet.columns
                ? `${sheet.placements.length} in ${sheet.columns} columns, ${sheet.rows} rows`
                : `${sheet.placements.length}, nested`}
              {sheet.turned ? ", turned" : ""}
            </Figure>
            {!sheet.columns && sheet.rows_mm && (
              <Figure words="In rows and columns it would be">{mm(sheet.rows_mm, 0)}</Figure>
            )}
            <Figure words="Media used">
              {mm(sheet.width_mm, 0)} × {mm(sheet.length_mm, 0)}
            </Figure>
            <Figure words="Waste">{(sheet.waste * 100).toFixed(1)} %</Figure>
            <Figure words="Side margins for the rollers">{mm(sheet.side_margin_mm, 0)}</Figure>
            <Figure words="Leader, trailer">
              {mm(sheet.leader_mm, 0)}, {mm(sheet.trailer_mm, 0)}
            </Figure>
            <Figure words="Marks">{sheet.marks.length}</Figure>
            {sheet.code && <Figure words="Code beside the first mark">{sheet.code}</Figure>}
            {sheet.mirrored && <Figure words="Printed">the other way round</Figure>}
            <Expected sheet={sheet} shown={shown} onShow={setShown} />
            {sheet.left_out.length > 0 && (
              <Alert severity="warning">
                Not on the sheet, since not ordered: {sheet.left_out.join(", ")}
              </Alert>
            )}
            {sheet.notes.map((note) => (
              <Alert key={note} severity="warning">
                {note}
              </Alert>
            ))}
          </>
        ) : null}
        <NestPart key={`nest ${job.id}`} job={job} />
        <LayoutForm key={`${job.id} ${JSON.stringify(job.layout)}`} job={job} />
        <Typography variant="body2" color="text.secondary">
          The grey bands stay free: the leader comes out first and lies at the bottom.
        </Typography>
      </Docket>
    </>
  );
}

function LayoutForm({ job }: { job: Job }) {
  const change = useJobChange(job.id);
  const [material, setMaterial] = useState(job.material_id);
  const [columns, setColumns] = useState(String(job.layout.columns ?? ""));
  const [gap, setGap] = useState(String(job.layout.gap_mm ?? ""));
  const [marks, setMarks] = useState<Marks>((job.layout.marks ?? {}) as Marks);
  const [code, setCode] = useState(job.layout.code !== false);
  const [mirror, setMirror] = useState(job.layout.mirror === true);
  const nested = !!(job.layout.placed as unknown[] | undefined)?.length;
  const wrong = Number.isNaN(typed(gap));
  const [turned, setTurned] = useState(
    job.layout.turned === undefined || job.layout.turned === null ? "auto" : String(job.layout.turned),
  );
  return (
    <Stack
      component="form"
      spacing={1.5}
      onSubmit={(event) => {
        event.preventDefault();
        if (wrong) return;
        change.mutate({
          material,
          ...(nested
            ? {}
            : {
                columns: columns ? Number(columns) : null,
                gap_mm: typed(gap),
                turned: turned === "auto" ? null : turned === "true",
              }),
          marks: { kind: "bracket-in", around: "art", ...marks },
          code,
          mirror,
        });
      }}
    >
      <MaterialField value={material} onChange={setMaterial} />
      {!nested && (
        <Stack direction="row" spacing={1}>
          <TextField
            label="Columns"
            placeholder="as fit"
            value={columns}
            onChange={(e) => setColumns(e.target.value.replace(/\D/g, ""))}
          />
          <TextField
            label="Gap, mm"
            placeholder="2 × bleed"
            value={gap}
            error={wrong}
            onChange={(e) => setGap(e.target.value)}
          />
          <TextField
            select
            label="Turned"
            value={turned}
            onChange={(e) => setTurned(e.target.value)}
            sx={{ minWidth: 120 }}
          >
            <MenuItem value="auto">less waste</MenuItem>
            <MenuItem value="false">no</MenuItem>
            <MenuItem value="true">yes</MenuItem>
          </TextField>
        </Stack>
      )}
      {nested && (
        <Button onClick={() => change.mutate({ columns: null, gap_mm: null, turned: null })}>
          Back to rows and columns
        </Button>
      )}
      <MarksPart
        marks={marks}
        onMarks={setMarks}
        code={code}
        onCode={setCode}
        mirror={mirror}
        onMirror={setMirror}
      />
      {wrong && (
        <Typography color="error" role="alert">
          Gap, mm: “{gap}” is not a number.
        </Typography>
      )}
      {change.isError && <Typography color="error">{change.error.message}</Typography>}
      <Button type="submit" variant="contained" disabled={change.isPending || wrong}>
        Lay out
      </Button>
    </Stack>
  );
}
