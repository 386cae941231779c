/** A run of the cutter in time: what is cut by then, where the tool is, and where it waits for a person. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { useBegin, useStood } from "../api/benchChanges";
import type { Bed, Playback, Release } from "../api/client";
import { queries } from "../api/queries";

/** How many times as fast as the machine. */
export const RATE = 20;
const TICK_S = 0.05;
/** Less than that of a cut is none. */
const LEAST_S = 0.1;
const NO_STOPS: Playback["stops"] = [];
export type Move = Playback["moves"][number];
export const dOf = (points: number[][]) => points.map(([x, y], i) => `${i ? "L" : "M"}${x} ${y}`).join("");

/** The part of a stroke that is cut at a share of its time. */
export function cutSoFar(move: Move, time: number): number[][] {
  const share = Math.min(1, Math.max(0, (time - move.start_s) / (move.end_s - move.start_s || 1)));
  const lengths = move.points
    .slice(1)
    .map(([x = 0, y = 0], i) => Math.hypot(x - (move.points[i]?.[0] ?? 0), y - (move.points[i]?.[1] ?? 0)));
  let left = share * lengths.reduce((a, b) => a + b, 0);
  const out = move.points.slice(0, 1);
  for (let i = 0; i < lengths.length && left > 0; i++) {
    const [ax = 0, ay = 0] = move.points[i] ?? [];
    const [bx = 0, by = 0] = move.points[i + 1] ?? [];
    const t = Math.min(1, left / (lengths[i] || 1));
    out.push([ax + (bx - ax) * t, ay + (by - ay) * t]);
    left -= lengths[i] ?? 0;
  }
  return out;
}

/** The stop that a run has come to: a person is needed, and nobody has said yet that it is done. */
export const haltAt = (stops: Playback["stops"], time: number, done: number) =>
  stops.find((stop) => stop.words && stop.before > done && time >= stop.at_s);

/** The last stop that lies before a time: who goes there by the slider has passed it. */
export const lastBefore = (stops: Playback["stops"], time: number) =>
  stops.filter((stop) => stop.at_s < time).at(-1)?.before ?? 0;

export function usePlaying(made: Release, bed: Bed) {
  const play = useQuery(queries.playback(made.id, bed.side, bed));
  const keep = useStood(made.id, bed.side);
  const begin = useBegin(made.id, bed.side);
  const [time, setTime] = useState(bed.stood_s);
  const [runs, setRuns] = useState(false);
  /** Whether the cut was begun, or went on, here. */
  const [mine, setMine] = useState(false);
  const [passed, setPassed] = useState<number | null>(null);
  const total = play.data?.total_s ?? 0;
  const stops = play.data?.stops ?? NO_STOPS;
  // what was stopped goes on where it stood: behind the stops that it had passed
  const done = passed ?? lastBefore(stops, bed.stood_s);
  const stage = made.sheet?.stage;
  const over = made.sheet === null || stage === "cut" || made.cut.includes(bed.side);
  // who only looks ahead by the slider is stopped by nothing
  const halt = runs || mine || stage === "stopped" ? haltAt(stops, time, done) : undefined;
  const goes = runs && !halt && time < total;
  useEffect(() => {
    if (!goes) return;
    const tick = () =>
      setTime((now) => {
        const next = Math.min(total, now + RATE * TICK_S);
        const stop = haltAt(stops, next, done);
        return stop ? stop.at_s : next;
      });
    const timer = setInterval(tick, 1000 * TICK_S);
    return () => clearInterval(timer);
  }, [goes, total, stops, done]);
  const unsure = made.sheet?.unsure ?? false;
  const elsewhere = stage === "cutting" && !mine && !over;
  const ended = total > 0 && time >= total;
  const keepNow = keep.mutate;
  const cuts = mine && !over;
  useEffect(() => {
    // by this the back is known to be cut behind the front
    if (ended && cuts) keepNow(total);
  }, [ended, cuts, keepNow, total]);
  const haltsAt = halt?.at_s;
  useEffect(() => {
    if (haltsAt !== undefined && cuts) keepNow(Math.max(haltsAt, LEAST_S));
  }, [haltsAt, cuts, keepNow]);
  const stands = useRef({ goes, time });
  useEffect(() => {
    stands.current = { goes: goes && cuts, time };
  });
  const goOn = (then?: () => void) => {
    const go = () => {
      setRuns(true);
      then?.();
    };
    if (over) return go(); // it is cut: only shown again
    begin.mutate(undefined, {
      onSuccess: () => {
        if (!mine) {
          // it begins where it stands, wherever somebody has looked
          setTime(bed.stood_s);
          setPassed(lastBefore(stops, bed.stood_s));
        }
        setMine(true);
        go();
      },
    });
  };
  // who goes elsewhere stops the machine: how far it has come is kept
  useEffect(
    () => () => {
      if (stands.current.goes) keepNow(stands.current.time);
    },
    [keepNow],
  );
  return {
    play,
    refused: begin.error ?? keep.error,
    unsure,
    /** It is being cut, and nobody here has begun that. */
    elsewhere,
    time,
    halt,
    goes,
    /** It is cut to its end, and that is kept. */
    ended: ended && (over || (keep.isSuccess && keep.variables === total)),
    /** Something of it is cut. */
    begun: mine || bed.stood_s > 0,
    /** It is cut, and only shown. */
    over,
    /** Begins, goes on, or stops. */
    press: () => {
      if (time >= total) {
        setTime(0);
        setPassed(0);
      }
      if (unsure || elsewhere) keepNow(Math.max(time, LEAST_S));
      else if (goes) {
        setRuns(false);
        if (cuts) keepNow(time);
      } else goOn();
    },
    /** What was asked for is on its way: nothing else is asked until it is known. */
    busy: keep.isPending || begin.isPending,
    /**
     * Goes to a time. Who only looks goes anywhere; a cut that has begun is let run ahead, never back, and waits at the
     * next stop like the machine.
     */
    goTo: (next: number) => {
      const begun = cuts || (stage === "stopped" && !over && !unsure);
      const least = begun ? time : unsure || elsewhere ? bed.stood_s : 0;
      const to = Math.max(next, least);
      const at = (begun ? haltAt(stops, to, done)?.at_s : undefined) ?? to;
      setTime(at);
      setPassed(Math.max(begun ? done : 0, lastBefore(stops, at)));
    },
    /** What a stop waited for is done. */
    pass: (stop: Playback["stops"][number]) =>
      goOn(() => {
        setPassed(stop.before);
        setTime(stop.at_s + stop.time_s);
      }),
  };
}

export type Playing = ReturnType<typeof usePlaying>;

/** What is cut by a time, by operation, and what the tool is at. */
export function useCut(moves: Move[], operations: number, time: number) {
  const cut = useMemo(() => moves.filter((move) => move.end_s <= time), [moves, time]);
  const paths = useMemo(() => {
    const of = (i: number) => cut.filter((move) => move.operation === i).map((move) => dOf(move.points));
    return Array.from({ length: operations }, (_, i) => of(i).join(""));
  }, [cut, operations]);
  const now = moves.find((move) => move.start_s <= time && time < move.end_s);
  return {
    cut,
    paths,
    now,
    at: now ?? moves.find((move) => move.start_s > time) ?? moves.at(-1),
    head: now ? cutSoFar(now, time).at(-1) : cut.at(-1)?.points.at(-1),
  };
}
