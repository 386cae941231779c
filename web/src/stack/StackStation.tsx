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
import { Failure } from "../help/Failure";
import type { Drawn, Job, LayerWanted, StackWanted } from "../api/client";
import { stackQueries, useKeepStack } from "../api/stacks";
import { ArtStage } from "../job/ArtStage";
import type { Point } from "../stage/geometry";
import { Docket } from "../ui/Docket";
import { CutPart } from "./CutPart";
import { LayersPart } from "./LayersPart";
import { Saving, Untested } from "./Saving";
import { SewPart } from "./SewPart";
import { StackSection } from "./StackSection";
import { StackStage } from "./StackStage";
import { useStack } from "./useStack";
import { BEGINNINGS, BY_WORDS, calledAs, changed, inOrder, kindsDrawn, stackDrawn } from "./wanted";
import { common } from "../texts/common";
import { stack as say } from "../texts/stack";

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
  const drawn = useQuery(stackQueries.drawn(job));
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
      <Docket title={say.stackOfFabric}>
        {!stack ? (
          <>
            <Failure of={keep.error} />
            <Begin job={job} drawn={drawn.data ?? []} onBegin={held.begin} />
          </>
        ) : (
          <>
            <Saving job={job} stack={stack} held={held} keep={keep} made={made} />
            <Untested stack={stack} onTest={() => setPart("cut")} />
            <ToggleButtonGroup
              size="small"
              exclusive
              fullWidth
              value={part}
              onChange={(_, next: Part | null) => next && setPart(next)}
              aria-label={say.partOfTheStack}
            >
              <ToggleButton value="layers">{say.layers}</ToggleButton>
              <ToggleButton value="cut">{common.cut}</ToggleButton>
              <ToggleButton value="sew">{say.sew}</ToggleButton>
            </ToggleButtonGroup>
            {shown.isFetching && <LinearProgress aria-label={say.makingTheStack} />}
            <Failure of={shown.error} />
            {shown.data?.refused && <Alert severity="error">{shown.data.refused}</Alert>}
            {made?.said.map((said) => (
              <Alert key={said} severity="warning">
                {said}
              </Alert>
            ))}
            {part === "layers" && (
              <LayersPart
                job={job}
                stack={stack}
                shown={shown.data ?? null}
                drawn={drawn.data ?? []}
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
                onForce={(number, force_gf, passed) =>
                  layers(changed(stack.layers, number, { force_gf, passed }))
                }
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
function Begin({ job, drawn, onBegin }: { job: Job; drawn: Drawn[]; onBegin: (stack: StackWanted) => void }) {
  return (
    <>
      <Typography variant="body2">{say.layersOfFabricEachA}</Typography>
      {!job.seen && <Typography color="text.secondary">{say.theFileIsStillBeing}</Typography>}
      {kindsDrawn(drawn).map((kind) => (
        <Button
          key={kind.by}
          variant="contained"
          onClick={() => onBegin(stackDrawn(kind))}
          sx={{ justifyContent: "flex-start", textAlign: "left" }}
        >
          <span>
            <b>{say.asItIsDrawn}</b>
            {say.by}
            {BY_WORDS[kind.by]}
            {say.theFirstOnTop(kind.drawn.map(calledAs).join(", "))}
          </span>
        </Button>
      ))}
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
