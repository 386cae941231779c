/** Marks taken by hand: which is looked for, where the carriage is, and what a press says of it. */
import { useState } from "react";
import { usePointer, useScan, useTakeMark } from "../api/benchChanges";
import type { Bed, BedMark, Release } from "../api/client";
import { isRunning } from "../api/progress";
import { useKeys } from "../ui/useKeys";
import { carriageFor, expected, nextMark, useJog } from "./jog";

const NO_MARKS: BedMark[] = [];
/** Whether Enter presses something already. */
const isPressed = () => ["BUTTON", "A"].includes(document.activeElement?.tagName ?? "");

export function useTaking(made: Release, bed: Bed) {
  const marks = bed.aligned?.marks ?? NO_MARKS;
  const first = marks[0];
  const jog = useJog(first ? carriageFor(expected(first, []), bed) : [0, 0]);
  const [chosen, setChosen] = useState<number | null>(null);
  const [calibrates, setCalibrates] = useState(false);
  const scan = useScan(made.id, bed.side);
  const take = useTakeMark(made.id, bed.side);
  const pointer = usePointer(made.id);
  const mark = marks.find((one) => one.number === chosen) ?? nextMark(marks);

  const jogTo = (one: BedMark) => {
    setCalibrates(false);
    setChosen(one.number);
    const [x, y] = one.place ?? expected(one, marks);
    jog.go(carriageFor([x ?? 0, y ?? 0], bed));
  };
  const takeIt = () => {
    if (calibrates) return pointer.mutate(jog.at, { onSuccess: () => setCalibrates(false) });
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
    if (bed.loading === null || isRunning(bed.work)) return;
    if (key in jog.keys) jog.keys[key]?.();
    else if (key === "Enter" && !isPressed()) takeIt();
  });
  return {
    marks,
    mark,
    jog,
    calibrates,
    jogTo,
    takeIt,
    isTaking: take.isPending,
    leaveOut: (one: BedMark) => take.mutate({ number: one.number, place: null }),
    /** Looks for all marks from where the carriage is; null where no camera does. */
    scan: bed.camera && first ? () => scan.mutate(jog.at) : null,
    isScanning: scan.isPending,
    beginCalibrating: () => {
      setCalibrates(true);
      const [x = 0, y = 0] = bed.cross ?? [];
      jog.go(carriageFor([x, y], bed));
    },
    leaveCalibrating: () => setCalibrates(false),
    error: take.error ?? scan.error ?? pointer.error,
  };
}

export type Taking = ReturnType<typeof useTaking>;
