/** The layers over the stage: one at a time, hidden ones shown as hidden. */
import { Box, Typography } from "@mui/material";
import type { Job } from "../../api/client";
import { RoleSign } from "../../stage/RoleLine";
import { Panel } from "../../ui/Panel";

const said = (layer: { visible: boolean; prints: boolean; locked: boolean }) =>
  [layer.visible ? "" : "hidden", layer.prints ? "" : "does not print", layer.locked ? "locked" : ""]
    .filter(Boolean)
    .join(", ");

export function LayerPanel({
  job,
  chosen,
  onChoose,
}: {
  job: Job;
  chosen: string;
  onChoose: (view: string) => void;
}) {
  const seen = job.seen;
  const rows = (seen?.layers ?? []).map((layer, i) => ({ view: `layer-${i}`, ...layer, said: said(layer) }));
  return (
    <Panel>
      {!rows.length && <Typography variant="body2">The file has no layers.</Typography>}
      {[
        { view: "whole", name: "The whole page, as the file shows it", objects: 0, role: null, said: "" },
        ...rows,
      ].map((row) => (
        <Choice key={row.view} row={row} chosen={chosen === row.view} onChoose={onChoose} />
      ))}
      {!!seen?.objects_on_no_layer && rows.length > 0 && (
        <Choice
          row={{
            view: "layer-none",
            name: "On no layer",
            objects: seen.objects_on_no_layer,
            role: null,
            said: "",
          }}
          chosen={chosen === "layer-none"}
          onChoose={onChoose}
        />
      )}
    </Panel>
  );
}

interface RowShape {
  view: string;
  name: string;
  objects: number;
  role?: string | null;
  said: string;
}

function Choice({
  row,
  chosen,
  onChoose,
}: {
  row: RowShape;
  chosen: boolean;
  onChoose: (view: string) => void;
}) {
  return (
    <Box
      component="button"
      type="button"
      aria-pressed={chosen}
      onClick={() => onChoose(row.view)}
      data-layer={row.name}
      sx={{
        border: 0,
        font: "inherit",
        textAlign: "left",
        p: 0.75,
        cursor: "pointer",
        bgcolor: chosen ? "#DDE8E8" : "#F4F4F4",
        opacity: row.said.includes("hidden") && !chosen ? 0.7 : 1,
      }}
    >
      <Typography
        variant="body2"
        sx={{ overflowWrap: "anywhere", fontStyle: row.said.includes("hidden") ? "italic" : "normal" }}
      >
        {row.role && <RoleSign role={row.role} />} {row.name}
      </Typography>
      {(row.objects > 0 || row.said) && (
        <Typography variant="body2" color="text.secondary">
          {[row.objects ? `${row.objects} object${row.objects === 1 ? "" : "s"}` : "", row.said]
            .filter(Boolean)
            .join(" · ")}
        </Typography>
      )}
    </Box>
  );
}
