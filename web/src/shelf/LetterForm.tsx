/** The shop's own words for letters: each text beside what ships, with the words that go in; of findings on demand. */
import { Box, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Data, Path, Schema } from "./form/schema";
import { labelOf, named } from "./form/schema";
import { shelf as say } from "../texts/shelf";

interface Props {
  schema: Schema;
  data: Data;
  onChange: (path: Path, value: unknown) => void;
}

type Texts = Record<string, string>;
/** The texts of an object as they ship. */
const shipped = (schema: Schema | undefined): Texts =>
  Object.fromEntries(
    Object.entries(schema?.properties ?? {}).map(([key, one]) => [key, String(one.default ?? "")]),
  );
const fills = (text: string) => [...text.matchAll(/\{[a-z_]+\}/g)].map(([one]) => one).join(" ");

export function LetterForm({ schema, data, onChange }: Props) {
  const own = shipped(schema.properties?.["texts"]);
  const findings = schema.properties?.["checks"]?.properties ?? {};
  const [check, setCheck] = useState(Object.keys(findings)[0] ?? "");
  const texts = (data["texts"] ?? {}) as Texts;
  const checks = (data["checks"] ?? {}) as Record<string, Texts>;
  return (
    <Stack spacing={2}>
      <Typography variant="body2" color="text.secondary">
        {say.whatIsLeftEmptyIs}
      </Typography>
      {Object.entries(own).map(([key, ships]) => (
        <OwnText
          key={key}
          label={labelOf(key)}
          ships={ships}
          value={texts[key] ?? ""}
          path={["texts", key]}
          onChange={onChange}
        />
      ))}
      <Box component="fieldset" sx={{ border: "1px solid", borderColor: "divider", m: 0, p: 1.5 }}>
        <Typography component="legend" variant="subtitle2" sx={{ px: 0.5 }}>
          {say.whatIsSaidOfA}
        </Typography>
        <Stack spacing={2}>
          <TextField
            select
            label={say.finding}
            value={check}
            onChange={(event) => setCheck(event.target.value)}
            sx={{ maxWidth: 420 }}
          >
            {Object.entries(findings).map(([id, one]) => (
              <MenuItem key={id} value={id}>
                {shipped(one)["title"]}
                {checks[id] && say.ownWords}
              </MenuItem>
            ))}
          </TextField>
          {Object.entries(shipped(findings[check])).map(([key, ships]) => (
            <OwnText
              key={`${check} ${key}`}
              label={labelOf(key)}
              ships={ships}
              value={checks[check]?.[key] ?? ""}
              path={["checks", check, key]}
              onChange={onChange}
            />
          ))}
        </Stack>
      </Box>
    </Stack>
  );
}

interface TextProps {
  label: string;
  ships: string;
  value: string;
  path: Path;
  onChange: (path: Path, value: unknown) => void;
}

function OwnText({ label, ships, value, path, onChange }: TextProps) {
  return (
    <TextField
      label={label}
      value={value}
      placeholder={ships}
      multiline
      fullWidth
      helperText={fills(ships) && say.filledIn(fills(ships))}
      onChange={(event) => onChange(path, event.target.value)}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { "data-field": named(path), maxLength: 2000 } }}
    />
  );
}
