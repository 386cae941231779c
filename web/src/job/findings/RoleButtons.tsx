/** Mends that each give a role, as buttons with the sign of it: one press. */
import { Button, Stack } from "@mui/material";
import type { Mend } from "../../api/client";
import { RoleSign } from "../../stage/RoleLine";
import { lookOf } from "../../ui/roles";

interface Props<One extends Pick<Mend, "settings" | "label">> {
  mends: readonly One[];
  busy: boolean;
  onMend: (mend: One) => void;
}

export function RoleButtons<One extends Pick<Mend, "settings" | "label">>({
  mends,
  busy,
  onMend,
}: Props<One>) {
  return (
    <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap" }}>
      {mends.map((mend) => {
        const { role, to } = mend.settings;
        return (
          <Button
            key={mend.label}
            variant="outlined"
            disabled={busy}
            aria-label={mend.label}
            onClick={() => onMend(mend)}
            sx={{ px: 0.75, py: 0, gap: 0.5 }}
          >
            {role && <RoleSign role={String(role)} />}
            {role ? lookOf(String(role)).words : String(to)}
          </Button>
        );
      })}
    </Stack>
  );
}
