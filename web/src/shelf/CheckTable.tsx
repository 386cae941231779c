/** Every check with its severity and its limits, where a sheet can say others than the shipped ones. */
import {
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
import { MONO } from "../ui/theme";
import type { Check, SheetDraft } from "./sheetDraft";
import { shelf as say } from "../texts/shelf";

export function CheckTable({ checks, draft }: { checks: Check[]; draft: SheetDraft }) {
  return (
    <Table size="small">
      <TableHead>
        <TableRow>
          <TableCell>{say.check}</TableCell>
          <TableCell>{say.severity}</TableCell>
          <TableCell>{say.limits}</TableCell>
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
                value={draft.values.severities[check.id] ?? "shipped"}
                onChange={(e) => draft.setSeverity(check.id, e.target.value)}
                sx={{ width: 150 }}
                slotProps={{ htmlInput: { "aria-label": say.severityOf(check.id) } }}
              >
                <MenuItem value="shipped">{say.shipped(check.severity)}</MenuItem>
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
                      value={draft.textOf(limit.key)}
                      error={draft.unsound.includes(limit.key)}
                      onChange={(e) => draft.setLimit(limit.key, e.target.value)}
                      sx={{ width: 130 }}
                      slotProps={{
                        htmlInput: { "aria-label": say.limitOf(limit.key), inputMode: "decimal" },
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
  );
}
