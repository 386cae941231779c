/** Controls for several values: words chosen or written, and rows with fields of their own. */
import { Autocomplete, Box, Button, FormHelperText, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import type { KindId } from "../../api/client";
import { queries } from "../../api/queries";
import { blank, known, labelOf, named, type Data } from "./schema";
import type { FieldProps } from "./simple";
import { shelf as say } from "../../texts/shelf";

interface ChoicesProps extends FieldProps {
  kind: KindId | undefined;
}

/** Several words: of a list, things by their names, or free. */
export function ChoicesField({ label, says, schema, value, path, kind, onChange }: ChoicesProps) {
  const listed = useQuery({ ...queries.things(kind ?? "material"), enabled: kind !== undefined });
  const words = known(schema.items ?? {}).enum as string[] | undefined;
  const titles = new Map((listed.data?.things ?? []).map((one) => [one.id, one.title]));
  const options = kind ? [...titles.keys()] : (words ?? []);
  return (
    <Autocomplete
      multiple
      freeSolo={!kind && !words}
      options={options}
      value={Array.isArray(value) ? (value as string[]) : []}
      getOptionLabel={(one) => titles.get(one) ?? one}
      onChange={(_, next) => onChange(next)}
      renderInput={(params) => (
        <TextField
          {...params}
          label={label}
          helperText={kind || words ? says : say.enterTakesOne(says)}
          slotProps={{
            ...params.slotProps,
            htmlInput: { ...params.slotProps.htmlInput, "data-field": named(path) },
          }}
        />
      )}
    />
  );
}

interface RowsProps extends FieldProps {
  children: (row: Data, number: number) => ReactNode;
}

/** Rows in an order: made, moved, taken out. */
export function RowsField({ name, label, says, schema, value, children, onChange }: RowsProps) {
  const rows = Array.isArray(value) ? (value as Data[]) : [];
  const one = labelOf(name)
    .toLowerCase()
    .replace(/s$/, "")
    .replace(/strata$/, "stratum");
  const moved = (i: number, by: number) => {
    const next = [...rows];
    const [row] = next.splice(i, 1);
    if (row) next.splice(i + by, 0, row);
    onChange(next);
  };
  return (
    <Box component="fieldset" sx={{ border: "1px solid", borderColor: "divider", m: 0, p: 1.5, pt: 0.5 }}>
      <Typography component="legend" variant="subtitle2" sx={{ px: 0.5 }}>
        {label}
      </Typography>
      <FormHelperText sx={{ mt: 0, mb: 1 }}>{says}</FormHelperText>
      <Stack spacing={2}>
        {rows.map((row, i) => (
          <Stack
            key={i}
            direction="row"
            spacing={1}
            sx={{
              alignItems: "flex-start",
              borderTop: i ? "1px solid" : 0,
              borderColor: "divider",
              pt: i ? 2 : 0,
            }}
          >
            <Typography variant="body2" color="text.secondary" sx={{ pt: 1, width: 18 }}>
              {i + 1}
            </Typography>
            <Box sx={{ flex: 1, minWidth: 0 }}>{children(row, i)}</Box>
            <Stack>
              <Button disabled={i === 0} onClick={() => moved(i, -1)} aria-label={say.up(one, i + 1)}>
                {say.up2}
              </Button>
              <Button
                disabled={i === rows.length - 1}
                onClick={() => moved(i, 1)}
                aria-label={say.down(one, i + 1)}
              >
                {say.down2}
              </Button>
              <Button
                disabled={rows.length <= (schema.minItems ?? 0)}
                onClick={() => onChange(rows.filter((_, k) => k !== i))}
                aria-label={say.takeOut(one, i + 1)}
              >
                {say.out}
              </Button>
            </Stack>
          </Stack>
        ))}
      </Stack>
      <Button
        sx={{ mt: 1 }}
        disabled={rows.length >= (schema.maxItems ?? Infinity)}
        onClick={() => onChange([...rows, blank(schema.items ?? {})])}
      >
        {say.addA(one)}
      </Button>
    </Box>
  );
}
