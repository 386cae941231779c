/** The form of a thing's data: made from its schema, or of its own where a kind is no list of fields. */
import { Alert, Button } from "@mui/material";
import { Link } from "react-router";
import type { ShelfKind } from "../api/client";
import { LetterForm } from "./LetterForm";
import { SchemaForm } from "./form/SchemaForm";
import type { Data, Path, Schema } from "./form/schema";
import { summaryOf } from "./summary";
import { shelf as say } from "../texts/shelf";

interface Props {
  about: ShelfKind;
  data: Data;
  onChange: (path: Path, value: unknown) => void;
}

export function DataForm({ about, data, onChange }: Props) {
  const schema = about.schema as Schema;
  switch (about.kind) {
    case "letter":
      return <LetterForm schema={schema} data={data} onChange={onChange} />;
    case "recipe":
    case "check-sheet":
      return (
        <Alert
          severity="info"
          icon={false}
          action={
            <Button component={Link} to={`/shelf/${about.kind}`}>
              {say.changeItThere}
            </Button>
          }
        >
          {summaryOf({ kind: about.kind, data })}
        </Alert>
      );
    default:
      return <SchemaForm schema={schema} data={data} refers={about.refers} onChange={onChange} />;
  }
}
