/** What a form says of a layout. What is set takes effect by itself, one change behind the other, and can be undone. */
import { useEffect, useRef, useState } from "react";
import type { Marks } from "./MarksPart";
import type { Layout, Media } from "../api/client";
import type { LayoutChange, Target } from "./target";

export type Fill = Layout["fill"];
export type Makes = Layout["makes"];

export interface Form {
  columns: string;
  gap: number | null;
  turned: string;
  longest: number | undefined;
  fill: Fill;
  media: Media | null;
  marks: Marks;
  code: boolean;
  mirror: boolean | null;
  makes: Makes;
  inks: Layout["inks"];
  frame: number | undefined;
}

/** How long a hand that types is waited for. */
const STILL_MS = 400;

export const isPlaced = (target: Pick<Target, "layout">) => target.layout.placed.length > 0;

/** What was said of the marks; the rest is the cutter's own. */
const saidOf = (marks: Layout["marks"]) =>
  Object.fromEntries(Object.entries(marks).filter(([, value]) => value !== null)) as Marks;

const formOf = (layout: Layout): Form => ({
  columns: String(layout.columns ?? ""),
  gap: layout.gap_mm,
  turned: layout.turned === null ? "auto" : String(layout.turned),
  longest: layout.length_mm ?? undefined,
  fill: layout.fill,
  media: layout.media,
  marks: saidOf(layout.marks),
  code: layout.code,
  mirror: layout.mirror,
  makes: layout.makes,
  inks: layout.inks,
  frame: layout.frame_mm ?? undefined,
});

const changeOf = (form: Form, placed: boolean): LayoutChange => ({
  ...(placed
    ? {}
    : {
        columns: form.columns ? Number(form.columns) : null,
        gap_mm: form.gap,
        turned: form.turned === "auto" ? null : form.turned === "true",
      }),
  length_mm: form.longest ?? null,
  fill: form.fill,
  media: form.media,
  marks: { kind: "bracket-in", around: "art", ...form.marks },
  code: form.code,
  mirror: form.mirror,
  makes: form.makes,
  inks: form.inks,
  frame_mm: form.makes === "cut" ? (form.frame ?? null) : null,
});

/** A length is to be filled, and nobody has said which. */
const asksFor = (form: Form) => form.fill === "length" && form.longest === undefined;
const isWrong = (form: Form) => Number.isNaN(form.gap) || asksFor(form) || form.columns === "0";

export function useForm(target: Target) {
  const key = JSON.stringify(target.layout);
  const [form, setForm] = useState(() => formOf(target.layout));
  const [taken, setTaken] = useState({ key, form });
  const [past, setPast] = useState<Form[]>([]);
  /** What a hand has set and nobody has answered yet; whether it was refused. */
  const [waiting, setWaiting] = useState<{ form: Form; step: boolean; refused?: boolean } | null>(null);
  if (key !== taken.key) {
    const now = formOf(target.layout);
    setTaken({ key, form: now });
    if (!waiting) setForm(now);
  }
  const placed = isPlaced(target);
  const wrong = isWrong(form);
  const { isPending, run } = target.change;
  const send = waiting !== null && !waiting.refused && !wrong && !isPending;
  // What was set just before somebody goes elsewhere takes effect all the same.
  const left = useRef<(() => void) | null>(null);
  const sent = useRef<typeof waiting>(null);
  useEffect(() => {
    left.current =
      waiting && waiting !== sent.current && !waiting.refused && !wrong
        ? () => run(changeOf(waiting.form, placed))
        : null;
  });
  useEffect(() => () => left.current?.(), []);
  useEffect(() => {
    if (!send || !waiting) return;
    const timer = window.setTimeout(() => {
      const before = taken.form;
      sent.current = waiting;
      run(
        changeOf(waiting.form, placed),
        () => {
          if (waiting.step) setPast((all) => [...all, before]);
          setWaiting((now) => (now === waiting ? null : now));
        },
        () => setWaiting((now) => (now === waiting ? { ...waiting, refused: true } : now)),
      );
    }, STILL_MS);
    return () => window.clearTimeout(timer);
    // What is sent is what waits; the rest is as it stands when the hand is still.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [send, waiting]);
  return {
    form,
    set: (part: Partial<Form>) => {
      const next = { ...form, ...part };
      setForm(next);
      setWaiting({ form: next, step: true });
    },
    placed,
    asks: asksFor(form),
    /** Whether what is set has not taken effect yet. */
    waits: waiting !== null && !waiting.refused,
    undo: past.length
      ? () => {
          const last = past[past.length - 1];
          if (!last) return;
          setPast(past.slice(0, -1));
          setForm(last);
          setWaiting({ form: last, step: false });
        }
      : null,
  };
}

export type LayoutFormState = ReturnType<typeof useForm>;
