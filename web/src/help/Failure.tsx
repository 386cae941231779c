/** What could not be done, in the words of whoever refused it, with the way to its entry. */
import { Alert } from "@mui/material";
import type { ReactNode } from "react";
import { Refused } from "../api/client";
import { Why } from "./Help";
import { REFUSALS } from "./tables";

/** The way to the entry of a refusal, where there is one. */
export const WhyRefused = ({ code = "" }: { code?: string }) =>
  REFUSALS.has(code) ? <Why of={code} /> : null;

interface Props {
  of: Error | null | undefined;
  /** Whether it stands alone, where nothing else can be shown. */
  alone?: boolean;
  /** What can be pressed now. */
  children?: ReactNode;
}

export function Failure({ of, alone, children }: Props) {
  if (!of) return null;
  return (
    <Alert
      severity="error"
      sx={alone ? { m: 3, alignSelf: "flex-start" } : { py: 0 }}
      action={<WhyRefused code={of instanceof Refused ? of.code : ""} />}
    >
      {of.message} {children}
    </Alert>
  );
}
