/** One line of what is made: its role, how far from the art, its corners and pattern, each word of it a control. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { MadeLine } from "../../api/client";
import { RoleSign } from "../../stage/RoleLine";
import { CUTS, lookOf } from "../../ui/roles";
import { mm, plural } from "../../ui/words";
import { Amount, Choice } from "../../ui/fields";
import { hasOffset, isOpen, tidy, type Join, type LineWanted } from "./make";

const ROLE_WORDS = CUTS.map((role) => [role, lookOf(role).words] as const);
const JOINS: readonly (readonly [Join, string])[] = [
  ["round", "round"],
  ["mitre", "mitred"],
  ["bevel", "bevelled"],
];

/** “26 ties a piece”, or from how many to how many. */
const tiesWords = (ties: number[]) => {
  const [least, most] = [Math.min(...ties), Math.max(...ties)];
  return `${least === most ? plural(least, "tie") : `${least} to ${most} ties`}${ties.length > 1 ? " a piece" : ""}`;
};

interface Props {
  line: LineWanted;
  made: MadeLine[];
  editing: boolean;
  onChange: (line: LineWanted) => void;
  onEdit: () => void;
  onRemove: () => void;
}

export function LinePart({ line, made, editing, onChange, onEdit, onRemove }: Props) {
  const [more, setMore] = useState(false);
  const set = (change: Partial<LineWanted>) => onChange(tidy({ ...line, ...change }));
  const perforated = line.role === "perforation" || line.cut_mm !== undefined;
  const nodes = made.reduce((sum, one) => sum + one.node_count, 0);
  const long = made.reduce((sum, one) => sum + one.length_mm, 0);
  const ties = made.map((one) => one.ties);
  const holding = made.length ? made.reduce((sum, one) => sum + one.holding * one.length_mm, 0) / long : 0;
  return (
    <Box
      role="group"
      aria-label={`the ${lookOf(line.role).words}`}
      data-line={line.role}
      sx={{ borderLeft: `4px solid ${lookOf(line.role).colour}`, pl: 1.25, py: 0.25 }}
    >
      <Typography component="div" variant="body2" sx={{ lineHeight: 2.1 }}>
        <RoleSign role={line.role} />{" "}
        <Choice label="role" value={line.role} options={ROLE_WORDS} onChange={(role) => set({ role })} />{" "}
        {hasOffset(line) ? (
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
              least={-360}
              most={360}
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
              least={0}
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
              least={1}
              most={10000}
              step={10}
              value={line.weed_mm}
              onChange={(v) => set({ weed_mm: v ?? 50 })}
            />
          </>
        ) : null}
        .
      </Typography>
      {perforated && (
        <Typography component="div" variant="body2" sx={{ lineHeight: 2.1 }}>
          Cuts of{" "}
          <Amount
            label="cut"
            least={0.05}
            value={line.cut_mm ?? 4}
            onChange={(v) => set({ cut_mm: v ?? 4 })}
          />
          , ties of{" "}
          <Amount
            label="tie"
            least={0.02}
            step={0.1}
            value={line.tie_mm ?? 0.5}
            onChange={(v) => set({ tie_mm: v ?? 0.5 })}
          />
          , at least{" "}
          <Amount
            label="least ties"
            unit=""
            least={0}
            most={10000}
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
      )}
      {more && hasOffset(line) && (
        <Typography component="div" variant="body2" sx={{ lineHeight: 2.1 }}>
          Corners rounded to{" "}
          <Amount
            label="corner radius"
            least={0}
            step={0.1}
            value={line.corner_mm ?? 0}
            onChange={(v) => set({ corner_mm: v || undefined })}
          />
          , curves within{" "}
          <Amount
            label="fit"
            least={0.001}
            most={5}
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
                least={-360}
                most={720}
                step={15}
                value={line.tab_deg ?? 270}
                onChange={(v) => set({ tab_deg: v })}
              />
            </>
          )}
          .
        </Typography>
      )}
      <Typography variant="body2" color="text.secondary" data-testid="made">
        {made.length === 0
          ? "Nothing of it yet."
          : `${plural(made.length, "contour")}, ${plural(nodes, "node")}, ${mm(long)}`}
        {perforated &&
          made.length > 0 &&
          `; ${tiesWords(ties)}, holding ${(holding * 100).toFixed(0)}\u00a0%`}
        {line.edits?.length ? `; ${plural(line.edits.length, "change")} by hand` : ""}
      </Typography>
      <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap" }}>
        {hasOffset(line) && (
          <Button onClick={() => setMore(!more)} aria-expanded={more} sx={{ px: 0.75 }}>
            {more ? "Less" : "Corners, fit, tab…"}
          </Button>
        )}
        <Button
          variant={editing ? "contained" : "text"}
          aria-pressed={editing}
          onClick={onEdit}
          sx={{ px: 0.75 }}
        >
          Nodes by hand
        </Button>
        {line.edits?.length ? (
          <Button onClick={() => set({ edits: undefined })} sx={{ px: 0.75 }}>
            Without changes by hand
          </Button>
        ) : null}
        <Button onClick={onRemove} sx={{ px: 0.75 }} aria-label={`take the ${lookOf(line.role).words} out`}>
          Take out
        </Button>
      </Stack>
    </Box>
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
