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

type Material = Shelf["materials"][number];

export function MediaPart({ shelf }: { shelf: Shelf }) {
  return (
    <>
      <Typography variant="h1">Materials, and what there is of them</Typography>
      <Table size="small" aria-label="materials">
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
  [m.ground !== "white" && `${m.ground} ground`, m.glossy && "glossy", m.grain && "grain is kept"]
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
            ? "no price"
            : `${material.price_m2.toFixed(2)} ${currency} a m²`.replace("  ", " ")}
        </Link>
      </TableCell>
    </TableRow>
  );
}

const size = (m: MediaShown) =>
  `${plain(m.width_mm)} mm${m.length_mm === null ? " wide" : ` × ${plain(m.length_mm)} mm`}`;

function One({ media, mayEdit }: { media: MediaShown; mayEdit: boolean }) {
  const load = useLoadMedia();
  const drop = useDropMedia();
  const what = media.left_by ? "offcut" : media.roll ? "roll" : "sheets";
  return (
    <Stack component="li" direction="row" spacing={1} sx={{ alignItems: "baseline" }}>
      <Typography variant="body2" sx={{ flex: 1 }}>
        {what} {size(media)}
        {media.title && media.title !== what ? ` · ${media.title}` : ""}
        {media.left_by && ` · left by ${media.left_by}`}
        {media.loaded && <b> · loaded</b>}
      </Typography>
      {!media.loaded && (
        <Button
          onClick={() => load.mutate(media.id)}
          sx={{ py: 0, minHeight: 26 }}
          aria-label={`load ${what} ${size(media)}`}
        >
          Load
        </Button>
      )}
      {mayEdit && (
        <Button
          onClick={() => drop.mutate(media.id)}
          sx={{ py: 0, minHeight: 26 }}
          aria-label={`take ${what} ${size(media)} off the shelf`}
        >
          Used up
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
      aria-label="add to the shelf"
      sx={{ flexWrap: "wrap" }}
      onSubmit={(event) => {
        event.preventDefault();
        if (!ready) return;
        const named = title.trim() || (roll ? "Roll" : "Sheets");
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
        label="Material"
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
        label="Comes as"
        value={roll ? "roll" : "sheets"}
        onChange={(e) => setRoll(e.target.value === "roll")}
        sx={{ width: 110 }}
      >
        <MenuItem value="roll">roll</MenuItem>
        <MenuItem value="sheets">sheets</MenuItem>
      </TextField>
      <TextField label="Name" value={title} onChange={(e) => setTitle(e.target.value)} sx={{ width: 140 }} />
      <LengthField label="Width" value={wide} onChange={setWidth} sx={{ width: 120 }} />
      <LengthField
        label={roll ? "Length left" : "Length"}
        shipped={roll ? "not known" : undefined}
        value={long}
        onChange={setLength}
        sx={{ width: 170 }}
      />
      <Button type="submit" variant="outlined" disabled={!ready || add.isPending}>
        Put on the shelf
      </Button>
      <Failure of={add.error} />
    </Stack>
  );
}
