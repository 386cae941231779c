/** The words that a line of a making is said in, each of them a control: where it runs, its ties, its corners. */
import { limits } from "../../ui/limits";
import { Typography } from "@mui/material";
import { useState } from "react";
import { lookOf } from "../../ui/roles";
import { Amount, Choice } from "../../ui/fields";
import { hasOffset, isOpen, type Join, type LineWanted } from "./make";

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
      {line.drawn ? "as drawn, " : line.along ? `along the ${lookOf(line.along).words}, ` : ""}
      <Offset line={line} onChange={(offset_mm) => set({ offset_mm })} />,{" "}
      <Choice
        label="joins"
        value={line.join ?? "round"}
        options={JOINS}
        onChange={(join) => set({ join: join === "round" ? undefined : join })}
      />
    </>
  ) : line.slit_deg !== undefined ? (
    <>
      straight across at{" "}
      <Amount
        label="angle"
        unit="°"
        {...limits.line.slit_deg}
        step={5}
        value={line.slit_deg}
        onChange={(v) => set({ slit_deg: v ?? 0 })}
      />
      , run out{" "}
      <Amount label="run-out" value={line.run_out_mm ?? 0} onChange={(v) => set({ run_out_mm: v })} />
    </>
  ) : line.frame_mm !== undefined ? (
    <>
      as a frame to weed,{" "}
      <Amount
        label="frame distance"
        {...limits.line.frame_mm}
        value={line.frame_mm}
        onChange={(v) => set({ frame_mm: v ?? 0 })}
      />{" "}
      round all
    </>
  ) : line.weed_mm !== undefined ? (
    <>
      through the waste, no strip wider than{" "}
      <Amount
        label="widest strip"
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
      Cuts of{" "}
      <Amount
        label="cut"
        {...limits.line.cut_mm}
        value={line.cut_mm ?? 4}
        onChange={(v) => set({ cut_mm: v ?? 4 })}
      />
      , ties of{" "}
      <Amount
        label="tie"
        {...limits.line.tie_mm}
        step={0.1}
        value={line.tie_mm ?? 0.5}
        onChange={(v) => set({ tie_mm: v ?? 0.5 })}
      />
      , at least{" "}
      <Amount
        label="least ties"
        unit=""
        {...limits.line.least_ties}
        step={1}
        value={line.least_ties ?? 0}
        onChange={(v) => set({ least_ties: v || undefined })}
      />{" "}
      a piece,{" "}
      <Choice
        label="ties are"
        value={line.tie ?? "whole"}
        options={[
          ["whole", "left whole"],
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
      Corners rounded to{" "}
      <Amount
        label="corner radius"
        {...limits.line.corner_mm}
        step={0.1}
        value={line.corner_mm ?? 0}
        onChange={(v) => set({ corner_mm: v || undefined })}
      />
      , curves within{" "}
      <Amount
        label="fit"
        {...limits.line.fit_mm}
        step={0.01}
        value={line.fit_mm ?? 0.02}
        onChange={(v) => set({ fit_mm: v === 0.02 ? undefined : v })}
      />
      ; lift tab{" "}
      <Amount
        label="lift tab"
        least={0}
        step={1}
        value={line.tab_mm ?? 0}
        onChange={(v) => set({ tab_mm: v || undefined })}
      />{" "}
      wide
      {line.tab_mm !== undefined && (
        <>
          {" "}
          towards{" "}
          <Amount
            label="tab towards"
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
  const [out, within] = isOpen(line) ? ["to its right", "to its left"] : ["outside", "inside"];
  return (
    <>
      <Amount
        label="offset"
        value={Math.abs(by)}
        onTyped={(v, signed) => {
          const next = signed ? v : side === "inside" ? -v : v;
          setAtNought(next ? (next < 0 ? "inside" : "outside") : side);
          onChange(next);
        }}
      />{" "}
      <Choice
        label="side"
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
