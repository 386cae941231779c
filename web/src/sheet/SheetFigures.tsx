/** What a sheet comes to: copies, media, waste, price beside rows and columns, margins, marks. */
import { Alert } from "@mui/material";
import type { Sheet } from "../api/client";
import { Figure } from "../ui/Docket";
import { mm, plural } from "../ui/words";
import type { Target } from "./target";
import { isPlaced } from "./useForm";

const MM2_PER_M2 = 1e6;

/** What so much of the media comes to, at a price by the square metre. */
export const costOf = (sheet: Sheet, length: number, price: number) =>
  ((sheet.width_mm * length) / MM2_PER_M2) * price;

export function SheetFigures({ target, sheet }: { target: Target; sheet: Sheet }) {
  const { price } = target;
  const costs = (length: number) => costOf(sheet, length, price ?? 0);
  const all = target.sheets.reduce((sum, one) => sum + one.length_mm, 0);
  const many = sheet.items.length > 1 && sheet.count > 1;
  return (
    <>
      <Figure words="Copies">
        {sheet.columns
          ? `${sheet.placements.length} in ${plural(sheet.columns, "column")}, ${plural(sheet.rows, "row")}`
          : `${sheet.placements.length}, ${isPlaced(target) ? (sheet.rows_mm ? "nested" : "placed by hand") : "in rows"}`}
        {sheet.turned ? ", turned" : ""}
      </Figure>
      {many &&
        sheet.items.map((item, i) => (
          <Figure key={i} words={`· ${item.name}`}>
            {item.copies}
          </Figure>
        ))}
      {!sheet.columns && sheet.rows_mm && (
        <Figure words="In rows and columns it would be">{mm(sheet.rows_mm, 0)}</Figure>
      )}
      <Figure words="Media used">
        {mm(sheet.width_mm, 0)} × {mm(sheet.length_mm, 0)}
      </Figure>
      <Figure words="Waste">{(sheet.waste * 100).toFixed(1)} %</Figure>
      {price !== null && (
        <Figure words="Media costs">
          {costs(all).toFixed(2)}
          {!sheet.columns && sheet.rows_mm && target.sheets.length === 1
            ? `, in rows ${costs(sheet.rows_mm).toFixed(2)}`
            : ""}
        </Figure>
      )}
      <Figure words="Side margins for the rollers">{mm(sheet.side_margin_mm, 0)}</Figure>
      <Figure words="Leader, trailer">
        {mm(sheet.leader_mm, 0)}, {mm(sheet.trailer_mm, 0)}
      </Figure>
      {sheet.makes === "both" && <Figure words="Marks">{sheet.marks.length}</Figure>}
      {sheet.code && <Figure words="Code beside the first mark">{sheet.code}</Figure>}
      {sheet.mirrored && <Figure words="Printed">the other way round</Figure>}
      {sheet.makes !== "cut" && (
        <Figure words="Inks, the first next to the film">{sheet.inks.join(", ")}</Figure>
      )}
      {sheet.makes !== "both" && (
        <Figure words="It is">{sheet.makes === "cut" ? "cut only" : "printed only"}</Figure>
      )}
      {sheet.left > 0 && <Alert severity="warning">{sheet.left} copies of the order lie on no sheet.</Alert>}
    </>
  );
}

/** What of a job is not on its sheet, and what else is to be known. */
export function SheetNotes({ sheet }: { sheet: Sheet }) {
  const left = sheet.items.filter((item) => item.left_out.length > 0);
  return (
    <>
      {left.map((item) => (
        <Alert key={item.name} severity="warning">
          Not on the sheet, since not ordered: {item.left_out.join(", ")}
          {sheet.items.length > 1 ? ` of “${item.name}”` : ""}
        </Alert>
      ))}
      {sheet.notes.map((note) => (
        <Alert key={note} severity="warning">
          {note}
        </Alert>
      ))}
    </>
  );
}
