/** What a sheet comes to: copies, media, waste, price beside rows and columns, margins, marks. */
import { Alert } from "@mui/material";
import type { Sheet } from "../api/client";
import { Figure } from "../ui/Docket";
import { mm } from "../ui/words";
import type { Target } from "./target";
import { isPlaced } from "./useForm";
import { sheet as say } from "../texts/sheet";

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
      <Figure words={say.copies3}>
        {sheet.columns
          ? `${sheet.placements.length} in ${say.column(sheet.columns)}, ${say.row(sheet.rows)}`
          : `${sheet.placements.length}, ${isPlaced(target) ? (sheet.rows_mm ? "nested" : say.placedByHand) : say.inRows}`}
        {sheet.turned ? say.turned2 : ""}
      </Figure>
      {many &&
        sheet.items.map((item, i) => (
          <Figure key={i} words={`· ${item.name}`}>
            {item.copies}
          </Figure>
        ))}
      {!sheet.columns && sheet.rows_mm && (
        <Figure words={say.inRowsAndColumnsIt}>{mm(sheet.rows_mm, 0)}</Figure>
      )}
      <Figure words={say.mediaUsed}>
        {mm(sheet.width_mm, 0)} × {mm(sheet.length_mm, 0)}
      </Figure>
      <Figure words={say.waste}>{(sheet.waste * 100).toFixed(1)} %</Figure>
      {price !== null && (
        <Figure words={say.mediaCosts}>
          {costs(all).toFixed(2)}
          {!sheet.columns && sheet.rows_mm && target.sheets.length === 1
            ? say.inRows2(costs(sheet.rows_mm).toFixed(2))
            : ""}
        </Figure>
      )}
      <Figure words={say.sideMarginsForTheRollers}>{mm(sheet.side_margin_mm, 0)}</Figure>
      <Figure words={say.leaderTrailer}>
        {mm(sheet.leader_mm, 0)}, {mm(sheet.trailer_mm, 0)}
      </Figure>
      {sheet.makes === "both" && <Figure words={say.marks}>{sheet.marks.length}</Figure>}
      {sheet.code && <Figure words={say.codeBesideTheFirstMark}>{sheet.code}</Figure>}
      {sheet.mirrored && <Figure words={say.printed}>{say.theOtherWayRound}</Figure>}
      {sheet.makes !== "cut" && <Figure words={say.inksTheFirstNextTo}>{sheet.inks.join(", ")}</Figure>}
      {sheet.makes !== "both" && (
        <Figure words={say.itIs2}>{sheet.makes === "cut" ? say.cutOnly : say.printedOnly}</Figure>
      )}
      {sheet.left > 0 && <Alert severity="warning">{say.copiesOfTheOrderLie(sheet.left)}</Alert>}
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
          {say.notOnTheSheetSince(
            item.left_out.join(", "),
            sheet.items.length > 1 ? say.ofIt(item.name) : "",
          )}
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
