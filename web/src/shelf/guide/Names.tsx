/** The exact names that the RIP wants: typed, or read out of a file that went through it before. */
import { Box, Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { queries } from "../../api/queries";
import { useKeepThing, useNamesInFile } from "../../api/shelfChanges";
import { Failure } from "../../help/Failure";
import { ThingField } from "../form/simple";
import { lookOf } from "../../ui/roles";
import { Row } from "../../ui/Row";
import { common } from "../../texts/common";
import { guide as say } from "../../texts/guide";

type NamesByRole = Record<string, string>;

export function Names({ onNext }: { onNext: () => void }) {
  const kinds = useQuery(queries.kinds());
  const printers = useQuery(queries.things("printer"));
  const cutters = useQuery(queries.things("cutter"));
  const destinations = useQuery(queries.things("destination"));
  const keep = useKeepThing();
  const begins = kinds.data?.find((one) => one.kind === "destination")?.begins ?? {};
  const [own, setOwn] = useState<NamesByRole>({});
  const [title, setTitle] = useState("");
  const [machines, setMachines] = useState<{ printer?: unknown; cutter?: unknown }>({});
  const names = { ...(begins["names"] as NamesByRole | undefined), ...own };
  const printer = machines.printer ?? printers.data?.things.at(-1)?.id;
  const cutter = machines.cutter ?? cutters.data?.things.at(-1)?.id;
  const empty = Object.keys(names).filter((role) => !names[role]?.trim());
  const some = !!destinations.data?.things.length;
  return (
    <Stack spacing={2} component="section" aria-label={say.namesLabel}>
      <Typography variant="body2" color="text.secondary">
        {say.aLineIsToldBy}
      </Typography>
      <FromFile onName={(role, name) => setOwn((now) => ({ ...now, [role]: name }))} />
      <Stack
        spacing={2}
        component="form"
        noValidate
        aria-label={say.aDestinationOfYourOwn}
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate({
            kind: "destination",
            title: title.trim() || say.printerAndCutter,
            data: { ...begins, names, printer, cutter },
            note: "",
            seen: 1,
          });
        }}
      >
        <Box sx={{ display: "grid", gridTemplateColumns: "repeat(auto-fill, minmax(230px, 1fr))", gap: 2 }}>
          <TextField
            label={say.whatPeopleCallIt}
            value={title}
            placeholder={say.printerAndCutter}
            onChange={(event) => setTitle(event.target.value)}
            slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 200 } }}
          />
          {(["printer", "cutter"] as const).map((kind) => (
            <ThingField
              key={kind}
              kind={kind}
              name={kind}
              label={kind === "printer" ? say.printer : say.cutter}
              says=""
              schema={{}}
              empty={false}
              path={[kind]}
              value={kind === "printer" ? printer : cutter}
              onChange={(id) => setMachines((now) => ({ ...now, [kind]: id }))}
            />
          ))}
          {Object.entries(names).map(([role, name]) => (
            <TextField
              key={role}
              label={lookOf(role).words.replace("-", " ")}
              value={name}
              error={!name.trim()}
              helperText={!name.trim() ? say.itHasNoName : undefined}
              onChange={(event) => setOwn((now) => ({ ...now, [role]: event.target.value }))}
              slotProps={{ htmlInput: { maxLength: 127 } }}
            />
          ))}
        </Box>
        <Box>
          <Button
            type="submit"
            variant="outlined"
            disabled={!printer || !cutter || empty.length > 0 || keep.isPending}
          >
            {say.putThisDestinationOnThe}
          </Button>
        </Box>
        <Failure of={keep.error} />
      </Stack>
      {destinations.data?.things.map((one) => (
        <Typography key={one.id} variant="body2" data-thing={one.id}>
          ✓ {one.title}
        </Typography>
      ))}
      <Box>
        <Button variant="contained" disabled={!some} onClick={onNext}>
          {some ? common.goOn : say.oneDestinationIsNeeded}
        </Button>
      </Box>
    </Stack>
  );
}

/** The spot names of a file; each goes to the role that it is said to be. */
function FromFile({ onName }: { onName: (role: string, name: string) => void }) {
  const chosen = useRef<HTMLInputElement>(null);
  const read = useNamesInFile();
  const kinds = useQuery(queries.kinds());
  const begins = kinds.data?.find((one) => one.kind === "destination")?.begins ?? {};
  const roles = Object.keys((begins["names"] ?? {}) as NamesByRole);
  return (
    <Stack spacing={1}>
      <Row spacing={1}>
        <Button variant="outlined" onClick={() => chosen.current?.click()} disabled={read.isPending}>
          {say.readThemOutOfA}
        </Button>
        <input
          ref={chosen}
          type="file"
          hidden
          accept="application/pdf,.pdf"
          aria-label={say.fileThatWorked}
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = "";
            if (!file) return;
            read.mutate(file, {
              onSuccess: (names) => names.forEach(({ name, role }) => role && onName(role, name)),
            });
          }}
        />
        {read.data && !read.data.length && <Typography variant="body2">{say.itHasNoSpotInks}</Typography>}
      </Row>
      <Failure of={read.error} />
      {read.data?.map(({ name, role }) => (
        <Row key={name} spacing={1} data-spot={name}>
          <Typography variant="mono" sx={{ minWidth: 200, overflowWrap: "anywhere" }}>
            {name.replaceAll(" ", "␣")}
          </Typography>
          <TextField
            select
            label={say.isThe}
            defaultValue={role ?? ""}
            onChange={(event) => event.target.value && onName(event.target.value, name)}
            sx={{ width: 200 }}
            slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
          >
            <MenuItem value="">{say.noLineOrSpecialInk}</MenuItem>
            {roles.map((one) => (
              <MenuItem key={one} value={one}>
                {lookOf(one).words.replace("-", " ")}
              </MenuItem>
            ))}
          </TextField>
        </Row>
      ))}
    </Stack>
  );
}
