/** The node that is chosen, by keyboard as well as by hand: go on, move, make a corner or a curve, take away. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { mm } from "../../ui/words";
import type { MadeLine } from "../../api/client";
import type { Point } from "../../stage/geometry";
import type { NodeAt } from "./Grips";
import type { Edit } from "./make";
import { further, indexOf, nodeKeys, nodesIn, STEP_MM } from "./nodeKeys";
import { nodesOf, type Node } from "./paths";
import { making as say } from "../../texts/making";

/** What is done to a node and needs no other place. */
type Alone = Exclude<Edit["do"], "move" | "join" | "handle">;

interface Props {
  lines: MadeLine[];
  chosen: NodeAt | null;
  onChoose: (at: NodeAt) => void;
  onEdit: (edit: Edit) => void;
}

export function NodeBar({ lines, chosen, onChoose, onEdit }: Props) {
  const all = nodesIn(lines);
  const index = indexOf(all, chosen);
  const here = all[index];
  const at: Point | null = here ? [here.at[0], here.at[1]] : null;
  const go = (by: number) => {
    const next = further(all, chosen, by);
    if (next) onChoose(next);
  };
  const line = here ? lines[here.contour] : undefined;
  const nodes = line ? nodesOf(line) : [];
  const next = here ? nodes[(here.node + 1) % nodes.length] : undefined;
  const end = line && !line.closed && here && (here.node === 0 || here.node === nodes.length - 1);
  const ends = lines
    .filter((one) => !one.closed)
    .flatMap((one) => {
      const own = nodesOf(one);
      return [own[0], own[own.length - 1]];
    })
    .filter((node) => node && at && Math.hypot(node[0] - at[0], node[1] - at[1]) > 1e-6);
  const nearest = ends.sort((a, b) => far(a, at) - far(b, at))[0];
  const act = (what: Alone) => at && onEdit({ do: what, at });
  const join = (to: Point) => at && onEdit({ do: "join", at, to });
  const keys = nodeKeys(lines, chosen, onChoose, onEdit);
  return (
    <Box
      role="group"
      aria-label={say.theNodeLabel}
      tabIndex={0}
      onKeyDown={(event) => {
        const doIt = keys[(event.shiftKey ? "Shift+" : "") + event.key];
        if (doIt && !event.ctrlKey && !event.metaKey) {
          event.preventDefault();
          event.stopPropagation();
          doIt();
        }
      }}
      sx={{ p: 0.5 }}
    >
      <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap", alignItems: "center" }}>
        <Button onClick={() => go(-1)} aria-label={say.theNodeBefore} sx={{ minWidth: 0 }}>
          ‹
        </Button>
        <Typography variant="mono" data-testid="node">
          {at ? say.nodeOf(index + 1, all.length, at[0].toFixed(2), at[1].toFixed(2)) : `${all.length} nodes`}
        </Typography>
        <Button onClick={() => go(1)} aria-label={say.theNextNode} sx={{ minWidth: 0 }}>
          ›
        </Button>
        {at && (
          <>
            <Button
              disabled={!here || !next}
              onClick={() => here && next && onEdit({ do: "add", at: halfWay(here.at, next) })}
            >
              {say.addAfterIt}
            </Button>
            <Button onClick={() => act("delete")}>{say.deleteIt}</Button>
            {here?.at[6] ? (
              <Button onClick={() => act("curve")}>{say.curve}</Button>
            ) : (
              <Button onClick={() => act("corner")}>{say.corner}</Button>
            )}
            {end ? (
              <Button disabled={!nearest} onClick={() => nearest && join([nearest[0], nearest[1]])}>
                {say.joinToTheNearestEnd}
              </Button>
            ) : (
              <Button onClick={() => act("open")}>{say.openHere}</Button>
            )}
            <Button onClick={() => act("take")}>{say.takeTheContourAway}</Button>
          </>
        )}
      </Stack>
      <Typography variant="body2" color="text.secondary">
        {say.dragNodesTheyCatchOn(mm(STEP_MM))}
      </Typography>
    </Box>
  );
}

const far = (node: number[] | undefined, at: Point | null) =>
  node && at ? Math.hypot((node[0] ?? 0) - at[0], (node[1] ?? 0) - at[1]) : Infinity;

/** The middle of the cubic from one node to the next. */
const halfWay = (a: Node, b: Node): Point => [
  (a[0] + 3 * a[4] + 3 * b[2] + b[0]) / 8,
  (a[1] + 3 * a[5] + 3 * b[3] + b[1]) / 8,
];
