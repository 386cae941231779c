/** A check sheet that is being written: limits and severities where they differ from the shipped ones. */
import { useState } from "react";
import type { CheckSheets } from "../api/client";

export type Sheet = CheckSheets["sheets"][number];
export type Check = CheckSheets["checks"][number];
export interface Values {
  limits: Record<string, number>;
  severities: Record<string, string>;
}
export const NONE: Values = { limits: {}, severities: {} };

const without = <T>(record: Record<string, T>, key: string): Record<string, T> =>
  Object.fromEntries(Object.entries(record).filter(([name]) => name !== key));
const valuesOf = (sheet: Sheet): Values => {
  const last = sheet.versions[0];
  return last ? { limits: { ...last.limits }, severities: { ...last.severities } } : NONE;
};
const numberIn = (text: string | undefined) => Number(text?.replace(",", "."));

/** The draft of a sheet; `onTouch` hears of every change, since what was found of the one before holds no more. */
export function useSheetDraft(sheet: Sheet, onTouch: () => void) {
  const [values, setValues] = useState(() => valuesOf(sheet));
  const [typed, setTyped] = useState<Record<string, string>>({});
  const unsound = Object.keys(typed).filter(
    (key) => !(numberIn(typed[key]) >= 0 && isFinite(numberIn(typed[key]))),
  );
  return {
    values,
    /** What stands in a limit's field. */
    textOf: (key: string) => typed[key] ?? values.limits[key] ?? "",
    /** The limits in whose fields no number stands. */
    unsound,
    changed: JSON.stringify(values) !== JSON.stringify(valuesOf(sheet)),
    setLimit: (key: string, text: string) => {
      onTouch();
      setTyped({ ...typed, [key]: text });
      const number = numberIn(text);
      if (text.trim() === "") setValues({ ...values, limits: without(values.limits, key) });
      else if (Number.isFinite(number) && number >= 0)
        setValues({ ...values, limits: { ...values.limits, [key]: number } });
    },
    setSeverity: (key: string, severity: string) => {
      onTouch();
      const severities =
        severity === "shipped" ? without(values.severities, key) : { ...values.severities, [key]: severity };
      setValues({ ...values, severities });
    },
    load: (next: Values) => {
      onTouch();
      setTyped({});
      setValues({ limits: { ...next.limits }, severities: { ...next.severities } });
    },
  };
}

export type SheetDraft = ReturnType<typeof useSheetDraft>;
