/** One layer of a stack: fabric, colour, how much larger than the one above, and its stitches, as sentences. */
import { Row, Spacer } from "../ui/Row";
import { limits } from "../ui/limits";
import { Box, Button, IconButton, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Drawn, Fabric, FabricLayer, LayerWanted, SewingWanted } from "../api/client";
import { queries } from "../api/queries";
import { Amount, Choice } from "../ui/fields";
import { SewingLine } from "./SewingLine";
import { changed, KINDS, MOST_SEWINGS, movedBy, sewing, without } from "./wanted";
import { stack as say } from "../texts/stack";

/** What stands for nothing that is drawn: the choice shows no empty word. */
const ABOVE = "above";

interface Props {
  layer: LayerWanted;
  /** What was made of it; null while that is not known. */
  made: FabricLayer | null;
  number: number;
  count: number;
  fabrics: Fabric[];
  /** What of the file it can be drawn as. */
  drawn: Drawn[];
  chosen: boolean;
  onChoose: () => void;
  onChange: (next: Partial<LayerWanted>) => void;
  onMove: (by: number) => void;
  onRemove: () => void;
}

export function LayerCard(props: Props) {
  const { layer, made, number, count, chosen, onChange } = props;
  const stitches = (next: SewingWanted[]) => onChange({ stitches: next });
  return (
    <Box
      component="section"
      aria-label={layer.name}
      data-layer={layer.name}
      sx={{
        p: 1,
        bgcolor: chosen ? "#E6EEEE" : "#F4F4F4",
        borderLeft: `6px solid ${made?.colour ?? "#999"}`,
      }}
    >
      <Head {...props} />
      <FabricPart {...props} />
      {number < count - 1 && (
        <Typography variant="sentence">
          {say.laidOnTheOneBelow}
          <Choice
            label={say.howIsLaid(layer.name)}
            value={layer.lay}
            options={[
              ["stick", say.peelingAndSticking],
              ["heat", "heat"],
            ]}
            onChange={(lay) => onChange({ lay })}
          />
        </Typography>
      )}
      <ThreadPart {...props} />
      {layer.stitches.map((one, i) => (
        <SewingLine
          key={i}
          of={layer.name}
          number={i}
          count={layer.stitches.length}
          sewing={one}
          onChange={(next) => stitches(changed(layer.stitches, i, next))}
          onMove={(by) => stitches(movedBy(layer.stitches, i, by))}
          onRemove={() => stitches(without(layer.stitches, i))}
        />
      ))}
      {!layer.stitches.length && (
        <Typography variant="body2" color="text.secondary">
          {say.cutOnlyNothingSewsIt}
        </Typography>
      )}
      {layer.stitches.length < MOST_SEWINGS && (
        <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap" }}>
          {KINDS.map(([kind, words]) => (
            <Button
              key={kind}
              size="small"
              aria-label={say.addATo(words, layer.name)}
              onClick={() => stitches([...layer.stitches, sewing(kind)])}
            >
              + {words}
            </Button>
          ))}
        </Stack>
      )}
    </Box>
  );
}

/** Its fabric's id: a layer may also say all of its fabric. */
const fabricOf = ({ fabric }: Props["layer"]) => (typeof fabric === "string" ? fabric : fabric.id);
const knownOf = ({ layer, fabrics }: Props) =>
  fabrics.find((one) => one.id === fabricOf(layer).toLowerCase());

/** Its name, whether it is shown alone, and its place in the stack. */
function Head({ layer, number, count, chosen, onChoose, onChange, onMove, onRemove }: Props) {
  return (
    <Row spacing={0.5}>
      <Name value={layer.name} onChange={(name) => onChange({ name })} />
      <Spacer />
      <Button size="small" aria-pressed={chosen} onClick={onChoose} sx={{ minWidth: 0 }}>
        {chosen ? say.showAll : say.showItAlone}
      </Button>
      <IconButton size="small" aria-label={say.up(layer.name)} disabled={!number} onClick={() => onMove(-1)}>
        ↑
      </IconButton>
      <IconButton
        size="small"
        aria-label={say.down(layer.name)}
        disabled={number === count - 1}
        onClick={() => onMove(1)}
      >
        ↓
      </IconButton>
      <IconButton size="small" aria-label={say.takeOut(layer.name)} disabled={count === 1} onClick={onRemove}>
        ×
      </IconButton>
    </Row>
  );
}

/** What it is made of, and its outline. */
function FabricPart(props: Props) {
  const { layer, made, number, fabrics, drawn, onChange } = props;
  const known = knownOf(props);
  const kept = layer.drawn && !drawn.some((one) => one.key === layer.drawn);
  return (
    <Typography variant="sentence">
      <Choice
        label={say.fabricOf(layer.name)}
        value={known?.id ?? fabricOf(layer)}
        options={[
          ...fabrics.map((one) => [one.id, one.title] as const),
          ...(known ? [] : [[fabricOf(layer), fabricOf(layer)] as const]),
        ]}
        onChange={(fabric) => onChange({ fabric, force_gf: null, passed: false })}
      />{" "}
      <Colour
        label={say.colourOf(layer.name)}
        value={layer.colour || made?.colour || "#cccccc"}
        onChange={(colour) => onChange({ colour })}
      />{" "}
      <Amount
        label={say.offsetOf(layer.name)}
        value={layer.offset_mm}
        {...limits.layer.offset_mm}
        {...(number && !layer.drawn ? { least: 0 } : {})}
        onChange={(offset_mm) => onChange({ offset_mm: offset_mm ?? 0 })}
      />
      {say.outside}
      <Choice
        label={say.whatIsDrawnAs(layer.name)}
        value={layer.drawn || ABOVE}
        options={[
          [ABOVE, number ? say.theLayerAbove : say.theOutline],
          ...drawn.map((one) => [one.key, one.words] as const),
          ...(kept ? [[layer.drawn, say.whichIsNotThere(layer.drawn)] as const] : []),
        ]}
        onChange={(next) => onChange({ drawn: next === ABOVE ? "" : next })}
      />
      ,{" "}
      <Choice
        label={say.cornersOf(layer.name)}
        value={layer.join}
        options={[
          ["round", "round"],
          ["mitre", "mitred"],
        ]}
        onChange={(join) => onChange({ join })}
      />
      {say.innerContours}
      <Choice
        label={say.innerContoursOf(layer.name)}
        value={layer.inner}
        options={[
          ["keep", "kept"],
          ["close", "closed"],
        ]}
        onChange={(inner) => onChange({ inner })}
      />
      {say.shrinks}
      <Amount
        label={say.shrinkingOf(layer.name)}
        unit="%"
        value={Number((100 * layer.shrinks).toFixed(2))}
        least={0}
        most={20}
        step={0.1}
        onChange={(percent) => onChange({ shrinks: Number(((percent ?? 0) / 100).toFixed(4)) })}
      />
      {known && !layer.shrinks && known.shrinks > 0 && (
        <Button size="small" onClick={() => onChange({ shrinks: known.shrinks })}>
          {say.shrinks2(known.title, Number((100 * known.shrinks).toFixed(2)))}
        </Button>
      )}
    </Typography>
  );
}

/** What it is sewn with. */
function ThreadPart(props: Props) {
  const { layer, made, onChange } = props;
  const known = knownOf(props);
  return (
    <Typography variant="sentence">
      {say.sewnWith}
      <Colour
        label={say.threadOf(layer.name)}
        value={layer.thread || made?.thread || "#333333"}
        onChange={(thread) => onChange({ thread })}
      />{" "}
      <Threads layer={layer} onChange={(thread) => onChange({ thread })} />
      {say.reaching}
      <Amount
        label={say.pullAllowanceOf(layer.name)}
        value={layer.pull_mm}
        {...limits.layer.pull_mm}
        step={0.05}
        onChange={(pull_mm) => onChange({ pull_mm: pull_mm ?? 0 })}
      />
      {say.furtherAgainstPull}
      {known && !layer.pull_mm && known.pull_mm > 0 && (
        <Button size="small" onClick={() => onChange({ pull_mm: known.pull_mm })}>
          {say.pullsMm(known.title, known.pull_mm)}
        </Button>
      )}
      :
    </Typography>
  );
}

/** A thread that the shop has on its Shelf, by its name. */
function Threads({ layer, onChange }: { layer: LayerWanted; onChange: (thread: string) => void }) {
  const threads = useQuery(queries.threads());
  const now = threads.data?.find((one) => one.colour.toLowerCase() === layer.thread.toLowerCase());
  if (!threads.data?.length) return null;
  return (
    <Choice
      label={say.threadOfByItsName(layer.name)}
      value={now?.title ?? ""}
      options={[
        ...(now ? [] : [["", say.itsOwnColour] as const]),
        ...threads.data.map((one) => [one.title, one.title] as const),
      ]}
      onChange={(title) => {
        const next = threads.data.find((one) => one.title === title);
        if (next) onChange(next.colour);
      }}
    />
  );
}

/** A name that is taken when the hand leaves it; an empty one is not. */
function Name({ value, onChange }: { value: string; onChange: (name: string) => void }) {
  const [text, setText] = useState<string | null>(null);
  const take = () => {
    const next = text?.trim();
    setText(null);
    if (next && next !== value) onChange(next);
  };
  return (
    <TextField
      variant="standard"
      value={text ?? value}
      onChange={(e) => setText(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => e.key === "Enter" && take()}
      slotProps={{
        htmlInput: { "aria-label": say.nameOf(value), maxLength: 60, style: { fontWeight: 700 } },
      }}
      sx={{ width: 110 }}
    />
  );
}

function Colour({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (colour: string) => void;
}) {
  return (
    <input
      type="color"
      aria-label={label}
      title={label}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      style={{ width: 26, height: 20, padding: 0, border: "1px solid #777", verticalAlign: "middle" }}
    />
  );
}
