/** The shop itself, and its whole Shelf as one file: taken out, looked at beside what is here, taken in. */
import { Alert, Box, Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import type { ShelfPreview, ShopShown, ThingCompared } from "../api/client";
import { queries } from "../api/queries";
import { useImportLook, useImportTake, useShopChange, type Chosen } from "../api/shelfChanges";
import { Failure } from "../help/Failure";
import { Row } from "../ui/Row";
import { plural } from "../ui/words";
import { Changes } from "./Versions";

export function MovePart() {
  const shop = useQuery(queries.shop());
  return (
    <Stack spacing={3} component="section" aria-label="shop">
      <Typography variant="h1">The shop</Typography>
      <Failure of={shop.error} />
      {shop.data && <ShopForm key={JSON.stringify(shop.data)} shop={shop.data} />}
      <Stack spacing={1} component="section" aria-label="move the shop">
        <Typography variant="h2">Move the shop</Typography>
        <Typography variant="body2" color="text.secondary">
          Everything on the Shelf goes into one JSON file, and comes in again here or elsewhere. People, jobs
          and the log stay.
        </Typography>
        <Box>
          <Button variant="outlined" href="/api/shelf/export">
            Take the Shelf out as a file
          </Button>
        </Box>
        <TakeIn />
      </Stack>
      <Box>
        <Button component={Link} to="/begin">
          Go through the guide for a new shop
        </Button>
      </Box>
    </Stack>
  );
}

export function ShopForm({ shop, onKept }: { shop: ShopShown; onKept?: () => void }) {
  const keep = useShopChange();
  const [name, setName] = useState(shop.name);
  const [unit, setUnit] = useState(shop.unit);
  const [currency, setCurrency] = useState(shop.currency);
  const long = currency.length > 8;
  return (
    <Stack
      spacing={2}
      component="form"
      noValidate
      aria-label="the shop"
      onSubmit={(event) => {
        event.preventDefault();
        if (!long)
          keep.mutate(
            { name: name.trim(), unit, currency: currency.trim() },
            { onSuccess: () => onKept?.() },
          );
      }}
    >
      <Row spacing={2} useFlexGap sx={{ flexWrap: "wrap", alignItems: "flex-start" }}>
        <TextField
          label="Name of the shop"
          value={name}
          helperText="Letters and reports are signed with it."
          onChange={(event) => setName(event.target.value)}
          sx={{ width: 300 }}
          slotProps={{ htmlInput: { maxLength: 120 } }}
        />
        <TextField
          select
          label="Lengths in"
          value={unit}
          helperText="Until a person chooses otherwise."
          onChange={(event) => setUnit(event.target.value as ShopShown["unit"])}
          sx={{ width: 180 }}
        >
          <MenuItem value="mm">millimetres</MenuItem>
          <MenuItem value="in">inches</MenuItem>
        </TextField>
        <TextField
          label="Currency"
          value={currency}
          error={long}
          helperText={long ? "At most 8 letters." : "Behind prices, such as EUR."}
          onChange={(event) => setCurrency(event.target.value)}
          sx={{ width: 180 }}
        />
      </Row>
      <Row spacing={1}>
        <Button type="submit" variant="contained" disabled={keep.isPending || long}>
          {onKept ? "Go on" : "Keep it"}
        </Button>
        {keep.isSuccess && !onKept && <Typography variant="body2">Kept.</Typography>}
      </Row>
      <Failure of={keep.error} />
    </Stack>
  );
}

/** A file that is taken in: looked at first; what is here otherwise is asked. */
export function TakeIn({ onTaken }: { onTaken?: () => void }) {
  const chosen = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File | null>(null);
  const [choices, setChoices] = useState<Record<string, Chosen>>({});
  const look = useImportLook();
  const take = useImportTake();
  const unsaid = (look.data?.things ?? []).filter((one) => one.standing === "changed" && !choices[one.id]);
  return (
    <Stack spacing={1.5}>
      <Box>
        <Button variant="outlined" onClick={() => chosen.current?.click()}>
          Take a file in…
        </Button>
        <input
          ref={chosen}
          type="file"
          hidden
          accept="application/json,.json"
          aria-label="Shelf to take in"
          onChange={(event) => {
            const next = event.target.files?.[0];
            event.target.value = "";
            if (!next) return;
            setFile(next);
            setChoices({});
            take.reset();
            look.mutate(next);
          }}
        />
      </Box>
      <Failure of={look.error ?? take.error} />
      {take.data && (
        <Alert severity="success">
          {plural(take.data.things, "thing")} and{" "}
          {plural(take.data.media, "roll or sheet", "rolls and sheets")} were put on the Shelf.
        </Alert>
      )}
      {file && look.data && !take.data && (
        <Stack spacing={1.5} component="section" aria-label="what the file brings">
          <Brings preview={look.data} />
          <Asked
            things={look.data.things.filter((one) => one.standing === "changed")}
            choices={choices}
            onChoose={(ids, choice) =>
              setChoices((now) => ({ ...now, ...Object.fromEntries(ids.map((id) => [id, choice])) }))
            }
          />
          <Box>
            <Button
              variant="contained"
              disabled={unsaid.length > 0 || take.isPending}
              onClick={() => take.mutate({ file, choices }, { onSuccess: () => onTaken?.() })}
            >
              {unsaid.length ? `Say first what becomes of ${unsaid.length}` : "Take it in"}
            </Button>
          </Box>
        </Stack>
      )}
    </Stack>
  );
}

function Brings({ preview }: { preview: ShelfPreview }) {
  const count = (standing: ThingCompared["standing"]) =>
    preview.things.filter((one) => one.standing === standing).length;
  const fresh = preview.things.filter((one) => one.standing === "new");
  return (
    <>
      <Typography variant="subtitle1" role="status">
        {preview.shop ? `From ${preview.shop}: ` : ""}
        {count("new")} new, {count("changed")} otherwise than here, {count("same")} the same
        {preview.media > 0 && `, ${plural(preview.media, "roll or sheet", "rolls and sheets")}`}.
      </Typography>
      {fresh.length > 0 && (
        <Typography variant="body2" component="details">
          <summary>What is new</summary>
          {fresh.map((one) => (
            <div key={one.id}>
              {one.one} “{one.title}”
            </div>
          ))}
        </Typography>
      )}
    </>
  );
}

const CHOICES: readonly (readonly [Chosen, string])[] = [
  ["take", "Take the file's"],
  ["keep", "Keep ours"],
  ["both", "Have both"],
];

interface AskedProps {
  things: ThingCompared[];
  choices: Record<string, Chosen>;
  onChoose: (ids: string[], choice: Chosen) => void;
}

function Asked({ things, choices, onChoose }: AskedProps) {
  if (!things.length) return null;
  const all = things.map((one) => one.id);
  return (
    <Stack spacing={1}>
      {things.length > 1 && (
        <Row spacing={1}>
          <Typography variant="body2">For all of them:</Typography>
          {CHOICES.map(([choice, words]) => (
            <Button key={choice} onClick={() => onChoose(all, choice)}>
              {words}
            </Button>
          ))}
        </Row>
      )}
      {things.map((one) => (
        <Box key={one.id} data-asked={one.id} sx={{ borderTop: "1px solid #DDD", pt: 1 }}>
          <Row spacing={1} useFlexGap sx={{ flexWrap: "wrap" }}>
            <Typography variant="subtitle2" sx={{ flex: 1 }}>
              {one.one} “{one.title}”
            </Typography>
            {CHOICES.map(([choice, words]) => (
              <Button
                key={choice}
                variant={choices[one.id] === choice ? "contained" : "outlined"}
                aria-pressed={choices[one.id] === choice}
                onClick={() => onChoose([one.id], choice)}
              >
                {words}
              </Button>
            ))}
          </Row>
          <Changes of={one.differences} />
        </Box>
      ))}
    </Stack>
  );
}
