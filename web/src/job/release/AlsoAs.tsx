/** In which formats beside the cutter's own the lines are written. */
import { Checkbox, FormControlLabel, Stack, Typography } from "@mui/material";
import type { LineFormat } from "../../api/client";
import { looks } from "../../api/looks";
import { release as say } from "../../texts/release";

const FORMATS = looks.formats
  .slice(1)
  .map(({ id, words }): [LineFormat, string] => [id as LineFormat, words]);

interface Props {
  formats: LineFormat[];
  onFormats: (formats: LineFormat[]) => void;
}

export function AlsoAs({ formats, onFormats }: Props) {
  return (
    <Stack direction="row" useFlexGap spacing={1} sx={{ alignItems: "center", flexWrap: "wrap" }}>
      <Typography variant="body2" sx={{ flexBasis: "100%" }}>
        {say.linesAlsoAs}
      </Typography>
      {FORMATS.map(([kind, words]) => (
        <FormControlLabel
          key={kind}
          control={
            <Checkbox
              size="small"
              checked={formats.includes(kind)}
              onChange={(_, on) => onFormats(on ? [...formats, kind] : formats.filter((one) => one !== kind))}
            />
          }
          label={words}
          sx={{ my: -0.5, whiteSpace: "nowrap" }}
        />
      ))}
    </Stack>
  );
}
