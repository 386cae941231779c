/** The layers: what of each prints and what is cut; one at a time on the stage, hidden ones too; and roles to give. */
import { Box, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useMend } from "../../api/changes";
import type { Job, PageSeen } from "../../api/client";
import { useBusy } from "../../api/progress";
import { RoleSign } from "../../stage/RoleLine";
import { CUTS, lookOf } from "../../ui/roles";
import { plural } from "../../ui/words";
import { Told } from "./Told";

type Layer = PageSeen["layers"][number];

interface Props {
  job: Job;
  chosen: string;
  onChoose: (view: string) => void;
}

/** What becomes of what lies on a layer. */
export function does(layer: Layer): string {
  if (!layer.objects) return "empty";
  const cuts = layer.cuts.map((role) => lookOf(role).words).join(", ");
  const art = plural(layer.art, "object");
  const kept = layer.visible && layer.prints ? "" : layer.visible ? "is kept from printing" : "is hidden";
  const parts = [
    layer.cuts.length ? `cuts: ${cuts}` : "",
    layer.art ? (kept ? `${art} would not print: the layer ${kept}` : `prints ${art}`) : "",
    !layer.art && kept ? `the layer ${kept}` : "",
    layer.locked ? "locked" : "",
  ];
  return parts.filter(Boolean).join(" · ");
}

export function LayerPanel({ job, chosen, onChoose }: Props) {
  const seen = job.seen;
  const mend = useMend(job.id);
  const busy = useBusy(job);
  const layers = seen?.layers ?? [];
  const none = seen?.objects_on_no_layer ?? 0;
  return (
    <Told title="Layers">
      {!seen && <Typography variant="body2">The layers are not known yet.</Typography>}
      {seen && !layers.length && (
        <Typography variant="body2">
          The file has no layers: all of it lies together. Point at something to see what it is.
        </Typography>
      )}
      {layers.length > 0 && (
        <Choice
          name="The whole page, as the file shows it"
          chosen={chosen === "whole"}
          onChoose={() => onChoose("whole")}
        />
      )}
      {layers.map((layer, i) => (
        <Choice
          key={i}
          name={layer.name}
          said={does(layer)}
          roles={layer.cuts}
          faint={!layer.visible}
          chosen={chosen === `layer-${i}`}
          onChoose={() => onChoose(`layer-${i}`)}
        >
          {layer.paths > 0 && !layer.cuts.length && (
            <TextField
              select
              fullWidth
              size="small"
              value=""
              label="What is drawn on it is the…"
              disabled={busy || mend.isPending}
              onChange={(e) =>
                mend.mutate({ kind: "assign-role", settings: { role: e.target.value, layer: layer.name } })
              }
            >
              {CUTS.map((role) => (
                <MenuItem key={role} value={role}>
                  {lookOf(role).words}
                </MenuItem>
              ))}
            </TextField>
          )}
        </Choice>
      ))}
      {none > 0 && layers.length > 0 && (
        <Choice
          name="On no layer"
          said={plural(none, "object")}
          chosen={chosen === "layer-none"}
          onChoose={() => onChoose("layer-none")}
        />
      )}
      {mend.isError && <Typography color="error">{mend.error.message}</Typography>}
    </Told>
  );
}

interface ChoiceProps {
  name: string;
  said?: string;
  roles?: readonly string[];
  faint?: boolean;
  chosen: boolean;
  onChoose: () => void;
  children?: React.ReactNode;
}

function Choice({ name, said, roles = [], faint, chosen, onChoose, children }: ChoiceProps) {
  return (
    <Box data-layer={name} sx={{ bgcolor: chosen ? "#DDE8E8" : "#F4F4F4" }}>
      <Box
        component="button"
        type="button"
        aria-pressed={chosen}
        onClick={onChoose}
        sx={{
          border: 0,
          font: "inherit",
          textAlign: "left",
          p: 0.75,
          width: "100%",
          cursor: "pointer",
          bgcolor: "transparent",
        }}
      >
        <Typography
          variant="body2"
          sx={{ overflowWrap: "anywhere", fontWeight: 700, fontStyle: faint ? "italic" : "normal" }}
        >
          {name}
        </Typography>
        {said && (
          <Stack direction="row" useFlexGap spacing={0.5} sx={{ alignItems: "center", flexWrap: "wrap" }}>
            {roles.map((role) => (
              <RoleSign key={role} role={role} />
            ))}
            <Typography variant="body2" color="text.secondary">
              {said}
            </Typography>
          </Stack>
        )}
      </Box>
      {chosen && children && <Box sx={{ p: 0.75, pt: 0.5 }}>{children}</Box>}
    </Box>
  );
}
