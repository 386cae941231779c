/** What is loaded: a roll, sheet or offcut from the Shelf, a page size, or any size; one for printer and cutter. */
import { limits } from "../ui/limits";
import { MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { Media, MediaShown } from "../api/client";
import { queries } from "../api/queries";
import { Amount, Choice } from "../ui/fields";
import { plain } from "../ui/words";
import { sheet as say } from "../texts/sheet";

interface Props {
  material: string;
  media: Media | null;
  onMedia: (media: Media | null) => void;
}

const WAYS = [
  ["along", say.shortEdgeFirst],
  ["across", say.longEdgeFirst],
] as const;
const FREE = "free";

const size = (m: { width_mm: number; length_mm: number | null }) =>
  m.length_mm === null ? say.mmWide(plain(m.width_mm)) : `${plain(m.width_mm)} × ${plain(m.length_mm)} mm`;

const words = (m: MediaShown) =>
  `${m.title}, ${size(m)}${m.left_by ? say.leftBy(m.left_by) : ""}${m.loaded ? say.loaded : ""}`;

const same = (a: Media, b: { title: string; width_mm: number; length_mm: number | null }) =>
  a.title === b.title && a.width_mm === b.width_mm && a.length_mm === b.length_mm;

export function MediaPart({ material, media, onMedia }: Props) {
  const shelf = useQuery(queries.shelf());
  const listed = shelf.data?.materials.find((m) => m.id === material)?.media ?? [];
  const pages = shelf.data?.page_sizes ?? [];
  const onShelf = media && listed.find((m) => same(media, m));
  const page = media && pages.find((p) => p.name === media.title && p.width_mm === media.width_mm);
  const value = !media ? "" : onShelf ? say.shelf(onShelf.id) : page ? say.page(page.name) : FREE;
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
      onMedia({ title: say.freeSize, width_mm: 500, length_mm: 700, roll: false, turned: false });
    else onMedia(null);
  };
  return (
    <Stack spacing={0.5}>
      <TextField
        select
        label={say.whatIsLoaded}
        value={shelf.data ? value : ""}
        onChange={(event) => choose(event.target.value)}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      >
        <MenuItem value="">{say.theMaterialAsItUsually}</MenuItem>
        {listed.map((m) => (
          <MenuItem key={m.id} value={say.shelf(m.id)}>
            {words(m)}
          </MenuItem>
        ))}
        {pages.map((p) => (
          <MenuItem key={p.name} value={say.page(p.name)}>
            {p.name}, {size(p)}
          </MenuItem>
        ))}
        <MenuItem value={FREE}>{say.anyOtherSize}</MenuItem>
      </TextField>
      {value === FREE && media && (
        <Typography component="div" variant="body2">
          <Amount
            label={say.mediaWidth}
            value={media.width_mm}
            {...limits.media.width_mm}
            step={10}
            onChange={(v) => onMedia({ ...media, width_mm: v ?? media.width_mm })}
          />
          {say.across}
          <Amount
            label={say.mediaLength}
            value={media.length_mm ?? undefined}
            {...limits.media.length_mm}
            step={10}
            onChange={(v) => onMedia({ ...media, length_mm: v ?? media.length_mm })}
          />
          {say.along}
        </Typography>
      )}
      {media && !media.roll && (
        <Typography component="div" variant="body2">
          {say.loaded2}
          <Choice
            label={say.howTheSheetIsLoaded}
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
  ["along", say.longEdgeFirst],
  ["across", say.shortEdgeFirst],
] as const;
