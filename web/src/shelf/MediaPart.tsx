/** Materials with what the shop has of them: rolls, sheets and offcuts at their true sizes, and what they cost. */
import {
  Button,
  MenuItem,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import { Failure } from "../help/Failure";
import { useAddMedia, useDropMedia, useLoadMedia } from "../api/shelfChanges";
import type { MediaShown, Shelf } from "../api/client";
import { LengthField } from "../ui/LengthField";
import { plain } from "../ui/words";
import { common } from "../texts/common";
import { shelf as say } from "../texts/shelf";

type Material = Shelf["materials"][number];

export function MediaPart({ shelf }: { shelf: Shelf }) {
  return (
    <>
      <Typography variant="h1">{say.materialsAndWhatThereIs}</Typography>
      <Table size="small" aria-label={say.materialsLabel}>
        <TableBody>
          {shelf.materials.map((material) => (
            <Row key={material.id} material={material} mayEdit={shelf.may_edit} currency={shelf.currency} />
          ))}
        </TableBody>
      </Table>
      {shelf.may_edit && <AddMedia shelf={shelf} />}
    </>
  );
}

const kind = (m: Material) =>
  [m.ground !== "white" && say.ground(m.ground), m.glossy && "glossy", m.grain && say.grainIsKept]
    .filter(Boolean)
    .join(", ");

function Row({ material, mayEdit, currency }: { material: Material; mayEdit: boolean; currency: string }) {
  return (
    <TableRow data-material={material.id} sx={{ verticalAlign: "top" }}>
      <TableCell sx={{ width: 250 }}>
        {material.title}
        <Typography variant="body2" color="text.secondary">
          {kind(material)}
        </Typography>
      </TableCell>
      <TableCell>
        {material.strata.map((s) => `${s.kind} ${s.thickness_um} µm`).join(" · ")}
        <Stack component="ul" sx={{ listStyle: "none", p: 0, m: 0 }}>
          {material.media.map((media) => (
            <One key={media.id} media={media} mayEdit={mayEdit} />
          ))}
        </Stack>
      </TableCell>
      <TableCell sx={{ whiteSpace: "nowrap", width: 150 }}>
        <Link to={`/shelf/material/${material.id}`}>
          {material.price_m2 === null
            ? say.noPrice
            : `${material.price_m2.toFixed(2)} ${currency} a m²`.replace("  ", " ")}
        </Link>
      </TableCell>
    </TableRow>
  );
}

const size = (m: MediaShown) =>
  `${plain(m.width_mm)} mm${m.length_mm === null ? common.wide : ` × ${plain(m.length_mm)} mm`}`;

function One({ media, mayEdit }: { media: MediaShown; mayEdit: boolean }) {
  const load = useLoadMedia();
  const drop = useDropMedia();
  const what = media.left_by ? "offcut" : media.roll ? "roll" : "sheets";
  return (
    <Stack component="li" direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
      <Typography variant="body2" sx={{ flex: 1 }}>
        {what} {size(media)}
        {media.title && media.title !== what ? ` · ${media.title}` : ""}
        {media.left_by && say.leftBy(media.left_by)}
        {media.loaded && <b>{say.loaded}</b>}
      </Typography>
      {!media.loaded && (
        <Button
          onClick={() => load.mutate(media.id)}
          sx={{ py: 0, minHeight: 26 }}
          aria-label={say.load(what, size(media))}
        >
          {say.load2}
        </Button>
      )}
      {mayEdit && (
        <Button
          onClick={() => drop.mutate(media.id)}
          sx={{ py: 0, minHeight: 26 }}
          aria-label={say.takeOffTheShelf(what, size(media))}
        >
          {say.usedUp}
        </Button>
      )}
    </Stack>
  );
}

function AddMedia({ shelf }: { shelf: Shelf }) {
  const add = useAddMedia();
  const [material, setMaterial] = useState(shelf.materials[0]?.id ?? "");
  const [title, setTitle] = useState("");
  const [wide, setWidth] = useState<number | null>(null);
  const [long, setLength] = useState<number | null>(null);
  const [roll, setRoll] = useState(true);
  const ready = !!wide && !Number.isNaN(long ?? 0) && (roll || !!long);
  return (
    <Stack
      component="form"
      direction="row"
      useFlexGap
      spacing={1}
      aria-label={say.addToTheShelf}
      sx={{ flexWrap: "wrap" }}
      onSubmit={(event) => {
        event.preventDefault();
        if (!ready) return;
        const named = title.trim() || (roll ? say.roll : say.sheets);
        add.mutate(
          { material, title: named, width_mm: wide, length_mm: long, roll },
          {
            onSuccess: () => {
              setTitle("");
              setWidth(null);
              setLength(null);
            },
          },
        );
      }}
    >
      <TextField
        select
        label={say.material}
        value={material}
        onChange={(e) => setMaterial(e.target.value)}
        sx={{ width: 230 }}
      >
        {shelf.materials.map((m) => (
          <MenuItem key={m.id} value={m.id}>
            {m.title}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label={say.comesAs}
        value={roll ? "roll" : "sheets"}
        onChange={(e) => setRoll(e.target.value === "roll")}
        sx={{ width: 110 }}
      >
        <MenuItem value="roll">{say.roll2}</MenuItem>
        <MenuItem value="sheets">{say.sheets2}</MenuItem>
      </TextField>
      <TextField
        label={say.name}
        value={title}
        onChange={(e) => setTitle(e.target.value)}
        sx={{ width: 140 }}
      />
      <LengthField label={say.width} value={wide} onChange={setWidth} sx={{ width: 120 }} />
      <LengthField
        label={roll ? say.lengthLeft : say.length}
        shipped={roll ? say.notKnown : undefined}
        value={long}
        onChange={setLength}
        sx={{ width: 170 }}
      />
      <Button type="submit" variant="outlined" disabled={!ready || add.isPending}>
        {say.putOnTheShelf}
      </Button>
      <Failure of={add.error} />
    </Stack>
  );
}
