/** The sheet before the cutter as it lies, the carriage over it, its marks; jogged by the arrow keys. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { usePointer, useScan, useTakeMark } from "../api/benchChanges";
import type { Bed, BedMark, Release } from "../api/client";
import { isRunning } from "../api/progress";
import { Stage } from "../stage/Stage";
import { useKeys } from "../ui/useKeys";
import { WorkProgress } from "../ui/WorkProgress";
import { Eye } from "./Eye";
import { HandOver } from "./HandOver";
import { carriageFor, expected, nextMark, useJog } from "./jog";
import { LoadForm } from "./LoadForm";
import { Code, FitFigures } from "./HowItLies";
import { Marks } from "./Marks";
import { Found, Head, Media, ROOM_MM } from "./OnBed";
import { PointerPart } from "./PointerPart";
import { TestCuts } from "./TestCuts";
import { TurnOver } from "../cut/TurnOver";

/** Keys that are heard wherever on the screen one is; on the stage they mean nothing else. */
const HEARD_EVERYWHERE = Object.fromEntries(
  ["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown", "Enter", "[", "]"].map((key) => [key, () => undefined]),
);
/** Whether Enter presses something already. */
const isPressed = () => ["BUTTON", "A"].includes(document.activeElement?.tagName ?? "");

interface Props {
  made: Release;
  bed: Bed;
  ready: boolean;
  onCut: () => void;
}

export function BedView({ made, bed, ready, onCut }: Props) {
  const [width = 1, length = 1] = made.sheet_mm;
  const marks = bed.aligned?.marks ?? [];
  const first = marks[0];
  const jog = useJog(first ? carriageFor(expected(first, []), bed) : [0, 0]);
  const [chosen, setChosen] = useState<number | null>(null);
  const [figures, setFigures] = useState<Record<string, string>>({});
  const [calibrates, setCalibrates] = useState(false);
  const runs = isRunning(bed.work);
  // what is cut only has no print under the pointer, and no mark to be brought to it
  const printed = made.makes !== "cut";
  const scan = useScan(made.id, bed.side);
  const take = useTakeMark(made.id, bed.side);
  const pointer = usePointer(made.id);
  const mark = marks.find((one) => one.number === chosen) ?? nextMark(marks);
  const jogTo = (one: BedMark) => {
    setCalibrates(false);
    setChosen(one.number);
    if (!one.place) jog.go(carriageFor(expected(one, marks), bed));
    else jog.go(carriageFor([one.place[0] ?? 0, one.place[1] ?? 0], bed));
  };
  const takeIt = () => {
    if (calibrates) {
      pointer.mutate(jog.at, { onSuccess: () => setCalibrates(false) });
      return;
    }
    if (!mark) return;
    const following = marks.find((one) => one.number !== mark.number && !one.place && one.how !== "left out");
    take.mutate(
      { number: mark.number, place: jog.at },
      {
        onSuccess: (now) => {
          const next = following && now.aligned?.marks.find((one) => one.number === following.number);
          setChosen(next?.number ?? null);
          if (next) jog.go(carriageFor(expected(next, now.aligned?.marks ?? []), now));
        },
      },
    );
  };
  useKeys((key) => {
    if (bed.loading === null || runs) return;
    if (key in jog.keys) jog.keys[key]?.();
    else if (key === "Enter" && !isPressed()) takeIt();
  });
  const failed = take.error ?? scan.error ?? pointer.error;
  const marksList = (
    <Marks
      bed={bed}
      chosen={mark?.number ?? null}
      onChoose={jogTo}
      onLeaveOut={(one) => take.mutate({ number: one.number, place: null })}
    />
  );
  const hand = (
    <Stack spacing={0.5}>
      <Typography variant="h2">{calibrates ? "Calibrate the pointer" : "By hand"}</Typography>
      <Eye bed={bed} at={jog.at} cross={calibrates} />
      <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
        <Button size="small" onClick={jog.finer} aria-label="finer steps">
          [
        </Button>
        <Typography variant="body2" data-testid="step">
          {jog.step} mm a press
        </Typography>
        <Button size="small" onClick={jog.coarser} aria-label="coarser steps">
          ]
        </Button>
        <Box sx={{ flex: 1 }} />
        <Typography variant="body2" data-testid="carriage">
          {jog.at[0].toFixed(2)}, {jog.at[1].toFixed(2)}
        </Typography>
      </Stack>
      <Typography variant="body2" color="text.secondary">
        {calibrates
          ? "A cross was cut in the leader. Bring the pointer to its middle."
          : "Arrow keys jog. Bring the cross onto the corner where the outer edges meet, or onto the middle of a filled mark."}
      </Typography>
      <Stack direction="row" spacing={1}>
        {(mark || calibrates) && (
          <Button variant={ready ? "outlined" : "contained"} onClick={takeIt} disabled={take.isPending}>
            {calibrates ? "The pointer is in the middle" : `Mark ${mark?.number} is here (Enter)`}
          </Button>
        )}
        {!calibrates && bed.camera && first && (
          <Button onClick={() => scan.mutate(jog.at)} disabled={scan.isPending}>
            Scan from here
          </Button>
        )}
      </Stack>
      <Failure of={failed} />
    </Stack>
  );
  return (
    <Stack direction="row" sx={{ flex: 1, minHeight: 0 }}>
      <Stage
        bounds={[-ROOM_MM, -ROOM_MM, width + ROOM_MM, length + ROOM_MM]}
        label="The bed. Arrows jog, [ and ] make the step finer and coarser, Enter takes the mark"
        moreKeys={bed.loading === null ? undefined : HEARD_EVERYWHERE}
      >
        {(view) => (
          <>
            <Media made={made} bed={bed} figures={figures} />
            {marks.map((one) => one.place && <Found key={one.number} mark={one} k={view.k} />)}
            {bed.loading !== null && (
              <Head at={[jog.at[0] + bed.pointer.x_mm, jog.at[1] + bed.pointer.y_mm]} k={view.k} />
            )}
          </>
        )}
      </Stage>
      <Stack
        spacing={1.5}
        component="aside"
        aria-label="at the cutter"
        sx={{ width: 380, flex: "none", overflowY: "auto", bgcolor: "background.paper", p: 2 }}
      >
        {bed.loading === null && <LoadForm bed={bed} />}
        {bed.loading === null && bed.side === "back" && <TurnOver />}
        {bed.loading !== null && runs && bed.work && <WorkProgress work={bed.work} />}
        {bed.loading !== null && !runs && (
          <>
            {ready && (
              <Button variant="contained" size="medium" onClick={onCut}>
                Cut it
              </Button>
            )}
            <Code bed={bed} />
            {!ready && !calibrates && marks.length > 0 && hand}
            {marksList}
            {!marks.length && (
              <Typography variant="body2">
                This sheet has no marks: it is cut from where its corner lies. Lay it exactly.
              </Typography>
            )}
            {bed.aligned?.fit && (
              <FitFigures
                fit={bed.aligned.fit}
                marks={marks.filter((mark) => mark.residual_mm !== null).length}
                printed={marks.length}
              />
            )}
            {printed && (ready || !marks.length || calibrates) && hand}
            <TestCuts
              made={made}
              bed={bed}
              onCut={(cut) => setFigures((all) => ({ ...all, [cut.role]: cut.path }))}
            />
            <HandOver made={made} bed={bed} />
            {printed && (
              <PointerPart
                bed={bed}
                calibrates={calibrates}
                onBegin={() => {
                  setCalibrates(true);
                  const [x = 0, y = 0] = bed.cross ?? [];
                  jog.go(carriageFor([x, y], bed));
                }}
                onLeave={() => setCalibrates(false)}
              />
            )}
            <LoadForm bed={bed} />
          </>
        )}
      </Stack>
    </Stack>
  );
}
