/** The sheet before the cutter as it lies, the carriage over it, its marks; jogged by the arrow keys. */
import { Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { Bed, Release } from "../api/client";
import { isRunning } from "../api/progress";
import { Stage } from "../stage/Stage";
import { WorkProgress } from "../ui/WorkProgress";
import { ByHand } from "./ByHand";
import { HandOver } from "./HandOver";
import { LoadForm } from "./LoadForm";
import { Code, FitFigures } from "./HowItLies";
import { Marks } from "./Marks";
import { Found, Head, Media, ROOM_MM, lyingSize } from "./OnBed";
import { PointerPart } from "./PointerPart";
import { TestCuts } from "./TestCuts";
import { TurnOver } from "../cut/TurnOver";
import { useTaking, type Taking } from "./useTaking";
import { bench as say } from "../texts/bench";

/** Keys that are heard wherever on the screen one is; on the stage they mean nothing else. */
const HEARD_EVERYWHERE = Object.fromEntries(
  ["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown", "Enter", "[", "]"].map((key) => [key, () => undefined]),
);

interface Props {
  made: Release;
  bed: Bed;
  ready: boolean;
  onCut: () => void;
}

export function BedView({ made, bed, ready, onCut }: Props) {
  const [width = 1, length = 1] = lyingSize(made);
  const [figures, setFigures] = useState<Record<string, string>>({});
  const taking = useTaking(made, bed);
  const { jog } = taking;
  const isLoaded = bed.loading !== null;
  return (
    <Stack direction="row" sx={{ flex: 1, minHeight: 0 }}>
      <Stage
        bounds={[-ROOM_MM, -ROOM_MM, width + ROOM_MM, length + ROOM_MM]}
        label={say.theBedArrowsJogAnd}
        moreKeys={isLoaded ? HEARD_EVERYWHERE : undefined}
      >
        {(view) => (
          <>
            <Media made={made} bed={bed} figures={figures} />
            {taking.marks.map((one) => one.place && <Found key={one.number} mark={one} k={view.k} />)}
            {isLoaded && (
              <Head at={[jog.at[0] + bed.pointer.x_mm, jog.at[1] + bed.pointer.y_mm]} k={view.k} />
            )}
          </>
        )}
      </Stage>
      <Stack
        spacing={1.5}
        component="aside"
        aria-label={say.atTheCutter}
        sx={{ width: 380, flex: "none", overflowY: "auto", bgcolor: "background.paper", p: 2 }}
      >
        {!isLoaded && <LoadForm bed={bed} />}
        {!isLoaded && bed.side === "back" && <TurnOver />}
        {isLoaded && isRunning(bed.work) && bed.work && <WorkProgress work={bed.work} />}
        {isLoaded && !isRunning(bed.work) && (
          <Loaded
            made={made}
            bed={bed}
            ready={ready}
            onCut={onCut}
            taking={taking}
            onFigure={(role, path) => setFigures((all) => ({ ...all, [role]: path }))}
          />
        )}
      </Stack>
    </Stack>
  );
}

interface LoadedProps extends Props {
  taking: Taking;
  /** Hears of the figure of a test cut. */
  onFigure: (role: string, path: string) => void;
}

/** What is to be done with a sheet that lies before the cutter. */
function Loaded({ made, bed, ready, onCut, taking, onFigure }: LoadedProps) {
  const { marks, calibrates } = taking;
  // what is cut only has no print under the pointer, and no mark to be brought to it
  const printed = made.makes !== "cut";
  const hand = <ByHand bed={bed} taking={taking} ready={ready} />;
  return (
    <>
      {ready && (
        <Button variant="contained" size="medium" onClick={onCut}>
          {say.cutIt}
        </Button>
      )}
      <Code bed={bed} />
      {!ready && !calibrates && marks.length > 0 && hand}
      <Marks
        bed={bed}
        chosen={taking.mark?.number ?? null}
        onChoose={taking.jogTo}
        onLeaveOut={taking.leaveOut}
      />
      {!marks.length && <Typography variant="body2">{say.thisSheetHasNoMarks}</Typography>}
      {bed.aligned?.fit && (
        <FitFigures
          fit={bed.aligned.fit}
          marks={marks.filter((mark) => mark.residual_mm !== null).length}
          printed={marks.length}
        />
      )}
      {printed && (ready || !marks.length || calibrates) && hand}
      <TestCuts made={made} bed={bed} onCut={(cut) => onFigure(cut.role, cut.path)} />
      <HandOver made={made} bed={bed} />
      {printed && (
        <PointerPart
          bed={bed}
          calibrates={calibrates}
          onBegin={taking.beginCalibrating}
          onLeave={taking.leaveCalibrating}
        />
      )}
      <LoadForm bed={bed} />
    </>
  );
}
