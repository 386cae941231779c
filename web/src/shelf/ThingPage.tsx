/** A thing of the Shelf: its form, tried before it is kept, its versions with what each changed, where it is in use. */
import { Alert, Box, Button, LinearProgress, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import type { KindId, ShelfKind, ShelfThing, ShelfThingWhole } from "../api/client";
import { queries } from "../api/queries";
import { useKeepThing } from "../api/shelfChanges";
import { Failure } from "../help/Failure";
import { Row, Spacer } from "../ui/Row";
import { DataForm } from "./DataForm";
import { blank, named, withChange, wrongs, type Data, type Path, type Schema } from "./form/schema";
import { wordsOf } from "./places";
import { TryIt } from "./TryIt";
import { UsedIn } from "./UsedIn";
import { Versions } from "./Versions";
import { common } from "../texts/common";
import { shelf as say } from "../texts/shelf";

export function ThingPage({ kind, id }: { kind: KindId; id: string }) {
  const isNew = id === "new";
  const [search] = useSearchParams();
  const from = search.get("from") ?? "";
  const kinds = useQuery(queries.kinds());
  const whole = useQuery({ ...queries.thing(isNew ? from : id), enabled: !isNew || from !== "" });
  const about = kinds.data?.find((one) => one.kind === kind);
  const failed = kinds.error ?? whole.error;
  if (failed) return <Failure of={failed} />;
  if (!about || (whole.isPending && (!isNew || from !== "")))
    return <LinearProgress aria-label={common.loadingLabel} />;
  const start = whole.data
    ? {
        title: isNew ? say.copy2(whole.data.thing.title) : whole.data.thing.title,
        data: whole.data.thing.data,
      }
    : { title: "", data: begun(about) };
  return (
    <Editor
      key={`${id} ${whole.data?.thing.number ?? 0} ${from}`}
      about={about}
      start={start}
      whole={isNew ? null : (whole.data ?? null)}
    />
  );
}

/** What a new thing says: what its kind begins with, and what has to be said besides. */
const begun = (about: ShelfKind): Data => ({
  ...(blank(about.schema as Schema) as Data),
  ...structuredClone(about.begins),
});

/** Where a watched folder lies, to be opened from elsewhere. */
function Lies({ folder }: { folder: string }) {
  const shop = useQuery(queries.shop());
  return (
    <Typography variant="body2" sx={{ wordBreak: "break-all" }}>
      {shop.data && say.liesOnTheServer(shop.data.watched, folder)}
    </Typography>
  );
}

interface EditorProps {
  about: ShelfKind;
  start: { title: string; data: Data };
  whole: ShelfThingWhole | null;
}

function Editor({ about, start, whole }: EditorProps) {
  const go = useNavigate();
  const keep = useKeepThing();
  const [title, setTitle] = useState(start.title);
  const [data, setData] = useState(start.data);
  const [note, setNote] = useState("");
  const [asked, setAsked] = useState(false);
  const form = useRef<HTMLFormElement>(null);
  const { thing } = whole ?? {};
  const schema = about.schema as Schema;
  const wrong = wrongs(schema, data);
  const untitled = title.trim() === "";
  const changed = title !== start.title || JSON.stringify(data) !== JSON.stringify(start.data);
  const send = () => {
    setAsked(true);
    const first = untitled ? "title" : wrong[0] && named(wrong[0].path);
    if (first !== undefined) {
      form.current?.querySelector<HTMLElement>(`[data-field="${first}"]`)?.focus();
      return;
    }
    keep.mutate(
      { kind: about.kind, ...(thing ? { id: thing.id } : {}), title, data, note, seen: thing?.number ?? 1 },
      { onSuccess: ({ thing: kept }) => void go(`/shelf/${about.kind}/${kept.id}`, { replace: true }) },
    );
  };
  return (
    <Stack spacing={2.5} component="section" aria-label={thing?.title ?? say.aNew(about.one)}>
      <Row spacing={1}>
        <Button component={Link} to={`/shelf/${about.kind}`}>
          ‹ {wordsOf(about.kind)}
        </Button>
        <Typography variant="h1">{thing ? thing.title : say.aNew2(about.one)}</Typography>
        <Spacer />
        {thing && (
          <Typography variant="body2" color="text.secondary">
            {say.version3(thing.number, thing.id)}
          </Typography>
        )}
      </Row>
      {thing?.retired && <Alert severity="info">{say.itIsRetiredWhatWas}</Alert>}
      <Typography variant="body2" color="text.secondary">
        {about.says}
      </Typography>
      <Stack
        spacing={2.5}
        component="form"
        noValidate
        ref={form}
        aria-label={about.one}
        onSubmit={(event) => {
          event.preventDefault();
          send();
        }}
      >
        <TextField
          label={say.name}
          value={title}
          error={asked && untitled}
          helperText={asked && untitled ? say.giveItAName : undefined}
          onChange={(event) => setTitle(event.target.value)}
          sx={{ maxWidth: 520 }}
          slotProps={{ htmlInput: { "data-field": "title", maxLength: 200 } }}
        />
        <DataForm
          about={about}
          data={data}
          onChange={(path: Path, value: unknown) => setData((now) => withChange(now, path, value) as Data)}
        />
        {about.kind === "watched" && <Lies folder={String(data["folder"] ?? "")} />}
        <TryIt
          about={about}
          id={thing?.id ?? null}
          title={title || say.draft}
          data={data}
          wrong={wrong.length > 0}
        />
        <Keep
          thing={thing}
          mayEdit={whole?.may_edit ?? true}
          note={note}
          onNote={setNote}
          changed={changed}
          busy={keep.isPending}
          wrong={asked ? wrong.length : 0}
          onBack={() => {
            setTitle(start.title);
            setData(start.data);
          }}
        />
        <Failure of={keep.error} />
      </Stack>
      {whole && (
        <Box sx={{ display: "grid", gridTemplateColumns: "3fr 2fr", gap: 3, alignItems: "start" }}>
          <Versions
            whole={whole}
            onTake={(version) => {
              setTitle(version.title);
              setData(version.data);
              setNote(say.asItWasInVersion(version.number));
              form.current?.querySelector<HTMLElement>('[data-field="title"]')?.focus();
            }}
          />
          <UsedIn whole={whole} />
        </Box>
      )}
    </Stack>
  );
}

interface KeepProps {
  thing: ShelfThing | undefined;
  mayEdit: boolean;
  note: string;
  onNote: (note: string) => void;
  changed: boolean;
  busy: boolean;
  /** How many fields are wrong, once keeping was asked for. */
  wrong: number;
  onBack: () => void;
}

/** What is said of a change, and what keeps it. */
function Keep({ thing, mayEdit, note, onNote, changed, busy, wrong, onBack }: KeepProps) {
  if (!mayEdit)
    return (
      <Typography variant="body2" color="text.secondary">
        {say.youMayLookAtIt}
      </Typography>
    );
  return (
    <Row
      spacing={1}
      useFlexGap
      sx={{
        flexWrap: "wrap",
        position: "sticky",
        bottom: -24,
        bgcolor: "background.default",
        py: 1.5,
        borderTop: "1px solid",
        borderColor: "divider",
        zIndex: 1,
      }}
    >
      <TextField
        label={say.whatIsChangedAndWhy}
        value={note}
        onChange={(event) => onNote(event.target.value)}
        sx={{ width: 360 }}
        slotProps={{ htmlInput: { maxLength: 200 } }}
      />
      <Button type="submit" variant="contained" disabled={busy || (!!thing && !changed)}>
        {thing ? say.keepItAsVersion(thing.number + 1) : say.putItOnTheShelf}
      </Button>
      {changed && <Button onClick={onBack}>{say.backToWhatItWas}</Button>}
      {wrong > 0 && (
        <Typography variant="body2" color="error" role="alert">
          {say.notRightYet(wrong === 1 ? say.oneFieldIs : say.fieldsAre(wrong))}
        </Typography>
      )}
    </Row>
  );
}
