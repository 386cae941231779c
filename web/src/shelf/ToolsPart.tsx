/** Tool settings by cutter and material: what is set, who tested it at the Bench and when, who confirmed it. */
import { Row } from "../ui/Row";
import { Box, Button, LinearProgress, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { useQuery } from "@tanstack/react-query";
import { Failure } from "../help/Failure";
import { useKeepTool } from "../api/shelfChanges";
import type { Shelf, ShopTool } from "../api/client";
import { queries } from "../api/queries";
import { PatternShelf } from "../cut/Patterns";
import { ToolForm } from "../cut/ToolForm";
import { lookOf } from "../ui/roles";
import { RoleSign } from "../stage/RoleLine";
import { SEEN } from "../ui/seen";
import { shelf as say } from "../texts/shelf";

const saw = (seen: string) => SEEN.find(([value]) => value === seen)?.[1].toLowerCase() ?? seen;
const day = (when: string) => when.slice(0, 10);

export function ToolsPart({ shelf }: { shelf: Shelf }) {
  const [destination, setDestination] = useState(shelf.destinations[0]?.id ?? "");
  const [material, setMaterial] = useState(shelf.materials[0]?.id ?? "");
  const tools = useQuery({
    ...queries.shopTools(destination, material),
    enabled: destination !== "" && material !== "",
  });
  return (
    <Stack spacing={1.5} component="section" aria-label={say.toolSettings}>
      <Typography variant="h1">{say.toolSettingsByCutterAnd}</Typography>
      <Stack direction="row" spacing={1}>
        <TextField
          select
          label={say.cutterOf}
          value={destination}
          sx={{ width: 240 }}
          onChange={(e) => setDestination(e.target.value)}
        >
          {shelf.destinations.map((one) => (
            <MenuItem key={one.id} value={one.id}>
              {one.title}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label={say.material}
          value={material}
          sx={{ width: 340 }}
          onChange={(e) => setMaterial(e.target.value)}
        >
          {shelf.materials.map((one) => (
            <MenuItem key={one.id} value={one.id}>
              {one.title}
            </MenuItem>
          ))}
        </TextField>
      </Stack>
      <Typography variant="body2" color="text.secondary">
        {say.testCutsAreMadeAt}
      </Typography>
      {tools.isPending && <LinearProgress aria-label={say.loadingToolsLabel} />}
      <Failure of={tools.error} />
      {tools.data?.tools.map((one) => (
        <Setting
          key={`${destination} ${material} ${one.tool.role} ${one.versions.length}`}
          one={one}
          destination={destination}
          material={material}
          mayEdit={tools.data.may_edit}
        />
      ))}
    </Stack>
  );
}

interface SettingProps {
  one: ShopTool;
  destination: string;
  material: string;
  mayEdit: boolean;
}

function Setting({ one, destination, material, mayEdit }: SettingProps) {
  const keep = useKeepTool();
  const { role } = one;
  const last = one.versions[0];
  return (
    <Box data-tool={role} sx={{ borderTop: "1px solid #DDD", pt: 1 }}>
      <Row spacing={1}>
        <RoleSign role={role} />
        <Typography sx={{ fontWeight: 700, width: 110 }}>{lookOf(role).words}</Typography>
        <Typography variant="body2" color="text.secondary" sx={{ flex: 1 }}>
          {standing(one)}
        </Typography>
        {last && !last.confirmed && mayEdit && (
          <Button
            size="small"
            disabled={keep.isPending}
            onClick={() => keep.mutate({ destination, material, tool: one.tool, note: "confirmed" })}
          >
            {say.confirm(one.tool.force_gf === null ? "it" : `${one.tool.force_gf} gf`)}
          </Button>
        )}
      </Row>
      {mayEdit && (
        <ToolForm
          tool={one.tool}
          failed={keep.error}
          onKeep={(tool) => keep.mutate({ destination, material, tool, note: "" })}
        />
      )}
      {role === "perforation" && <PatternShelf tool={one.tool} mayEdit={mayEdit} />}
      {one.versions.length > 0 && (
        <Typography variant="body2" color="text.secondary" component="details">
          <summary>
            {one.versions.length} {one.versions.length > 1 ? "versions" : "version"}
          </summary>
          {one.versions.map((version) => (
            <div key={version.number}>
              {say.tool(
                version.number,
                day(version.when),
                version.who,
                version.tool.number,
                version.tool.force_gf === null ? say.forceOfTheMachine : `${version.tool.force_gf} gf`,
                version.seen && say.sinceATestCutWas(saw(version.seen)),
                version.note && ` (${version.note})`,
              )}
            </div>
          ))}
        </Typography>
      )}
    </Box>
  );
}

function standing(one: ShopTool): string {
  const open = one.versions[0] && !one.versions[0].confirmed ? say.notConfirmed : "";
  if (one.tested) return say.testedByOn(one.tested_by, day(one.tested), open);
  return one.versions.length ? say.notTestedAsItIs(open) : say.asShippedNotTestedHere;
}
