/** Which marks a sheet has, as a sentence: kind, how many, round what, how far; the code; which way round it is printed. */
import { limits } from "../ui/limits";
import { Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { MarkKind } from "../api/client";
import type { LayoutChange } from "./target";
import { looks } from "../api/looks";
import { queries } from "../api/queries";
import type { Box } from "../stage/geometry";
import { Amount, Choice } from "../ui/fields";
import { exactSize } from "../ui/words";
import { MarksRectangle } from "./MarksRectangle";
import { common } from "../texts/common";
import { sheet as say } from "../texts/sheet";

/** What is said of the marks; what is not said is the cutter's own. */
export type Marks = NonNullable<LayoutChange["marks"]>;

const KINDS = looks.marks.map(({ id, words }) => [id as MarkKind, words] as const);
const MANY = [
  ["4", say.atFourCorners],
  ["3", say.atThreeCorners],
  ["2", say.atTwoCorners],
  ["every", say.alongBothSidesEvery],
] as const;
const AROUND = [
  ["art", say.theArt],
  ["page", say.allOfTheMedia],
  ["each", say.eachCopy],
  ["drawn", say.aRectangleThatYouDraw],
] as const;
const CODE = [
  ["yes", say.aCodeNamesTheSheet],
  ["no", say.noCode],
] as const;
const WAY = [
  ["order", say.asTheOrderSays],
  ["front", say.asItIsSeen],
  ["behind", say.theOtherWayRoundFor],
] as const;
const EVERY_MM = 500;

/** Which way round it lies on the media. */
export function WayPart({
  mirror,
  onMirror,
  words = say.printed,
}: Pick<Props, "mirror" | "onMirror"> & { words?: string }) {
  return (
    <>
      {words}{" "}
      <Choice<string>
        label={say.printed2}
        value={mirror === null ? "order" : mirror ? "behind" : "front"}
        options={WAY}
        onChange={(v) => onMirror(v === "order" ? null : v === "behind")}
      />
      .
    </>
  );
}

interface Props {
  marks: Marks;
  onMarks: (marks: Marks) => void;
  code: boolean;
  onCode: (code: boolean) => void;
  /** None: as the order says. */
  mirror: boolean | null;
  onMirror: (mirror: boolean | null) => void;
  /** Where a rectangle for marks begins, before a hand has drawn it. */
  room: number[];
  /** The rectangles that are drawn in the art, on the sheet. */
  inArt: Box[];
}

const rectangleWords = ([x0, y0, x1, y1]: Box) => say.theRectangleOfInThe(exactSize([x1 - x0, y1 - y0]));

/** Marks as the Shelf has them under a name. */
function Settings({ marks, onMarks }: Pick<Props, "marks" | "onMarks">) {
  const listed = useQuery(queries.things("marks"));
  const settings = (listed.data?.things ?? []).filter((one) => !one.retired);
  if (!settings.length) return null;
  const same = (data: object) =>
    JSON.stringify(sorted({ kind: "bracket-in", around: "art", ...marks })) === JSON.stringify(sorted(data));
  return (
    <>
      {say.setAs}
      <Choice<string>
        label={say.markSetting}
        value={settings.find((one) => same(one.data))?.id ?? ""}
        options={[["", say.itsOwn], ...settings.map((one) => [one.id, one.title] as const)]}
        onChange={(id) => {
          const chosen = settings.find((one) => one.id === id);
          if (chosen) onMarks(chosen.data as Marks);
        }}
      />
      .
    </>
  );
}

const sorted = (data: object) => Object.entries(data).sort(([one], [other]) => one.localeCompare(other));

/** From so many marks on a residual says something: three are met by moving, stretching and skewing, whatever is wrong. */
export const TELLING = 4;

export function MarksPart({ marks, onMarks, code, onCode, mirror, onMirror, room, inArt }: Props) {
  const set = (change: Marks) => {
    const next = { ...marks, ...change };
    onMarks(Object.fromEntries(Object.entries(next).filter(([, v]) => v !== undefined)));
  };
  const kind = marks.kind ?? "bracket-in";
  const look = looks.marks.find((one) => one.id === kind);
  const many = marks.every_mm ? "every" : String(marks.count ?? 4);
  return (
    <Typography variant="sentence" role="group" aria-label={say.marksLabel}>
      {say.marksAre}
      <Choice<MarkKind>
        label={say.kindOfMarks}
        value={kind}
        options={KINDS}
        onChange={(v) => set({ kind: v })}
      />{" "}
      <Choice<string>
        label={say.howManyMarks}
        value={many}
        options={MANY}
        onChange={(v) =>
          set(
            v === "every"
              ? { count: undefined, every_mm: EVERY_MM }
              : { count: v === "4" ? undefined : Number(v), every_mm: undefined },
          )
        }
      />{" "}
      {!marks.every_mm && (marks.count ?? TELLING) < TELLING && (
        <>
          {say.thatFewAlwaysFitSo}
          <Button size="small" onClick={() => set({ count: undefined })}>
            {say.takeFour}
          </Button>
          ){" "}
        </>
      )}
      {marks.every_mm ? (
        <Amount
          label={say.marksEvery}
          value={marks.every_mm}
          {...limits.marks.every_mm}
          step={50}
          onChange={(v) => set({ every_mm: v ?? EVERY_MM })}
        />
      ) : null}
      {say.round}
      <Choice<string>
        label={say.marksRound}
        value={Array.isArray(marks.around) ? "drawn" : (marks.around ?? "art")}
        options={[...AROUND, ...inArt.map((box, i) => [say.inArt(i), rectangleWords(box)] as const)]}
        onChange={(v) => {
          const drawn = v.startsWith("in-art ") ? inArt[Number(v.slice(7))] : v === "drawn" ? room : null;
          set({ around: (drawn as Box | null) ?? (v === "art" ? undefined : (v as Marks["around"])) });
        }}
      />
      {Array.isArray(marks.around) && (
        <MarksRectangle
          box={marks.around}
          onBox={(box) => set({ around: box.map((mm) => Number(mm.toFixed(3))) as Box })}
        />
      )}
      ,{" "}
      <Amount
        label={say.distanceOfMarks}
        value={marks.distance_mm ?? undefined}
        shipped="10"
        {...limits.marks.distance_mm}
        onChange={(v) => set({ distance_mm: v })}
      />
      {say.away}
      {look?.size}{" "}
      <Amount
        label={say.sizeOfMarks}
        value={marks.arm_mm ?? undefined}
        shipped="12"
        {...limits.marks.arm_mm}
        onChange={(v) => set({ arm_mm: v })}
      />
      {look?.stroked && (
        <>
          ,{" "}
          <Amount
            label={say.weightOfMarks}
            value={marks.weight_mm ?? undefined}
            shipped="1"
            {...limits.marks.weight_mm}
            step={0.1}
            onChange={(v) => set({ weight_mm: v })}
          />
          {common.wide}
        </>
      )}
      .{" "}
      <Choice<string>
        label={say.code}
        value={code ? "yes" : "no"}
        options={CODE}
        onChange={(v) => onCode(v === "yes")}
      />
      . <WayPart mirror={mirror} onMirror={onMirror} />
      <Settings marks={marks} onMarks={onMarks} />
    </Typography>
  );
}
