/** Where the outline comes from, and what becomes of its inner contours and islands: the first half of the sentence. */
import { limits } from "../../ui/limits";
import { Button, Stack, Typography } from "@mui/material";
import type { Making } from "../../api/client";
import { lookOf, type Role } from "../../ui/roles";
import { Amount, Choice } from "../../ui/fields";
import { tidy, type Inner, type Make, type Shape, type Source } from "./make";
import { making as say } from "../../texts/making";

export type Pointing = "inner" | "ground" | "cut-out" | "objects" | "pen" | "nodes" | "box";

const SOURCES: readonly (readonly [string, string])[] = [
  ["auto", say.whateverTellsItBest],
  ["vector", say.theVectors],
  ["alpha", say.whatIsNotClear],
  ["ground", say.whatIsNotGround],
  ["render", say.thePageAsItIs],
];
const SHAPES: readonly (readonly [Shape | "outline", string])[] = [
  ["outline", say.asItRuns],
  ["hull", say.itsConvexHull],
  ["rectangle", say.aRectangleRoundIt],
  ["rounded", say.aRoundedRectangleRoundIt],
  ["circle", say.aCircleRoundIt],
  ["ellipse", say.anEllipseRoundIt],
];
const innerKind = (inner: Inner | undefined) =>
  inner === undefined || inner === "keep" ? "keep" : inner === "drop" ? "drop" : "below";

interface Props {
  make: Make;
  made: Making | null;
  /** The roles of the lines that the file has already. */
  inFile: Role[];
  pointing: Pointing;
  onPointing: (next: Pointing) => void;
  onChange: (make: Make) => void;
}

export function OutlinePart({ make, made, inFile, pointing, onPointing, onChange }: Props) {
  const set = (change: Partial<Make>) => onChange(tidy({ ...make, ...change }));
  const source =
    make.source === "line" ? `line ${make.line}` : make.source === "shape" ? "auto" : (make.source ?? "auto");
  const lines = [...new Set([...inFile, ...(make.line ? [make.line] : [])])];
  const pixels = made ? !["vector", "drawn", "line"].includes(made.source) : false;
  const ground = make.source === "ground" || made?.source === "ground";
  const kept = made?.inner.filter((one) => one.kept).length ?? 0;
  return (
    <Stack spacing={0.75} role="group" aria-label={say.theOutlineLabel}>
      <Typography variant="sentence">
        {say.theOutlineOf}
        <Choice
          label={say.source}
          value={source}
          options={[
            ...SOURCES,
            ...lines.map((role): readonly [string, string] => [
              `line ${role}`,
              say.theThatIsThere(lookOf(role).words),
            ]),
          ]}
          onChange={(next) =>
            set(
              next.startsWith("line ")
                ? { source: "line", line: lines.find((role) => next === `line ${role}`) }
                : { source: next === "auto" ? undefined : (next as Source), line: undefined },
            )
          }
        />
        ,{" "}
        <Choice
          label={say.shape}
          value={make.shape ?? "outline"}
          options={SHAPES}
          onChange={(next) => set({ shape: next === "outline" ? undefined : next })}
        />
        {make.shape && (
          <>
            ,{" "}
            <Choice
              label={say.around}
              value={make.around ?? "piece"}
              options={[
                ["piece", say.eachPieceByItself],
                ["all", say.allOfThemTogether],
              ]}
              onChange={(around) => set({ around: around === "piece" ? undefined : around })}
            />
          </>
        )}
        <InnerPart make={make} set={set} />
      </Typography>
      {ground && <GroundPart make={make} set={set} />}
      {pixels && !ground && <ThresholdPart make={make} made={made} set={set} />}
      {made && !made.refused && (
        <Typography variant="body2" color="text.secondary">
          {made.why}
          {made.inner.length > 0 && say.innerContourFoundCutPress(made.inner.length, kept)}
        </Typography>
      )}
      <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap" }}>
        <PointButton of="cut-out" now={pointing} onPoint={onPointing} words={say.cutOutAnArea} />
        <PointButton of="objects" now={pointing} onPoint={onPointing} words={say.chooseObjects} />
        {(made?.inner.length ?? 0) > 1 && (
          <PointButton of="box" now={pointing} onPoint={onPointing} words={say.innerContoursInABox} />
        )}
        {pixels && (
          <PointButton of="ground" now={pointing} onPoint={onPointing} words={say.pointAtTheGround} />
        )}
        {(make.cut_out_at || make.objects_at || make.ground_at) && (
          <Button onClick={() => set({ cut_out_at: undefined, objects_at: undefined, ground_at: undefined })}>
            {say.forgetWhatWasPointedAt}
          </Button>
        )}
      </Stack>
    </Stack>
  );
}

interface WordsProps {
  make: Make;
  set: (change: Partial<Make>) => void;
}

/** What becomes of inner contours, gaps and small pieces. */
function InnerPart({ make, set }: WordsProps) {
  const inner = innerKind(make.inner);
  return (
    <>
      {say.innerContours}
      <Choice
        label={say.innerContours2}
        value={inner}
        options={[
          ["keep", say.areCut],
          ["drop", say.areDropped],
          ["below", say.areDroppedBelow],
        ]}
        onChange={(next) =>
          set({
            inner: next === "keep" ? undefined : next === "drop" ? "drop" : { drop_below_mm2: 20 },
            keep_at: undefined,
            drop_at: undefined,
          })
        }
      />
      {typeof make.inner === "object" && (
        <Amount
          label={say.innerContoursBelow}
          unit="mm²"
          {...limits.make.specks_mm2}
          step={5}
          value={make.inner.drop_below_mm2}
          onChange={(v) => set({ inner: { drop_below_mm2: v ?? 20 } })}
        />
      )}
      {say.gapsUpTo}
      <Amount
        label={say.gapsBridgedUpTo}
        {...limits.make.bridge_mm}
        value={make.bridge_mm ?? 0}
        onChange={(v) => set({ bridge_mm: v || undefined })}
      />
      {say.areBridgedWhatIsSmaller}
      <Amount
        label={say.smallestPiece}
        unit="mm²"
        {...limits.make.specks_mm2}
        value={make.specks_mm2 ?? 1}
        onChange={(v) => set({ specks_mm2: v === 1 ? undefined : v })}
      />
      {say.isLeftOut}
    </>
  );
}

/** What counts as ground. */
function GroundPart({ make, set }: WordsProps) {
  return (
    <Typography variant="sentence">
      {say.groundIsWhatIsWithin}
      <Amount
        label={say.tolerance}
        unit=""
        {...limits.make.tolerance}
        step={4}
        value={make.tolerance}
        shipped={say.auto}
        onChange={(tolerance) => set({ tolerance })}
      />
      {say.ofItsColour}
      <Choice
        label={say.groundIs}
        value={make.joined ?? "edge"}
        options={[
          ["edge", say.joinedToTheEdge],
          ["anywhere", "anywhere"],
        ]}
        onChange={(joined) => set({ joined: joined === "edge" ? undefined : joined })}
      />
      .
    </Typography>
  );
}

/** From which share of its ink on a pixel counts. */
function ThresholdPart({ make, made, set }: WordsProps & { made: Making | null }) {
  return (
    <Typography variant="sentence">
      {say.aPixelCountsFrom}
      <Amount
        label={say.threshold}
        unit="%"
        least={0}
        most={100}
        step={5}
        value={make.threshold === undefined ? undefined : Math.round(make.threshold * 100)}
        shipped={say.auto}
        onChange={(v) => set({ threshold: v === undefined ? undefined : v / 100 })}
      />
      {say.on}
      {made?.why.includes("Soft parts") && make.threshold === undefined && (
        <Button size="small" onClick={() => set({ threshold: 0.5 })}>
          {say.throughTheSoftParts}
        </Button>
      )}
      {make.threshold === 0.5 && (
        <Button size="small" onClick={() => set({ threshold: undefined })}>
          {say.roundTheSoftParts}
        </Button>
      )}
    </Typography>
  );
}

export function PointButton({
  of,
  now,
  words,
  onPoint,
}: {
  of: Pointing;
  now: Pointing;
  words: string;
  onPoint: (next: Pointing) => void;
}) {
  return (
    <Button
      variant={now === of ? "contained" : "outlined"}
      aria-pressed={now === of}
      onClick={() => onPoint(now === of ? "inner" : of)}
      sx={{ px: 1 }}
    >
      {words}
    </Button>
  );
}
