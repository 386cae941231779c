/** What somebody pointed at gets a role: all that is drawn so, all that lies on its layer, or all that has its ink. */
import { Box, Typography } from "@mui/material";
import type { Mend } from "../../api/client";
import { RoleButtons } from "../findings/RoleButtons";
import { Swatch } from "../findings/Swatch";
import { modes as say } from "../../texts/modes";

export const givesRole = (mend: Mend) => mend.kind === "assign-role" || mend.kind === "rename";

const wordsOf = ({ kind, settings }: Mend): string =>
  kind === "rename"
    ? say.allOfTheInkIs(String(settings.ink))
    : settings.layer
      ? say.allOnTheLayerIs(String(settings.layer))
      : settings.ink
        ? say.allInIsThe(String(settings.ink))
        : say.allInThisColourIs;

/** The mends that give a role, by what gets it. */
export function rolesToGive(mends: readonly Mend[]): [string, Mend[]][] {
  const found = new Map<string, Mend[]>();
  for (const mend of mends.filter(givesRole))
    found.set(wordsOf(mend), [...(found.get(wordsOf(mend)) ?? []), mend]);
  return [...found];
}

interface Props {
  words: string;
  mends: Mend[];
  busy: boolean;
  onMend: (mend: Mend) => void;
}

export function GiveRole({ words, mends, busy, onMend }: Props) {
  const colour = mends[0]?.settings.colour;
  return (
    <Box role="group" aria-label={words} sx={{ mt: 0.5 }}>
      <Typography variant="body2">
        {Array.isArray(colour) && <Swatch values={colour as number[]} />}
        {words}
      </Typography>
      <RoleButtons mends={mends} busy={busy} onMend={onMend} />
    </Box>
  );
}
