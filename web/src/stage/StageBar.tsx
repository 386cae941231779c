/** What stands under the stage: tools, the zoom, the unit. */
import { Spacer } from "../ui/Row";
import { Button, Stack } from "@mui/material";
import { useState, type ReactNode } from "react";
import { chooseUnit } from "../api/habits";
import { MONO } from "../ui/theme";
import { useUnit } from "../ui/unit";
import { Calibrate } from "./Calibrate";
import { isCalibrated } from "./calibration";
import type { Laying, Tool } from "./useLaying";
import { stage as say } from "../texts/stage";

interface Props {
  laying: Laying;
  /** Whether there is something to cut open. */
  opens: boolean;
  tools?: ReactNode;
  /** How many times actual size is shown. */
  zoom: number;
  onFit: () => void;
  onActual: () => void;
}

export function StageBar({ laying, opens, tools, zoom, onFit, onActual }: Props) {
  const unit = useUnit();
  return (
    <Stack
      direction="row"
      useFlexGap
      spacing={0.5}
      sx={{
        alignItems: "center",
        px: 1,
        py: 0.5,
        bgcolor: "background.paper",
        flexWrap: "wrap",
        rowGap: 0.5,
      }}
    >
      {tools}
      <Take tool="tape" laying={laying}>
        {say.tape}
      </Take>
      {opens && (
        <Take tool="section" laying={laying}>
          {say.cutOpen}
        </Take>
      )}
      <Spacer />
      <Zoom zoom={zoom} />
      <Button
        onClick={() => chooseUnit(unit === "mm" ? "in" : "mm")}
        aria-label={say.rulersIn(unit === "mm")}
        sx={{ minWidth: 0 }}
      >
        {unit}
      </Button>
      <Button onClick={onFit} sx={{ minWidth: 0 }}>
        {say.fit}
      </Button>
      <Button
        onClick={onActual}
        sx={{ minWidth: 0, whiteSpace: "nowrap" }}
        aria-label={say.actualSizeLabel}
        title={say.actualSizeKey0}
      >
        1:1
      </Button>
    </Stack>
  );
}

function Take({ tool, laying, children }: { tool: Tool; laying: Laying; children: ReactNode }) {
  const inHand = laying.tool === tool;
  return (
    <Button
      variant={inHand ? "contained" : "outlined"}
      aria-pressed={inHand}
      onClick={() => laying.turn(tool)}
      sx={{ px: 1, minWidth: 0, whiteSpace: "nowrap" }}
    >
      {children}
    </Button>
  );
}

/** The zoom in percent of actual size; pressed, it measures the monitor. */
function Zoom({ zoom }: { zoom: number }) {
  const [calibrating, setCalibrating] = useState(false);
  const percent = `${(100 * zoom).toFixed(zoom < 0.1 ? 1 : 0)} %`;
  return (
    <>
      <Button
        onClick={() => setCalibrating(true)}
        sx={{ minWidth: 56, px: 0.5, fontFamily: MONO, whiteSpace: "nowrap" }}
        aria-label={say.zoomMeasureThisMonitor(percent)}
        title={isCalibrated() ? say.ofActualSizeOnThis : say.ofActualSizeAt96}
      >
        {percent}
      </Button>
      {calibrating && <Calibrate onClose={() => setCalibrating(false)} />}
    </>
  );
}
