/** A form for the data of a thing, made from its schema: a control for each field, what is wrong below it. */
import { Box, Stack, Typography } from "@mui/material";
import type { KindId } from "../../api/client";
import { ChoicesField, RowsField } from "./lists";
import {
  controlOf,
  known,
  labelOf,
  mayBeNull,
  nullable,
  saysOf,
  type Data,
  type Path,
  type Schema,
} from "./schema";
import {
  ChoiceField,
  ColourField,
  NumberField,
  PairField,
  TextOf,
  ThingField,
  YesField,
  type FieldProps,
} from "./simple";

export interface FormProps {
  schema: Schema;
  data: Data;
  refers: Record<string, KindId>;
  onChange: (path: Path, value: unknown) => void;
  path?: Path;
  /** Fields that are shown elsewhere. */
  but?: readonly string[];
}

const WIDE = new Set(["group", "rows", "words"]);

/** A field by its name, with those of the groups that it stands in, as `refers` has it. */
const called = (path: Path) => path.filter((part) => typeof part === "string").join(".");

export function SchemaForm({ schema, data, refers, onChange, path = [], but = [] }: FormProps) {
  const fields = Object.entries(known(schema).properties ?? {}).filter(([key]) => !but.includes(key));
  const isWide = ([key, inner]: [string, Schema]) =>
    WIDE.has(controlOf(called([...path, key]), inner, refers));
  const narrow = fields.filter((one) => !isWide(one));
  const wide = fields.filter(isWide);
  const field = ([key, inner]: [string, Schema]) => (
    <FieldOf
      key={key}
      name={key}
      schema={inner}
      value={data[key]}
      refers={refers}
      path={[...path, key]}
      onChange={onChange}
    />
  );
  return (
    <Stack spacing={2}>
      {narrow.length > 0 && (
        <Box
          sx={{
            display: "grid",
            gridTemplateColumns: "repeat(auto-fill, minmax(240px, 1fr))",
            gap: 2,
            alignItems: "start",
          }}
        >
          {narrow.map(field)}
        </Box>
      )}
      {wide.map(field)}
    </Stack>
  );
}

interface OneProps {
  name: string;
  schema: Schema;
  value: unknown;
  refers: Record<string, KindId>;
  path: Path;
  onChange: (path: Path, value: unknown) => void;
}

export function FieldOf({ name, schema, value: said, refers, path, onChange }: OneProps) {
  // what is not said is as its kind has it
  const value = said === undefined ? schema.default : said;
  const at = called(path);
  const kind = controlOf(at, schema, refers);
  const props: FieldProps = {
    name,
    label: labelOf(name),
    says: saysOf(schema),
    schema: known(schema),
    empty: mayBeNull(schema) && nullable(schema),
    value,
    path,
    onChange: (next) => onChange(path, next),
  };
  switch (kind) {
    case "thing":
      return <ThingField {...props} kind={refers[at] ?? "material"} />;
    case "choice":
      return <ChoiceField {...props} />;
    case "choices":
      return <ChoicesField {...props} kind={refers[at]} />;
    case "colour":
      return <ColourField {...props} />;
    case "pair":
      return Array.isArray(value) ? <PairField {...props} /> : null;
    case "yes":
      return <YesField {...props} />;
    case "number":
    case "length":
      return <NumberField {...props} />;
    case "text":
    case "words":
      return <TextOf {...props} many={kind === "words"} />;
    case "group":
      return (
        <Box component="fieldset" sx={{ border: "1px solid", borderColor: "divider", m: 0, p: 1.5, pt: 0.5 }}>
          <Typography component="legend" variant="subtitle2" sx={{ px: 0.5 }}>
            {props.label}
          </Typography>
          <Typography variant="body2" color="text.secondary" sx={{ mb: 1.5 }}>
            {props.says}
          </Typography>
          <SchemaForm
            schema={schema}
            data={(value ?? {}) as Data}
            refers={refers}
            path={path}
            onChange={onChange}
          />
        </Box>
      );
    case "rows":
      return (
        <RowsField {...props}>
          {(row, i) => (
            <SchemaForm
              schema={props.schema.items ?? {}}
              data={row}
              refers={refers}
              path={[...path, i]}
              onChange={onChange}
            />
          )}
        </RowsField>
      );
    case "fixed":
      return null;
  }
}
