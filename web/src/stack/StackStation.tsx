/** Stack: layers of fabric made of the outline, cut one on the other, sewn down; on the stage as they will lie. */
import {
  Alert,
  Button,
  LinearProgress,
  Stack,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import type { Job, LayerWanted, StackShown, StackWanted } from "../api/client";
import { useBusy } from "../api/progress";
import { stackQueries, useKeepStack, useWriteStack } from "../api/stacks";
import type { Point } from "../stage/geometry";
import { Docket } from "../ui/Docket";
import { ArtStage } from "../job/ArtStage";
import { Amount, Choice } from "../ui/fields";
import { CutPart } from "./CutPart";
import { LayerCard } from "./LayerCard";
import { SewPart } from "./SewPart";
import { StackSection } from "./StackSection";
import { StackStage } from "./StackStage";
import { useStack } from "./useStack";
import { BEGINNINGS, changed, freeName, inOrder, layer, MOST_LAYERS, movedBy, without } from "./wanted";

type Part = "layers" | "cut" | "sew";

export function StackStation({ job }: { job: Job }) {
  const held = useStack(job);
  const { stack } = held;
  const shown = useQuery(stackQueries.shown(job, stack));
  const [part, setPart] = useState<Part>("layers");
  const [alone, setAlone] = useState<number | null>(null);
  const [stitches, setStitches] = useState(true);
  const [sewn, setSewn] = useState<number | null>(null);
  const [line, setLine] = useState<[Point, Point] | null>(null);
  const keep = useKeepStack(job.id);
  const made = stack && shown.data && !shown.data.refused ? shown.data : null;
  const change = (next: StackWanted) => {
    setSewn(null);
    held.change(next);
  };
  const layers = (next: LayerWanted[]) => stack && change({ ...stack, layers: inOrder(next) });
  return (
    <>
      <Stack sx={{ flex: 1, minWidth: 0, minHeight: 0 }}>
        {!stack ? (
          <ArtStage job={job} />
        ) : (
          <StackStage
            shown={made}
            alone={alone}
            onAlone={setAlone}
            stitches={stitches}
            onStitches={setStitches}
            sewn={part === "sew" ? sewn : null}
            onSection={setLine}
          />
        )}
        {line && stack && <StackSection job={job} stack={stack} line={line} onClose={() => setLine(null)} />}
      </Stack>
      <Docket title="Stack of fabric">
        {!stack ? (
          <Begin job={job} onBegin={held.begin} />
        ) : (
          <>
            <Saving job={job} stack={stack} held={held} made={made} />
            <Untested stack={stack} onTest={() => setPart("cut")} />
            <ToggleButtonGroup
              size="small"
              exclusive
              fullWidth
              value={part}
              onChange={(_, next: Part | null) => next && setPart(next)}
              aria-label="part of the stack"
            >
              <ToggleButton value="layers">Layers</ToggleButton>
              <ToggleButton value="cut">Cut</ToggleButton>
              <ToggleButton value="sew">Sew</ToggleButton>
            </ToggleButtonGroup>
            {shown.isFetching && <LinearProgress aria-label="making the stack" />}
            {shown.isError && <Alert severity="error">{shown.error.message}</Alert>}
            {shown.data?.refused && <Alert severity="error">{shown.data.refused}</Alert>}
            {made?.said.map((said) => (
              <Alert key={said} severity="warning">
                {said}
              </Alert>
            ))}
            {part === "layers" && (
              <Layers
                stack={stack}
                shown={shown.data ?? null}
                alone={alone}
                onAlone={setAlone}
                onStack={change}
                onLayers={layers}
                onAway={() => {
                  if (job.stack) keep.mutate(null);
                  setAlone(null);
                  setLine(null);
                  held.leave();
                }}
              />
            )}
            {part === "cut" && made && (
              <CutPart
                job={job}
                stack={stack}
                shown={made}
                onForce={(number, force_gf) => layers(changed(stack.layers, number, { force_gf }))}
              />
            )}
            {part === "sew" && made && (
              <SewPart
                stack={stack}
                shown={made}
                sewn={sewn}
                onSewn={setSewn}
                onFormats={(formats) => held.change({ ...stack, formats })}
              />
            )}
          </>
        )}
      </Docket>
    </>
  );
}

/** Nothing yet: what a stack is, and stacks to begin with. */
function Begin({ job, onBegin }: { job: Job; onBegin: (stack: StackWanted) => void }) {
  return (
    <>
      <Typography variant="body2">
        Layers of fabric, each a little larger than the one above, cut one on the other without moving the
        sheet, then sewn down. They are made of the kiss cut, else of the outline of the art.
      </Typography>
      {!job.seen && <Typography color="text.secondary">The file is still being looked at.</Typography>}
      {BEGINNINGS.map(([title, about, stack]) => (
        <Button
          key={title}
          variant="outlined"
          disabled={!job.seen}
          onClick={() => onBegin(stack)}
          sx={{ justifyContent: "flex-start", textAlign: "left" }}
        >
          <span>
            <b>{title}</b>: {about}
          </span>
        </Button>
      ))}
    </>
  );
}

/** What is kept, and the one press that writes the files. */
function Saving({
  job,
  stack,
  held,
  made,
}: {
  job: Job;
  stack: StackWanted;
  held: ReturnType<typeof useStack>;
  made: StackShown | null;
}) {
  const keep = useKeepStack(job.id);
  const write = useWriteStack(job.id);
  const busy = useBusy(job);
  const current = held.isKept ? job.stacks.find((one) => one.current) : undefined;
  const both = async () => {
    if (!held.isKept) await keep.mutateAsync(stack);
    write.mutate();
  };
  const fault = keep.error ?? write.error;
  return (
    <Stack spacing={1}>
      <Stack direction="row" spacing={1} useFlexGap sx={{ flexWrap: "wrap", alignItems: "center" }}>
        {current ? (
          <Button
            variant="contained"
            component={Link}
            to={`/bench?stack=${current.id}`}
            aria-label="Go to the bench with the stack"
          >
            Go to the bench
          </Button>
        ) : (
          <Button
            variant="contained"
            disabled={busy || !made || keep.isPending || write.isPending}
            onClick={() => void both()}
          >
            Write the files
          </Button>
        )}
        {!held.isKept && (
          <Button disabled={keep.isPending || !made} onClick={() => keep.mutate(stack)}>
            Keep it
          </Button>
        )}
        <Button disabled={!held.canUndo} onClick={held.undo}>
          Undo
        </Button>
        <Button disabled={!held.canRedo} onClick={held.redo}>
          Redo
        </Button>
      </Stack>
      {fault && <Alert severity="error">{fault.message}</Alert>}
      {current && (
        <Typography variant="body2" component="div">
          Written: at most {current.worst_off_mm.toFixed(3)} mm from what was meant.{" "}
          {current.files.map((file) => (
            <span key={file.name}>
              <a href={`/api/stacks/${current.id}/files/${encodeURIComponent(file.name)}`}>
                {file.name}
              </a>{" "}
            </span>
          ))}
        </Typography>
      )}
    </Stack>
  );
}

/** Which fabrics nobody has cut a figure in yet: their force is only worked out. */
function Untested({ stack, onTest }: { stack: StackWanted; onTest: () => void }) {
  const left = stack.layers.filter((one) => one.force_gf === null).map((one) => one.name);
  if (!left.length) return null;
  return (
    <Typography variant="body2" color="text.secondary">
      Not test-cut yet: {left.join(", ")}. <Button onClick={onTest}>Test cut…</Button>
    </Typography>
  );
}

/** The layers from the top down, and what holds for all of them. */
function Layers({
  stack,
  shown,
  alone,
  onAlone,
  onStack,
  onLayers,
  onAway,
}: {
  stack: StackWanted;
  shown: StackShown | null;
  alone: number | null;
  onAlone: (layer: number | null) => void;
  onStack: (stack: StackWanted) => void;
  onLayers: (layers: LayerWanted[]) => void;
  onAway: () => void;
}) {
  const { layers } = stack;
  return (
    <>
      <Typography variant="body2" component="div" sx={{ lineHeight: 2 }}>
        Made of{" "}
        <Choice
          label="what the stack is made of"
          value={stack.outline}
          options={[
            ["auto", "the kiss cut, else the art"],
            ["kiss-cut", "the kiss cut"],
            ["through-cut", "the through cut"],
            ["art", "the outline of the art"],
          ]}
          onChange={(outline) => onStack({ ...stack, outline })}
        />
        . Weeding frame{" "}
        <Amount
          label="weeding frame, from the lowest layer"
          value={stack.frame_mm ?? undefined}
          shipped="none"
          least={1}
          most={200}
          step={1}
          onChange={(frame) => onStack({ ...stack, frame_mm: frame ?? null })}
        />{" "}
        outside all.
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
          Add a layer below
        </Button>
      )}
      <Button onClick={onAway}>Take the stack away</Button>
    </>
  );
}
