/** The words that a line of a making is said in, each of them a control: where it runs, its ties, its corners. */
import { limits } from "../../ui/limits";
import { Typography } from "@mui/material";
import { useState } from "react";
import { lookOf } from "../../ui/roles";
import { Amount, Choice } from "../../ui/fields";
import { hasOffset, isOpen, type Join, type LineWanted } from "./make";
import { common } from "../../texts/common";
import { making as say } from "../../texts/making";

const JOINS: readonly (readonly [Join, string])[] = [
  ["round", "round"],
  ["mitre", "mitred"],
  ["bevel", "bevelled"],
];

interface Props {
  line: LineWanted;
  set: (change: Partial<LineWanted>) => void;
}

/** Where it runs: at a distance of the art or of another line, straight across, as a frame, or through the waste. */
export function LineRun({ line, set }: Props) {
  return hasOffset(line) ? (
    <>
      {line.drawn ? say.asDrawn : line.along ? say.alongThe(lookOf(line.along).words) : ""}
      <Offset line={line} onChange={(offset_mm) => set({ offset_mm })} />,{" "}
      <Choice
        label={say.joins}
        value={line.join ?? "round"}
        options={JOINS}
        onChange={(join) => set({ join: join === "round" ? undefined : join })}
      />
    </>
  ) : line.slit_deg !== undefined ? (
    <>
      {say.straightAcrossAt}
      <Amount
        label={say.angle}
        unit="°"
        {...limits.line.slit_deg}
        step={5}
        value={line.slit_deg}
        onChange={(v) => set({ slit_deg: v ?? 0 })}
      />
      {say.runOut}
      <Amount label={say.runOut2} value={line.run_out_mm ?? 0} onChange={(v) => set({ run_out_mm: v })} />
    </>
  ) : line.frame_mm !== undefined ? (
    <>
      {say.asAFrameToWeed}
      <Amount
        label={say.frameDistance}
        {...limits.line.frame_mm}
        value={line.frame_mm}
        onChange={(v) => set({ frame_mm: v ?? 0 })}
      />
      {say.roundAll}
    </>
  ) : line.weed_mm !== undefined ? (
    <>
      {say.throughTheWasteNoStrip}
      <Amount
        label={say.widestStrip}
        {...limits.line.weed_mm}
        step={10}
        value={line.weed_mm}
        onChange={(v) => set({ weed_mm: v ?? 50 })}
      />
    </>
  ) : null;
}

/** Of a perforation: its cuts and ties. */
export function TiesPart({ line, set }: Props) {
  return (
    <Typography variant="sentence">
      {say.cutsOf}
      <Amount
        label={say.cut}
        {...limits.line.cut_mm}
        value={line.cut_mm ?? 4}
        onChange={(v) => set({ cut_mm: v ?? 4 })}
      />
      {say.tiesOf}
      <Amount
        label={say.tie}
        {...limits.line.tie_mm}
        step={0.1}
        value={line.tie_mm ?? 0.5}
        onChange={(v) => set({ tie_mm: v ?? 0.5 })}
      />
      {say.atLeast}
      <Amount
        label={say.leastTies}
        unit=""
        {...limits.line.least_ties}
        step={1}
        value={line.least_ties ?? 0}
        onChange={(v) => set({ least_ties: v || undefined })}
      />
      {say.aPiece}
      <Choice
        label={say.tiesAre}
        value={line.tie ?? "whole"}
        options={[
          ["whole", say.leftWhole],
          ["scored", "scored"],
        ]}
        onChange={(tie) => set({ tie: tie === "whole" ? undefined : tie })}
      />
      .
    </Typography>
  );
}

/** What is seldom said: corners, how near curves keep to what is meant, a tab to lift the piece by. */
export function CornersPart({ line, set }: Props) {
  return (
    <Typography variant="sentence">
      {say.cornersRoundedTo}
      <Amount
        label={say.cornerRadius}
        {...limits.line.corner_mm}
        step={0.1}
        value={line.corner_mm ?? 0}
        onChange={(v) => set({ corner_mm: v || undefined })}
      />
      {say.curvesWithin}
      <Amount
        label={say.fit}
        {...limits.line.fit_mm}
        step={0.01}
        value={line.fit_mm ?? 0.02}
        onChange={(v) => set({ fit_mm: v === 0.02 ? undefined : v })}
      />
      {say.liftTab}
      <Amount
        label={say.liftTab2}
        least={0}
        step={1}
        value={line.tab_mm ?? 0}
        onChange={(v) => set({ tab_mm: v || undefined })}
      />
      {common.wide}
      {line.tab_mm !== undefined && (
        <>
          {say.towards}
          <Amount
            label={say.tabTowards}
            unit="°"
            {...limits.line.tab_deg}
            step={15}
            value={line.tab_deg ?? 270}
            onChange={(v) => set({ tab_deg: v })}
          />
        </>
      )}
      .
    </Typography>
  );
}

/**
 * How far and to which side, which together are one signed figure: a sign that is typed says the side, and a figure
 * without one stays on the side that is shown, which is kept where the figure is nought.
 */
function Offset({ line, onChange }: { line: LineWanted; onChange: (offset_mm: number) => void }) {
  const by = line.offset_mm ?? 0;
  const [atNought, setAtNought] = useState<"inside" | "outside">("outside");
  const side = by ? (by < 0 ? "inside" : "outside") : atNought;
  const [out, within] = isOpen(line) ? [say.toItsRight, say.toItsLeft] : ["outside", "inside"];
  return (
    <>
      <Amount
        label={say.offset}
        value={Math.abs(by)}
        onTyped={(v, signed) => {
          const next = signed ? v : side === "inside" ? -v : v;
          setAtNought(next ? (next < 0 ? "inside" : "outside") : side);
          onChange(next);
        }}
      />{" "}
      <Choice
        label={say.side}
        value={side}
        options={[
          ["outside", out],
          ["inside", within],
        ]}
        onChange={(next) => {
          setAtNought(next);
          if (by) onChange(next === "inside" ? -Math.abs(by) : Math.abs(by));
        }}
      />
    </>
  );
}
