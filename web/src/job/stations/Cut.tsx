/** Cut: operations in order, each with tool, force and speed; lengths and the time. */
import { Box, Button, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Job, Tool } from "../../api/client";
import { useJobChange } from "../../api/changes";
import { lookOf } from "../../ui/roles";
import { metres, minutes } from "../../ui/words";
import { RoleSign } from "../../stage/RoleLine";
import { Docket, Figure } from "../../ui/Docket";
import { NotYet, SheetStage } from "./SheetStage";

export function Cut({ job }: { job: Job }) {
  const { sheet } = job;
  const [shown, setShown] = useState(0);
  const cut = [job.cut, ...job.more_cuts][shown] ?? job.cut;
  return (
    <>
      <SheetStage job={job} label="Cut" onShown={setShown} />
      <Docket title="Cut, in this order">
        {!cut && <NotYet job={job} />}
        {sheet?.error && <Typography>{sheet.error}</Typography>}
        {cut?.operations.map((operation, i) => (
          <Box key={operation.role} data-operation={operation.role}>
            <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
              <Typography sx={{ fontWeight: 700 }}>{i + 1}.</Typography>
              <RoleSign role={operation.role} />
              <Typography sx={{ fontWeight: 700, flex: 1 }}>{lookOf(operation.role).words}</Typography>
              <Typography variant="body2">{minutes(operation.time_s)}</Typography>
            </Stack>
            <Typography variant="body2" color="text.secondary">
              {operation.contours} contours, {metres(operation.cut_mm)} cut, {metres(operation.travel_mm)}{" "}
              travel
              {operation.mirrored ? " · from behind, on the turned sheet" : ""}
            </Typography>
            <ToolForm key={JSON.stringify(operation.tool)} job={job} tool={operation.tool} />
          </Box>
        ))}
        {cut && !cut.operations.length && !sheet?.error && <Typography>There is no line to cut.</Typography>}
        {cut && (
          <>
            <Figure words="Cut in all">{metres(cut.cut_mm)}</Figure>
            <Figure words="Travel in all">{metres(cut.travel_mm)}</Figure>
            <Figure words="Time, tool changes included">{minutes(cut.time_s)}</Figure>
          </>
        )}
        <Typography variant="body2" color="text.secondary">
          Inner contours come before outer ones; what falls out is cut last. The time leaves out acceleration.
          Always test-cut.
        </Typography>
      </Docket>
    </>
  );
}

const FIELDS = [
  ["number", "Tool"],
  ["force_gf", "Force, gf"],
  ["speed_mm_s", "mm/s"],
  ["passes", "Passes"],
] as const;

function ToolForm({ job, tool }: { job: Job; tool: Tool }) {
  const change = useJobChange(job.id);
  const [own, setOwn] = useState<Tool>(tool);
  const perforates = tool.cut_mm !== null && tool.cut_mm !== undefined;
  const fields = perforates
    ? [...FIELDS, ["cut_mm", "Cut, mm"] as const, ["tie_mm", "Tie, mm"] as const]
    : FIELDS;
  const changed = JSON.stringify(own) !== JSON.stringify(tool);
  return (
    <Stack
      component="form"
      direction="row"
      useFlexGap
      spacing={0.5}
      sx={{ flexWrap: "wrap", mt: 0.7 }}
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate({ tools: [own] });
      }}
    >
      {fields.map(([field, words]) => (
        <TextField
          key={field}
          label={words}
          type="number"
          value={own[field] ?? ""}
          sx={{ width: 82 }}
          slotProps={{ htmlInput: { step: "any", "aria-label": `${words} for ${tool.role}` } }}
          onChange={(e) => setOwn({ ...own, [field]: Number(e.target.value) })}
        />
      ))}
      {changed && (
        <Button type="submit" variant="contained">
          Keep
        </Button>
      )}
      {change.isError && (
        <Typography color="error" variant="body2">
          {change.error.message}
        </Typography>
      )}
    </Stack>
  );
}
