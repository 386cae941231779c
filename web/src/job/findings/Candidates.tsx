/** What may be a line in disguise, each with its picture and a button for each role that it can be made. */
import { Box, Stack, Typography } from "@mui/material";
import type { Finding, Mend } from "../../api/client";
import { RoleButtons } from "./RoleButtons";
import { Swatch } from "./Swatch";
import { findings as say } from "../../texts/findings";

interface Props {
  job: number;
  finding: Finding;
  busy: boolean;
  onMend: (mend: Mend) => void;
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** The mends of a finding that make one of its candidates a line. */
export const mendsOf = (finding: Finding, { by, value }: { by: string; value: unknown }): Mend[] =>
  finding.mends.filter((mend) => mend.kind === "assign-role" && same(mend.settings[by], value));

/** The mends that belong to no candidate. */
export const otherMends = (finding: Finding): Mend[] => {
  const own = new Set((finding.candidates ?? []).flatMap((one) => mendsOf(finding, one)));
  return finding.mends.filter((mend) => !own.has(mend));
};

export function Candidates({ job, finding, busy, onMend }: Props) {
  return (finding.candidates ?? []).map((one, i) => {
    const mends = mendsOf(finding, one);
    if (!mends.length) return null;
    return (
      <Stack key={one.words} direction="row" spacing={1} sx={{ mt: 1 }} role="group" aria-label={one.words}>
        <Box
          component="img"
          alt=""
          loading="lazy"
          src={`/api/jobs/${job}/evidence/${finding.key}?candidate=${i}`}
          sx={{ width: 96, height: 72, objectFit: "cover", flex: "none", bgcolor: "#E6E6E6" }}
        />
        <Box sx={{ minWidth: 0 }}>
          <Typography variant="body2" sx={{ fontWeight: 700, overflowWrap: "anywhere" }}>
            {Array.isArray(one.value) && <Swatch values={one.value} />}
            {one.words}
          </Typography>
          <Typography variant="body2" color="text.secondary">
            {say.aGuessItIsThe(one.why.join(", "))}
          </Typography>
          <RoleButtons mends={mends} busy={busy} onMend={onMend} />
        </Box>
      </Stack>
    );
  });
}
