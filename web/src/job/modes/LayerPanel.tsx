/** The layers: what of each prints and what is cut; one at a time on the stage, hidden ones too; and roles to give. */
import { Box, Stack, Typography } from "@mui/material";
import type { ReactNode } from "react";
import { Failure } from "../../help/Failure";
import { useMend } from "../../api/changes";
import type { Job, PageSeen } from "../../api/client";
import { useBusy } from "../../api/progress";
import { RoleSign } from "../../stage/RoleLine";
import { CUTS, lookOf } from "../../ui/roles";
import { ChoiceRow } from "../../ui/ChoiceRow";
import { RoleButtons } from "../findings/RoleButtons";
import { Told } from "./Told";
import { modes as say } from "../../texts/modes";

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
  const art = say.object(layer.art);
  const kept = layer.visible && layer.prints ? "" : layer.visible ? say.isKeptFromPrinting : say.isHidden;
  const parts = [
    layer.cuts.length ? say.cuts(cuts) : "",
    layer.art ? (kept ? say.wouldNotPrintTheLayer(art, kept) : say.prints(art)) : "",
    !layer.art && kept ? say.theLayer(kept) : "",
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
    <Told title={say.layers}>
      {!seen && <Typography variant="body2">{say.theLayersAreNotKnown}</Typography>}
      {seen && !layers.length && <Typography variant="body2">{say.theFileHasNoLayers}</Typography>}
      {layers.length > 0 && (
        <Choice name={say.theWholePageAsThe} chosen={chosen === "whole"} onChoose={() => onChoose("whole")} />
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
            <>
              <Typography variant="body2">{say.whatIsDrawnOnIt}</Typography>
              <RoleButtons
                mends={rolesOf(layer)}
                busy={busy || mend.isPending}
                onMend={(one) => mend.mutate(one)}
              />
            </>
          )}
        </Choice>
      ))}
      {none > 0 && layers.length > 0 && (
        <Choice
          name={say.onNoLayer}
          said={say.object2(none)}
          chosen={chosen === "layer-none"}
          onChoose={() => onChoose("layer-none")}
        />
      )}
      <Failure of={mend.error} />
    </Told>
  );
}

/** The mends that make a line of what is drawn on a layer, as the core has them. */
const rolesOf = ({ name }: Layer) =>
  CUTS.map((role) => ({
    kind: "assign-role",
    settings: { role, layer: name },
    label: say.makeTheLayerThe(name, lookOf(role).words),
  }));

interface ChoiceProps {
  name: string;
  said?: string;
  roles?: readonly string[];
  faint?: boolean;
  chosen: boolean;
  onChoose: () => void;
  children?: ReactNode;
}

function Choice({ name, said, roles = [], faint, chosen, onChoose, children }: ChoiceProps) {
  return (
    <Box data-layer={name}>
      <ChoiceRow name={faint ? <i>{name}</i> : name} chosen={chosen} onChoose={onChoose}>
        {said && (
          <Stack direction="row" useFlexGap spacing={0.5} sx={{ alignItems: "center", flexWrap: "wrap" }}>
            {roles.map((role) => (
              <RoleSign key={role} role={role} />
            ))}
            {said}
          </Stack>
        )}
      </ChoiceRow>
      {chosen && children && <Box sx={{ p: 1, pt: 0, bgcolor: "#DDE8E8" }}>{children}</Box>}
    </Box>
  );
}
