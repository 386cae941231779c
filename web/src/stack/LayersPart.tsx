/** The layers of a stack from the top down, what they are made of, and the frame round them. */
import { limits } from "../ui/limits";
import { Button, Typography } from "@mui/material";
import type { Drawn, Job, LayerWanted, StackShown, StackWanted } from "../api/client";
import { Amount, Choice } from "../ui/fields";
import { lookOf } from "../ui/roles";
import { LayerCard } from "./LayerCard";
import { changed, freeName, layer, MOST_LAYERS, movedBy, without } from "./wanted";
import { stack as say } from "../texts/stack";

/** What a stack of a job can be made of: its art, and every role of which it has a line. */
function outlinesOf(job: Job, now: StackWanted["outline"]): [StackWanted["outline"], string][] {
  const roles = new Set((job.seen?.lines ?? []).map((line) => line.role).filter((role) => role !== null));
  if (now !== "auto" && now !== "art") roles.add(now);
  return [
    ["auto", say.theKissCutElseThe],
    ["art", say.theOutlineOfTheArt],
    ...[...roles].map((role): [StackWanted["outline"], string] => [
      role as StackWanted["outline"],
      say.the(lookOf(role).words),
    ]),
  ];
}

/** The layers from the top down, and what holds for all of them. */
export function LayersPart({
  job,
  stack,
  shown,
  drawn,
  alone,
  onAlone,
  onStack,
  onLayers,
  onAway,
}: {
  job: Job;
  stack: StackWanted;
  shown: StackShown | null;
  drawn: Drawn[];
  alone: number | null;
  onAlone: (layer: number | null) => void;
  onStack: (stack: StackWanted) => void;
  onLayers: (layers: LayerWanted[]) => void;
  onAway: () => void;
}) {
  const { layers } = stack;
  const outlines = outlinesOf(job, stack.outline);
  return (
    <>
      <Typography variant="sentence">
        {say.madeOf}
        <Choice
          label={say.whatTheStackIsMade}
          value={stack.outline}
          options={outlines}
          onChange={(outline) => onStack({ ...stack, outline })}
        />
        {say.weedingFrame}
        <Amount
          label={say.weedingFrameFromTheLowest}
          value={stack.frame_mm ?? undefined}
          shipped={say.none}
          {...limits.stack.frame_mm}
          step={1}
          onChange={(frame) => onStack({ ...stack, frame_mm: frame ?? null })}
        />
        {say.outsideAll}
        {shown?.why && (
          <Typography variant="body2" color="text.secondary">
            {shown.why}
          </Typography>
        )}
      </Typography>
      {layers.map((one, i) => (
        <LayerCard
          key={i}
          layer={one}
          made={shown?.layers[i] ?? null}
          number={i}
          count={layers.length}
          fabrics={shown?.fabrics ?? []}
          drawn={drawn}
          chosen={alone === i}
          onChoose={() => onAlone(alone === i ? null : i)}
          onChange={(next) => onLayers(changed(layers, i, next))}
          onMove={(by) => onLayers(movedBy(layers, i, by))}
          onRemove={() => {
            onAlone(null);
            onLayers(without(layers, i));
          }}
        />
      ))}
      {layers.length < MOST_LAYERS && (
        <Button
          variant="outlined"
          onClick={() => onLayers([...layers, layer(freeName(layers), { offset_mm: 3 })])}
        >
          {say.addALayerBelow}
        </Button>
      )}
      <Button onClick={onAway}>{say.takeTheStackAway}</Button>
    </>
  );
}
