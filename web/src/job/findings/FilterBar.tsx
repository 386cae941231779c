/** Which findings are shown: by severity, and by line or ink. */
import { Row } from "../../ui/Row";
import { MenuItem, TextField, ToggleButton, ToggleButtonGroup } from "@mui/material";
import type { Job } from "../../api/client";
import { lookOf, ROLES } from "../../ui/roles";
import { STOP } from "../../ui/theme";
import { groupOf, GROUPS, subjectsOf, type Filter } from "./groups";
import { findings as say } from "../../texts/findings";

interface Props {
  job: Job;
  filter: Filter;
  onFilter: (next: Filter) => void;
}

export function FilterBar({ job, filter, onFilter }: Props) {
  const subjects = subjectsOf(job);
  const count = (name: string) => job.findings.filter((f) => groupOf(f) === name).length;
  return (
    <Row spacing={1}>
      <ToggleButtonGroup
        size="small"
        exclusive
        value={filter.group}
        onChange={(_, next) => next && onFilter({ ...filter, group: next })}
        aria-label={say.whichFindingsLabel}
      >
        <ToggleButton value="all" sx={{ py: 0.25 }}>
          {say.all(job.findings.length)}
        </ToggleButton>
        {GROUPS.filter(([name]) => count(name)).map(([name, words, short]) => (
          <ToggleButton
            key={name}
            value={name}
            sx={{ py: 0.25, color: name === "stop" ? STOP : undefined }}
            aria-label={`${words} ${count(name)}`}
          >
            {short} {count(name)}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {subjects.length > 1 && (
        <TextField
          select
          value={subjects.includes(filter.subject) ? filter.subject : "all"}
          onChange={(e) => onFilter({ ...filter, subject: e.target.value })}
          sx={{ minWidth: 76, "& .MuiSelect-select": { py: 0.4, fontSize: 13 } }}
          slotProps={{ htmlInput: { "aria-label": say.ofWhichLineOrInk } }}
        >
          <MenuItem value="all">{say.anyLine}</MenuItem>
          {subjects.map((s) => (
            <MenuItem key={s} value={s}>
              {s in ROLES ? lookOf(s).words : s}
            </MenuItem>
          ))}
        </TextField>
      )}
    </Row>
  );
}
