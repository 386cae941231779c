/** The shop itself, and its whole Shelf as one file: taken out, looked at beside what is here, taken in. */
import {
  Alert,
  Box,
  Button,
  FormControlLabel,
  MenuItem,
  Stack,
  Switch,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import type { ShelfPreview, ShopShown, ThingCompared } from "../api/client";
import { queries } from "../api/queries";
import { useImportLook, useImportTake, useShopChange, type Chosen } from "../api/shelfChanges";
import { Failure } from "../help/Failure";
import { Row } from "../ui/Row";
import { Changes } from "./Versions";
import { common } from "../texts/common";
import { shelf as say } from "../texts/shelf";

export function MovePart() {
  const shop = useQuery(queries.shop());
  const keep = useShopChange();
  return (
    <Stack spacing={3} component="section" aria-label={say.shopLabel}>
      <Typography variant="h1">{say.theShop}</Typography>
      <Failure of={shop.error} />
      {shop.data && <ShopForm key={JSON.stringify(shop.data)} shop={shop.data} keep={keep} />}
      <Stack spacing={1} component="section" aria-label={say.moveTheShop}>
        <Typography variant="h2">{say.moveTheShop2}</Typography>
        <Typography variant="body2" color="text.secondary">
          {say.everythingOnTheShelfGoes}
        </Typography>
        <Box>
          <Button variant="outlined" href="/api/shelf/export">
            {say.takeTheShelfOutAs}
          </Button>
        </Box>
        <TakeIn />
      </Stack>
      <Box>
        <Button component={Link} to="/begin">
          {say.goThroughTheGuideFor}
        </Button>
      </Box>
    </Stack>
  );
}

interface ShopFormProps {
  shop: ShopShown;
  /** The change, which outlives the form: that is made anew of what was kept. */
  keep: ReturnType<typeof useShopChange>;
  onKept?: () => void;
}

export function ShopForm({ shop, keep, onKept }: ShopFormProps) {
  const [name, setName] = useState(shop.name);
  const [unit, setUnit] = useState(shop.unit);
  const [currency, setCurrency] = useState(shop.currency);
  const [sorts, setSorts] = useState(shop.sorts || !!onKept);
  const long = currency.length > 8;
  return (
    <Stack
      spacing={2}
      component="form"
      noValidate
      aria-label={common.theShop}
      onSubmit={(event) => {
        event.preventDefault();
        if (!long)
          keep.mutate(
            { name: name.trim(), unit, currency: currency.trim(), sorts },
            { onSuccess: () => onKept?.() },
          );
      }}
    >
      <Row spacing={2} useFlexGap sx={{ flexWrap: "wrap", alignItems: "flex-start" }}>
        <TextField
          label={say.nameOfTheShop}
          value={name}
          helperText={say.lettersAndReportsAreSigned}
          onChange={(event) => setName(event.target.value)}
          sx={{ width: 300 }}
          slotProps={{ htmlInput: { maxLength: 120 } }}
        />
        <TextField
          select
          label={say.lengthsIn}
          value={unit}
          helperText={say.untilAPersonChoosesOtherwise}
          onChange={(event) => setUnit(event.target.value as ShopShown["unit"])}
          sx={{ width: 180 }}
        >
          <MenuItem value="mm">{say.millimetres}</MenuItem>
          <MenuItem value="in">{say.inches}</MenuItem>
        </TextField>
        <TextField
          label={say.currency}
          value={currency}
          error={long}
          helperText={long ? say.atMost8Letters : say.behindPricesSuchAsEur}
          onChange={(event) => setCurrency(event.target.value)}
          sx={{ width: 180 }}
        />
      </Row>
      <FormControlLabel
        control={<Switch checked={sorts} onChange={(_, next) => setSorts(next)} />}
        label={say.whatComesInIsMended}
      />
      <Row spacing={1}>
        <Button type="submit" variant="contained" disabled={keep.isPending || long}>
          {onKept ? common.goOn : say.keepIt}
        </Button>
        {keep.isSuccess && !onKept && <Typography variant="body2">{say.kept}</Typography>}
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
          {say.takeAFileIn}
        </Button>
        <input
          ref={chosen}
          type="file"
          hidden
          accept="application/json,.json"
          aria-label={say.shelfToTakeIn}
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
        <Alert severity="success">{say.thingAndRollOrSheet(take.data.things, take.data.media)}</Alert>
      )}
      {file && look.data && !take.data && (
        <Stack spacing={1.5} component="section" aria-label={say.whatTheFileBrings}>
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
              {unsaid.length ? say.sayFirstWhatBecomesOf(unsaid.length) : say.takeItIn}
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
        {say.newOtherwiseThanHereThe(
          preview.shop ? say.from(preview.shop) : "",
          count("new"),
          count("changed"),
          count("same"),
        )}
        {preview.media > 0 && `, ${say.rollOrSheet(preview.media)}`}.
      </Typography>
      {fresh.length > 0 && (
        <Typography variant="body2" component="details">
          <summary>{say.whatIsNew}</summary>
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
  ["take", say.takeTheFiles],
  ["keep", say.keepOurs],
  ["both", say.haveBoth],
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
          <Typography variant="body2">{say.forAllOfThem}</Typography>
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
