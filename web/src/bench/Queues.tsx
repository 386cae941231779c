/** Both queues beside the machines: what waits, runs, failed or was refused, and what is done lately. */
import { Stack, Typography } from "@mui/material";
import type { CutQueued, PrintQueued, Queues as Both, Release } from "../api/client";
import { moment } from "../ui/words";
import { Queue, type QueueRow } from "./Queue";
import type { Machine } from "./states";
import { useNow } from "./useNow";
import { bench as words } from "../texts/bench";
import { queues as say } from "../texts/queues";

interface Props {
  queues: Both;
  listed: Release[];
  chosen: Release | null;
  onChoose: (release: number, machine: Machine) => void;
}

const PRINTS_OVER: readonly string[] = ["done", "cancelled"];
const CUTS_OVER: readonly string[] = ["cut", "cancelled"];
const ON_CUTTER: readonly string[] = ["loaded", "cutting", "stopped"];

export function Queues({ queues, listed, chosen, onChoose }: Props) {
  const now = useNow(30_000);
  const prints = queues.rip.map((one) => ofPrint(one, listed));
  const cuts = queues.cutter.map((one) => ofCut(one, listed, now));
  const open = <T,>(rows: T[], over: (row: T) => boolean) => rows.filter((row) => !over(row));
  const printsOpen = atItFirst(open(prints, ([, over]) => over).map(([row]) => row));
  const cutsOpen = atItFirst(open(cuts, ([, over]) => over).map(([row]) => row));
  const cutOf = new Set(queues.cutter.map((one) => one.release_id));
  // what is printed goes on at the cutter; only what is not cut is done with its print
  const done = [
    ...cuts.filter(([, over]) => over).map(([row]) => row),
    ...prints.filter(([row, over]) => over && !cutOf.has(row.release)).map(([row]) => row),
  ].sort((a, b) => b.release - a.release);
  const isOpen = (release: number) => [...printsOpen, ...cutsOpen].some((row) => row.release === release);
  return (
    <Stack spacing={1.5}>
      {byMachine(printsOpen, say.atTheRip, queues.rip).map(([title, rows]) => (
        <Queue
          key={`rip ${title}`}
          which="rip"
          title={title}
          rows={rows}
          isChosen={(row) => row.release === chosen?.id}
          onChoose={(row) => onChoose(row.release, "rip")}
        />
      ))}
      {byMachine(cutsOpen, say.atTheCutter, queues.cutter).map(([title, rows]) => (
        <Queue
          key={`cutter ${title}`}
          which="cutter"
          title={title}
          rows={rows}
          isChosen={(row) => row.id === chosen?.sheet?.id}
          onChoose={(row) => onChoose(row.release, "cutter")}
        />
      ))}
      {done.length > 0 && (
        <Queue
          which="cutter"
          title={say.doneLately}
          rows={done}
          isChosen={(row) => row.release === chosen?.id && !isOpen(row.release)}
          onChoose={(row) => onChoose(row.release, "cutter")}
        />
      )}
    </Stack>
  );
}

/** A queue for each machine that anything waits for; one alone has no need of a name. */
function byMachine(
  rows: QueueRow[],
  title: string,
  known: (PrintQueued | CutQueued)[],
): [string, QueueRow[]][] {
  const machines = new Map(known.map((one) => [one.machine, one.machine_title]));
  const waiting = [...machines].filter(([id]) => rows.some((row) => row.machine === id));
  if (machines.size < 2 || !waiting.length) return [[title, rows]];
  return waiting.map(([id, name]) => [say.of(title, name), rows.filter((row) => row.machine === id)]);
}

/** What is at the machine, or was refused there, before what waits for it. */
const atItFirst = (rows: QueueRow[]) => [
  ...rows.filter((row) => !row.moves),
  ...rows.filter((row) => row.moves),
];

const turnOf = (one: { turn: number | null; held: boolean }) =>
  one.held ? say.held : one.turn === 1 ? say.next : one.turn ? String(one.turn) : "";

function named(one: PrintQueued | CutQueued, listed: Release[]): string {
  const made = listed.find((release) => release.id === one.release_id);
  const shared = made && made.shared_id !== null ? words.andOthers(one.name) : one.name;
  const sheet = one.sheets_in_all > 1 ? words.sheetOf(one.sheet_number, one.sheets_in_all) : "";
  const repeat = "repeats" in one && one.repeats > 1 ? say.repeatOf(one.repeat, one.repeats) : "";
  return shared + sheet + repeat;
}

const STAGES: Record<PrintQueued["stage"], string> = {
  waiting: say.waitsForItsTurn,
  printing: say.printing,
  done: say.printed,
  refused: say.refusedByTheRip,
  failed: say.printFailed,
  cancelled: say.cancelled,
};

function ofPrint(one: PrintQueued, listed: Release[]): [QueueRow, boolean] {
  const bad = one.stage === "refused" || one.stage === "failed";
  const over = PRINTS_OVER.includes(one.stage);
  return [
    {
      id: one.release_id,
      release: one.release_id,
      machine: one.machine,
      name: named(one, listed),
      says: (
        <>
          {words.package(one.release_id)}: {STAGES[one.stage]}
          {bad && <Typography variant="body2">{one.why}</Typography>}
        </>
      ),
      turn: one.stage === "printing" ? say.now : turnOf(one),
      moves: one.stage === "waiting",
      bad,
    },
    over,
  ];
}

/** Where a sheet stands on its way, in words; the time that is left counts down. */
export function cutWords(one: CutQueued, now: number): string {
  const cut = one.cut.length;
  if (one.refused && !CUTS_OVER.includes(one.stage)) return say.cannotFollow;
  switch (one.stage) {
    case "cut":
      return one.spoilt.length ? say.cutWithSpoilt(one.spoilt.length) : say.isCut;
    case "cancelled":
      return say.cancelled;
    case "loaded":
      return say.lies;
    case "cutting":
      return say.cutting;
    case "stopped":
      return say.stopped(cut, one.pieces);
    case "half-cut":
      return say.halfCut(cut, one.pieces);
  }
  if (one.waits_for === "print") return say.waitsForItsPrint;
  if (one.waits_for === "laminating") return say.toBeLaminated;
  if (one.waits_for === "drying" && one.ready_at)
    return say.driesUntil(moment(one.ready_at), say.left((Date.parse(one.ready_at) - now) / 60_000));
  return say.ready;
}

function ofCut(one: CutQueued, listed: Release[], now: number): [QueueRow, boolean] {
  const over = CUTS_OVER.includes(one.stage);
  const lies = ON_CUTTER.includes(one.stage);
  return [
    {
      id: one.sheet_id,
      release: one.release_id,
      machine: one.machine,
      name: named(one, listed),
      says: (
        <>
          {words.package(one.release_id)}: {cutWords(one, now)}
        </>
      ),
      turn: over ? "" : lies && !one.held ? say.now : turnOf(one),
      moves: !over && !lies,
      bad: Boolean(one.refused) && !over,
    },
    over,
  ];
}
