/** The sheets that several jobs share, as the Desk lists them. */
import { Box, Link as Anchor, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../api/queries";
import { mm, plural } from "../ui/words";

export function SharedSheets() {
  const sheets = useQuery(queries.sharedSheets());
  if (!sheets.data?.length) return null;
  return (
    <Box component="section" aria-label="sheets that jobs share" sx={{ mb: 1.5 }}>
      <Typography variant="h2">Sheets that jobs share</Typography>
      <Stack component="ul" spacing={0.25} sx={{ listStyle: "none", p: 0, m: 0 }}>
        {sheets.data.map((sheet) => (
          <Box component="li" key={sheet.id}>
            <Typography variant="body2" noWrap>
              <Anchor component={Link} to={`/shared/${sheet.id}`}>
                {sheet.name}
              </Anchor>
              : {sheet.jobs.join(", ")}; {plural(sheet.copies, "copy", "copies")} on {sheet.material}
              {sheet.sheets > 1 ? `, ${sheet.sheets} sheets` : ""}
              {sheet.length_mm > 0 && `, ${mm(sheet.length_mm, 0)}`}
              {sheet.due && ` · due ${sheet.due}`}
              {sheet.released && " · released"}
              {sheet.error && (
                <Typography component="span" color="error" variant="body2">
                  {" "}
                  · {sheet.error}
                </Typography>
              )}
            </Typography>
          </Box>
        ))}
      </Stack>
    </Box>
  );
}
