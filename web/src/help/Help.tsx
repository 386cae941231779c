/** What opens the help, and leads to an entry of it. */
import { Button, IconButton } from "@mui/material";
import { useCallback, useMemo, useState, type ReactNode } from "react";
import { useKeys } from "../ui/useKeys";
import { HelpContext, useHelp } from "./useHelp";
import { help as say } from "../texts/help";

export function HelpProvider({ children }: { children: ReactNode }) {
  const [entry, show] = useState<string | null>(null);
  useKeys(
    useCallback((key: string) => {
      if (key === "?") show((now) => (now === null ? "" : null));
    }, []),
  );
  return <HelpContext value={useMemo(() => ({ entry, show }), [entry])}>{children}</HelpContext>;
}

/** The button that opens it. */
export function HelpButton() {
  const { entry, show } = useHelp();
  return (
    <Button
      aria-label={say.helpLabel}
      aria-expanded={entry !== null}
      title={say.whatThisPlaceIsFor}
      onClick={() => show(entry === null ? "" : null)}
      sx={{ minWidth: 32, fontWeight: 700 }}
    >
      ?
    </Button>
  );
}

/** Leads from a finding or a refusal to its entry. */
export function Why({ of }: { of: string }) {
  const { show } = useHelp();
  return (
    <IconButton
      size="small"
      aria-label={say.whatMeans(of)}
      title={say.whatThisMeansAndWhat}
      onClick={() => show(of)}
      sx={{ fontSize: 13, width: 26, height: 26, color: "primary.main", fontWeight: 700 }}
    >
      ?
    </IconButton>
  );
}
