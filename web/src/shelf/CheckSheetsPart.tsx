/** Check sheets: limits and severities of the shop, a destination, a material or a customer; tried before they are kept. */
import { MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { queries } from "../api/queries";
import { Failure } from "../help/Failure";
import { CheckSheetEditor } from "./CheckSheetEditor";
import type { Sheet } from "./sheetDraft";
import { shelf as say } from "../texts/shelf";

const SCOPES: Record<string, string> = {
  shop: say.theWholeShop,
  destination: "destination",
  material: "material",
  customer: "customer",
};
const idOf = (sheet: Sheet) => `${sheet.scope} ${sheet.subject}`;

export function CheckSheetsPart() {
  const sheets = useQuery(queries.checkSheets());
  const [id, setId] = useState(say.shop);
  if (sheets.isError) return <Failure of={sheets.error} />;
  if (!sheets.data) return <Typography variant="body2">{say.fetchingTheCheckSheets}</Typography>;
  const sheet = sheets.data.sheets.find((s) => idOf(s) === id) ?? sheets.data.sheets[0];
  if (!sheet) return null;
  return (
    <Stack spacing={1.5} component="section" aria-label={say.checkSheetsLabel}>
      <Typography variant="h1">{say.checkSheets}</Typography>
      <Typography variant="body2" color="text.secondary">
        {say.whatIsNotFilledIn}
      </Typography>
      <TextField
        select
        label={say.sheetOf}
        value={idOf(sheet)}
        onChange={(e) => setId(e.target.value)}
        sx={{ width: 420 }}
      >
        {sheets.data.sheets.map((s) => (
          <MenuItem key={idOf(s)} value={idOf(s)}>
            {s.scope === "shop" ? SCOPES["shop"] : `${SCOPES[s.scope]}: ${s.title}`}
            {s.versions.length ? say.version(s.versions[0]?.number) : ""}
          </MenuItem>
        ))}
      </TextField>
      <CheckSheetEditor
        key={`${idOf(sheet)} ${sheet.versions.length}`}
        sheet={sheet}
        checks={sheets.data.checks}
        mayEdit={sheets.data.may_edit}
      />
    </Stack>
  );
}
