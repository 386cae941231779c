/** What is loaded: a roll, sheet or offcut from the Shelf, a page size, or any size; one for printer and cutter. */
import { limits } from "../ui/limits";
import { MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { Media, MediaShown } from "../api/client";
import { queries } from "../api/queries";
import { Amount, Choice } from "../ui/fields";
import { plain } from "../ui/words";

interface Props {
  material: string;
  media: Media | null;
  onMedia: (media: Media | null) => void;
}

const WAYS = [
  ["along", "short edge first"],
  ["across", "long edge first"],
] as const;
const FREE = "free";

const size = (m: { width_mm: number; length_mm: number | null }) =>
  m.length_mm === null ? `${plain(m.width_mm)} mm wide` : `${plain(m.width_mm)} × ${plain(m.length_mm)} mm`;

const words = (m: MediaShown) =>
  `${m.title}, ${size(m)}${m.left_by ? `, left by ${m.left_by}` : ""}${m.loaded ? " · loaded" : ""}`;

const same = (a: Media, b: { title: string; width_mm: number; length_mm: number | null }) =>
  a.title === b.title && a.width_mm === b.width_mm && a.length_mm === b.length_mm;

export function MediaPart({ material, media, onMedia }: Props) {
  const shelf = useQuery(queries.shelf());
  const listed = shelf.data?.materials.find((m) => m.id === material)?.media ?? [];
  const pages = shelf.data?.page_sizes ?? [];
  const onShelf = media && listed.find((m) => same(media, m));
  const page = media && pages.find((p) => p.name === media.title && p.width_mm === media.width_mm);
  const value = !media ? "" : onShelf ? `shelf ${onShelf.id}` : page ? `page ${page.name}` : FREE;
  const choose = (next: string) => {
    const [kind, which] = next.split(" ");
    const found = listed.find((m) => kind === "shelf" && String(m.id) === which);
    const sheet = pages.find((p) => kind === "page" && p.name === which);
    if (found)
      onMedia({
        title: found.title,
        width_mm: found.width_mm,
        length_mm: found.length_mm,
        roll: found.roll,
        turned: false,
      });
    else if (sheet)
      onMedia({
        title: sheet.name,
        width_mm: sheet.width_mm,
        length_mm: sheet.length_mm,
        roll: false,
        turned: false,
      });
    else if (next === FREE)
      onMedia({ title: "Free size", width_mm: 500, length_mm: 700, roll: false, turned: false });
    else onMedia(null);
  };
  return (
    <Stack spacing={0.5}>
      <TextField
        select
        label="What is loaded"
        value={shelf.data ? value : ""}
        onChange={(event) => choose(event.target.value)}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      >
        <MenuItem value="">the material as it usually comes</MenuItem>
        {listed.map((m) => (
          <MenuItem key={m.id} value={`shelf ${m.id}`}>
            {words(m)}
          </MenuItem>
        ))}
        {pages.map((p) => (
          <MenuItem key={p.name} value={`page ${p.name}`}>
            {p.name}, {size(p)}
          </MenuItem>
        ))}
        <MenuItem value={FREE}>any other size</MenuItem>
      </TextField>
      {value === FREE && media && (
        <Typography component="div" variant="body2">
          <Amount
            label="media width"
            value={media.width_mm}
            {...limits.media.width_mm}
            step={10}
            onChange={(v) => onMedia({ ...media, width_mm: v ?? media.width_mm })}
          />{" "}
          across,{" "}
          <Amount
            label="media length"
            value={media.length_mm ?? undefined}
            {...limits.media.length_mm}
            step={10}
            onChange={(v) => onMedia({ ...media, length_mm: v ?? media.length_mm })}
          />{" "}
          along
        </Typography>
      )}
      {media && !media.roll && (
        <Typography component="div" variant="body2">
          Loaded{" "}
          <Choice
            label="how the sheet is loaded"
            value={media.turned ? "across" : "along"}
            options={(media.length_mm ?? 0) >= media.width_mm ? WAYS : SWAPPED}
            onChange={(v) => onMedia({ ...media, turned: v === "across" })}
          />
          .
        </Typography>
      )}
    </Stack>
  );
}

const SWAPPED = [
  ["along", "long edge first"],
  ["across", "short edge first"],
] as const;
