/** The legend of the edge map in mm, and the control that lets the cut land off. */
import { Row } from "../../ui/Row";
import { Box, Button, MenuItem, Slider, Stack, TextField, Typography } from "@mui/material";
import { length, mm } from "../../ui/words";
import type { Edges, Job, Landing } from "../../api/client";
import { KINDS, NOWHERE, type Kind } from "../../stage/edges";
import type { Misregistration } from "../../api/queries";
import { useBusy } from "../../api/progress";
import { STOP } from "../../ui/theme";
import { EDGE_LOOKS } from "./edgeLooks";
import { Panel } from "../../ui/Panel";
import { modes as say } from "../../texts/modes";

interface Props {
  job: Job;
  edges: Edges | undefined;
  error: string;
  layer: string;
  onLayer: (layer: string) => void;
  offset: Misregistration;
  onOffset: (offset: Misregistration) => void;
  landing: Landing | undefined;
  onGo: (at: [number, number]) => void;
}

/** The thumb's invisible ring for fingers would lie over the rows above and below. */
const ROW_SLIDER = { flex: 1, py: 0.75, "& .MuiSlider-thumb::after": { width: 18, height: 18 } };
const MOVES = [
  ["dx", say.toTheRight, 2, 0.05, "mm"],
  ["dy", "up", 2, 0.05, "mm"],
  ["turn", "turned", 1, 0.02, "°"],
  ["stretch_x", "wider", 0.5, 0.01, "%"],
  ["stretch_y", "higher", 0.5, 0.01, "%"],
] as const;

const wordsOf = (kind: Kind, edges: Edges): string => {
  const { bleed, border, tolerance } = edges.limits;
  return {
    over: say.runsOverByOrMore(length(bleed)),
    border: `blank by ${length(border)} or more`,
    short: say.runsOverByLessThan(length(bleed)),
    narrow: say.blankByLessThan(length(border)),
    risk: say.atRiskWithinOfThe(length(tolerance)),
  }[kind];
};

export function EdgePanel({ job, edges, error, layer, onLayer, offset, onOffset, landing, onGo }: Props) {
  const busy = useBusy(job);
  if (!job.has_edges)
    return (
      <Panel>
        <Typography variant="body2">
          {job.verdict ? say.noCutBoundsAPiece : busy ? say.theEdgeIsNotKnown : say.theEdgeIsNotKnownThe}
        </Typography>
      </Panel>
    );
  if (!edges)
    return (
      <Panel>
        <Typography variant="body2">{error || say.fetchingTheEdgeMap}</Typography>
      </Panel>
    );
  const layers = Object.keys(edges.layers);
  const shares = new Map((edges.shares[layer] ?? []).map((s) => [s.kind, s]));
  const worst = worstOf(edges, layer);
  const moved = MOVES.some(([name]) => offset[name] !== 0);
  return (
    <Panel>
      {layers.length > 1 && (
        <TextField
          select
          value={layer}
          onChange={(e) => onLayer(e.target.value)}
          slotProps={{ htmlInput: { "aria-label": say.whichInkTheEdgeIs } }}
        >
          {layers.map((name) => (
            <MenuItem key={name} value={name}>
              {name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {KINDS.filter((kind) => (shares.get(kind)?.mm ?? 0) > 0).map((kind) => (
        <Row key={kind} spacing={0.75} data-legend={kind}>
          <Sample kind={kind} />
          <Typography
            variant="body2"
            sx={{
              flex: 1,
              lineHeight: 1.25,
              color: kind === "risk" ? STOP : "inherit",
              fontWeight: kind === "risk" ? 700 : 400,
            }}
          >
            {wordsOf(kind, edges)}
          </Typography>
          <Typography variant="body2" sx={{ textAlign: "right", whiteSpace: "nowrap" }}>
            {mm(shares.get(kind)?.mm ?? 0, 0)}
            <br />
            {((shares.get(kind)?.share ?? 0) * 100).toFixed(0)} %
          </Typography>
        </Row>
      ))}
      <Typography variant="body2" sx={{ borderTop: "1px solid #CFCFCF", pt: 0.5 }}>
        {say.theCutCanLand}
        <b data-testid="stands">{said(edges)}</b>
        {say.offInAnyDirectionBefore(layers.length > 1)}
        {worst && (
          <Button onClick={() => onGo(worst)} sx={{ py: 0 }}>
            {say.goToTheWorstPlace}
          </Button>
        )}
      </Typography>
      <Stack component="section" aria-label={say.whatIfTheCutLands}>
        <Stack direction="row" sx={{ justifyContent: "space-between", alignItems: "center" }}>
          <Typography variant="subtitle2">{say.whatIfItLandsOff}</Typography>
          <Button disabled={!moved} onClick={() => onOffset(NOWHERE)} sx={{ py: 0, minWidth: 0 }}>
            {say.back}
          </Button>
        </Stack>
        {MOVES.map(([name, words, most, step, unit]) => (
          <Row key={name} spacing={1}>
            <Typography variant="body2" sx={{ width: 74 }}>
              {words}
            </Typography>
            <Slider
              size="small"
              min={-most}
              max={most}
              step={step}
              value={offset[name]}
              aria-label={say.cut(words, unit)}
              sx={ROW_SLIDER}
              onChange={(_, value) => onOffset({ ...offset, [name]: value as number })}
            />
            <Typography variant="body2" sx={{ width: 58, textAlign: "right" }}>
              {offset[name].toFixed(2)} {unit}
            </Typography>
          </Row>
        ))}
        {moved && landing && <Slivers landing={landing} onGo={onGo} />}
      </Stack>
    </Panel>
  );
}

const said = (edges: Edges) =>
  edges.stands_mm === null
    ? "–"
    : edges.stands_mm >= edges.reach_mm - 0.01
      ? say.moreThan(length(edges.reach_mm))
      : length(Number(edges.stands_mm.toFixed(2)));

/** Where the cut can land off least. */
function worstOf(edges: Edges, layer: string): [number, number] | null {
  let best: [number, [number, number]] | null = null;
  for (const p of edges.layers[layer] ?? []) {
    const i = p.worst;
    const stands = (p.coloured[i] ? p.outside[i] : Math.min(p.inside[i] ?? 0, p.beyond[i] ?? 0)) ?? 0;
    if (!best || stands < best[0])
      best = [stands, [(p.points[2 * i] ?? 0) / 100, (p.points[2 * i + 1] ?? 0) / 100]];
  }
  return best && best[0] < edges.reach_mm * 100 ? best[1] : null;
}

function Slivers({ landing, onGo }: { landing: Landing; onGo: (at: [number, number]) => void }) {
  if (!landing.count)
    return (
      <Typography variant="body2" role="status" data-testid="slivers">
        {say.nothingShows}
      </Typography>
    );
  const kinds = Object.entries(landing.by_kind).filter(([, area]) => area > 0);
  return (
    <Typography variant="body2" data-testid="slivers" sx={{ color: STOP, fontWeight: 700 }}>
      {say.upToWide(
        kinds
          .map(([kind, area]) => `${kind} ${area < 10 ? area.toFixed(2) : area.toFixed(0)} mm²`)
          .join(", "),
        mm(landing.widest_mm, 2),
      )}
      <Button
        onClick={() => {
          const at = landing.slivers[0]?.outline;
          const p = at?.[Math.floor(at.length / 4)];
          if (p) onGo([p[0] ?? 0, p[1] ?? 0]);
        }}
        sx={{ py: 0 }}
      >
        {say.goThere}
      </Button>
    </Typography>
  );
}

function Sample({ kind }: { kind: Kind }) {
  const look = EDGE_LOOKS[kind];
  const lines =
    look.lines === undefined
      ? look.colour
      : `repeating-linear-gradient(${look.lines}deg, ${look.colour} 0 2px, ${look.ground} 2px 5px)`;
  return (
    <Box
      sx={{
        width: 26,
        height: 14,
        flex: "none",
        background: lines,
        opacity: look.opacity,
        border: `1px solid ${look.stroke}`,
      }}
    />
  );
}
