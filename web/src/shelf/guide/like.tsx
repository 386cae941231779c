/** A thing of the shop's own that is like an example: its name, and what differs at once; the rest is on the Shelf. */
import { Box, Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { KindId } from "../../api/client";
import { queries } from "../../api/queries";
import { useKeepThing } from "../../api/shelfChanges";
import { Failure } from "../../help/Failure";
import { FieldOf } from "../form/SchemaForm";
import { withChange, wrongs, type Data, type Schema } from "../form/schema";
import { summaryOf } from "../summary";
import { guide as say } from "../../texts/guide";

interface Props {
  kind: KindId;
  /** What it is called in a sentence. */
  one: string;
  /** The fields that are asked here. */
  fields: readonly string[];
  /** What is offered as its name. */
  named: string;
}

export function LikeAnExample({ kind, one, fields, named }: Props) {
  const examples = useQuery(queries.examples());
  const kinds = useQuery(queries.kinds());
  const things = useQuery(queries.things(kind));
  const keep = useKeepThing();
  const known = (examples.data ?? []).filter((example) => example.kind === kind);
  const [like, setLike] = useState("");
  const [title, setTitle] = useState("");
  const [own, setOwn] = useState<Data>({});
  const about = kinds.data?.find((item) => item.kind === kind);
  const base = known.find((example) => example.id === like) ?? known[0];
  if (!about || !base) return null;
  const data: Data = { ...base.data, ...own };
  const wrong = wrongs(about.schema as Schema, data).length > 0;
  return (
    <Stack
      spacing={1.5}
      component="form"
      noValidate
      aria-label={say.aOfYourOwn(one)}
      onSubmit={(event) => {
        event.preventDefault();
        if (wrong) return;
        keep.mutate(
          { kind, title: title.trim() || named, data, note: say.like(base.title), seen: 1 },
          {
            onSuccess: () => {
              setTitle("");
              setOwn({});
            },
          },
        );
      }}
    >
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(auto-fill, minmax(230px, 1fr))", gap: 2 }}>
        <TextField
          label={say.yourIsCalled(one)}
          value={title}
          placeholder={named}
          onChange={(event) => setTitle(event.target.value)}
          slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 200 } }}
        />
        <TextField
          select
          label={say.itIsMostLike}
          value={base.id}
          onChange={(event) => {
            setLike(event.target.value);
            setOwn({});
          }}
          helperText={summaryOf(base)}
        >
          {known.map((example) => (
            <MenuItem key={example.id} value={example.id}>
              {example.title}
            </MenuItem>
          ))}
        </TextField>
        {fields.map((name) => (
          <FieldOf
            key={`${base.id} ${name}`}
            name={name}
            schema={(about.schema as Schema).properties?.[name] ?? {}}
            value={data[name]}
            refers={about.refers}
            path={[name]}
            onChange={(path, value) => setOwn((now) => withChange(now, path, value) as Data)}
          />
        ))}
      </Box>
      <Box>
        <Button type="submit" variant="outlined" disabled={wrong || keep.isPending}>
          {say.putThisOnTheShelf(one)}
        </Button>
      </Box>
      <Failure of={keep.error} />
      {things.data?.things.map((item) => (
        <Typography key={item.id} variant="body2" data-thing={item.id}>
          ✓ {item.title}
        </Typography>
      ))}
    </Stack>
  );
}
