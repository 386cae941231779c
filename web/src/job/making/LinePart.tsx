/** One line of what is made: its role, how far from the art, its corners and pattern, each word of it a control. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { MadeLine } from "../../api/client";
import { RoleSign } from "../../stage/RoleLine";
import { CUTS, lookOf } from "../../ui/roles";
import { mm } from "../../ui/words";
import { Choice } from "../../ui/fields";
import { CornersPart, LineRun, TiesPart } from "./lineWords";
import { hasOffset, tidy, type LineWanted } from "./make";
import { making as say } from "../../texts/making";

const ROLE_WORDS = CUTS.map((role) => [role, lookOf(role).words] as const);
/** “26 ties a piece”, or from how many to how many. */
const tiesWords = (ties: number[]) => {
  const [least, most] = [Math.min(...ties), Math.max(...ties)];
  return `${least === most ? say.tie2(least) : say.toTies(least, most)}${ties.length > 1 ? say.aPiece2 : ""}`;
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
      aria-label={say.the(lookOf(line.role).words)}
      data-line={line.role}
      sx={{ borderLeft: `4px solid ${lookOf(line.role).colour}`, pl: 1.25, py: 0.25 }}
    >
      <Typography variant="sentence">
        <RoleSign role={line.role} />{" "}
        <Choice label={say.role} value={line.role} options={ROLE_WORDS} onChange={(role) => set({ role })} />{" "}
        <LineRun line={line} set={set} />.
      </Typography>
      {perforated && <TiesPart line={line} set={set} />}
      {more && hasOffset(line) && <CornersPart line={line} set={set} />}
      <Typography variant="body2" color="text.secondary" data-testid="made">
        {made.length === 0
          ? say.nothingOfItYet
          : `${say.contour(made.length)}, ${say.node(nodes)}, ${mm(long)}`}
        {perforated && made.length > 0 && say.holding(tiesWords(ties), (holding * 100).toFixed(0))}
        {line.edits?.length ? say.changeByHand(line.edits.length) : ""}
      </Typography>
      <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap" }}>
        {hasOffset(line) && (
          <Button onClick={() => setMore(!more)} aria-expanded={more} sx={{ px: 0.75 }}>
            {more ? say.less : say.cornersFitTab}
          </Button>
        )}
        <Button
          variant={editing ? "contained" : "text"}
          aria-pressed={editing}
          onClick={onEdit}
          sx={{ px: 0.75 }}
        >
          {say.nodesByHand}
        </Button>
        {line.edits?.length ? (
          <Button onClick={() => set({ edits: undefined })} sx={{ px: 0.75 }}>
            {say.withoutChangesByHand}
          </Button>
        ) : null}
        <Button onClick={onRemove} sx={{ px: 0.75 }} aria-label={say.takeTheOut(lookOf(line.role).words)}>
          {say.takeOut}
        </Button>
      </Stack>
    </Box>
  );
}
