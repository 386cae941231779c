/** One line of what is made: its role, how far from the art, its corners and pattern, each word of it a control. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { MadeLine } from "../../api/client";
import { RoleSign } from "../../stage/RoleLine";
import { CUTS, lookOf } from "../../ui/roles";
import { mm, plural } from "../../ui/words";
import { Choice } from "../../ui/fields";
import { CornersPart, LineRun, TiesPart } from "./lineWords";
import { hasOffset, tidy, type LineWanted } from "./make";

const ROLE_WORDS = CUTS.map((role) => [role, lookOf(role).words] as const);
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
      <Typography variant="sentence">
        <RoleSign role={line.role} />{" "}
        <Choice label="role" value={line.role} options={ROLE_WORDS} onChange={(role) => set({ role })} />{" "}
        <LineRun line={line} set={set} />.
      </Typography>
      {perforated && <TiesPart line={line} set={set} />}
      {more && hasOffset(line) && <CornersPart line={line} set={set} />}
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
