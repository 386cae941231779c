/** The sheets that several jobs share, as the Desk lists them. */
import { Box, Link as Anchor, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../api/queries";
import { useHeld } from "../ui/still";
import { mm } from "../ui/words";
import { desk as say } from "../texts/desk";

/** `held` keeps them as they are: the list below them would move. */
export function SharedSheets({ held }: { held: boolean }) {
  const sheets = useHeld(useQuery(queries.sharedSheets()).data, held);
  if (!sheets?.length) return null;
  return (
    <Box component="section" aria-label={say.sheetsThatJobsShare} sx={{ mb: 1.5 }}>
      <Typography variant="h2">{say.sheetsThatJobsShare2}</Typography>
      <Stack component="ul" spacing={0.25} sx={{ listStyle: "none", p: 0, m: 0 }}>
        {sheets.map((sheet) => (
          <Box component="li" key={sheet.id}>
            <Typography variant="body2" noWrap>
              <Anchor component={Link} to={`/shared/${sheet.id}`}>
                {sheet.name}
              </Anchor>
              {say.copyOn(
                sheet.jobs.join(", "),
                sheet.copies,
                sheet.material,
                sheet.sheets > 1 ? say.sheets(sheet.sheets) : "",
              )}
              {sheet.length_mm > 0 && `, ${mm(sheet.length_mm, 0)}`}
              {sheet.due && say.due2(sheet.due)}
              {sheet.released && say.released}
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
