/** How far off cuts are expected to land: in figures beside what the edge can stand, and as a map over the sheet. */
import { Box, Button, Typography } from "@mui/material";
import type { Sheet } from "../api/client";
import { STOP } from "../ui/theme";
import { mm } from "../ui/words";
import { sheet as say } from "../texts/sheet";

type Found = NonNullable<Sheet["misplacement"]>;

const CALM = "#44525A";
const STRONGEST = 0.6;

interface Props {
  sheet: Sheet;
  shown: boolean;
  onShow: (shown: boolean) => void;
}

export function Expected({ sheet, shown, onShow }: Props) {
  const found = sheet.misplacement;
  if (!found) return null;
  const holds = found.worst_mm <= found.allowed_mm;
  return (
    <Box
      role="group"
      aria-label={say.howFarOffCutsMay}
      sx={{ borderLeft: 4, pl: 1.5, borderColor: holds ? CALM : STOP }}
    >
      <Typography variant="body2">
        {say.cutsLandWithin}
        <b>{mm(found.worst_mm, 2)}</b>
        {say.atTheWorstPlaceOn(mm(found.mean_mm, 2), mm(found.allowed_mm, 2))}
      </Typography>
      <Typography variant="body2" color="text.secondary">
        {say.in95Of100Loads}
        {shown && say.theDarkerTheFurtherRed}
      </Typography>
      <Button
        aria-pressed={shown}
        variant={shown ? "contained" : "outlined"}
        onClick={() => onShow(!shown)}
        sx={{ mt: 0.5 }}
      >
        {shown ? say.hideWhere : say.showWhere}
      </Button>
    </Box>
  );
}

/** Squares over the sheet: the darker the further, red where it is more than the edge can stand; the worst place ringed. */
export function MisplacementMap({
  of: { cells, side_mm: side, allowed_mm: allowed, at, worst_mm: worst },
}: {
  of: Found;
}) {
  const [x, y] = at as [number, number];
  const most = Math.max(allowed, worst, 1e-6);
  return (
    <g data-testid="misplacement" style={{ pointerEvents: "none" }}>
      {cells.map(([cx = 0, cy = 0, value = 0]) => (
        <rect
          key={`${cx} ${cy}`}
          x={cx - side / 2}
          y={cy - side / 2}
          width={side}
          height={side}
          fill={value > allowed ? STOP : CALM}
          fillOpacity={STRONGEST * (value > allowed ? 1 : value / most)}
        />
      ))}
      <circle
        cx={x}
        cy={y}
        r={side}
        fill="none"
        stroke={worst > allowed ? STOP : CALM}
        strokeWidth={3}
        vectorEffect="non-scaling-stroke"
      />
    </g>
  );
}
