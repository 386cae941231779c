/** What a form says of a layout, before it is laid out so. */
import { useState } from "react";
import type { Marks } from "./MarksPart";
import type { LayoutChange, Target } from "./target";

export interface Media {
  title: string;
  width_mm: number;
  length_mm: number | null;
  roll: boolean;
  turned: boolean;
}
export type Fill = "quantity" | "length" | "sheet";
export type Makes = "both" | "cut" | "print";

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
  inks: string[] | null;
  frame: number | undefined;
}

export const isPlaced = (target: Target) => !!(target.layout.placed as unknown[] | undefined)?.length;

const formOf = ({ layout }: Target): Form => ({
  columns: String(layout.columns ?? ""),
  gap: (layout.gap_mm as number | null) ?? null,
  turned: layout.turned === undefined || layout.turned === null ? "auto" : String(layout.turned),
  longest: (layout.length_mm as number | null) ?? undefined,
  fill: (layout.fill as Fill | null) ?? "quantity",
  media: (layout.media as Media | null) ?? null,
  marks: (layout.marks ?? {}) as Marks,
  code: layout.code !== false,
  mirror: (layout.mirror as boolean | null | undefined) ?? null,
  makes: (layout.makes as Makes | null) ?? "both",
  inks: (layout.inks as string[] | null) ?? null,
  frame: (layout.frame_mm as number | null) ?? undefined,
});

export function useForm(target: Target) {
  const [form, setForm] = useState(() => formOf(target));
  const placed = isPlaced(target);
  /** A length is to be filled, and nobody has said which. */
  const asks = form.fill === "length" && form.longest === undefined;
  const wrong = Number.isNaN(form.gap) || asks;
  const change = (): LayoutChange => ({
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
  return {
    form,
    set: (part: Partial<Form>) => setForm((now) => ({ ...now, ...part })),
    placed,
    wrong,
    asks,
    change,
  };
}

export type LayoutFormState = ReturnType<typeof useForm>;
