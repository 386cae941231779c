/** What lies under the pointer, magnified: a square of 16 mm round it, with the pointer's cross in the middle. */
import { Box } from "@mui/material";
import type { Bed } from "../api/client";
import type { Point } from "../stage/geometry";
import { bench as say } from "../texts/bench";

const SEEN_MM = 16;
const TILE_MM = 40;
/** A picture is asked for anew when the carriage has gone so far from its middle. */
const GRID_MM = 20;
const PIXELS = 300;

const onGrid = (mm: number) => Math.round(mm / GRID_MM) * GRID_MM;

export function Eye({ bed, at, cross }: { bed: Bed; at: Point; cross: boolean }) {
  const [x, y] = [onGrid(at[0]), onGrid(at[1])];
  const k = PIXELS / SEEN_MM;
  const side = TILE_MM * k;
  return (
    <Box
      role="img"
      aria-label={say.underThePointerTheCarriage(at[0].toFixed(2), at[1].toFixed(2))}
      sx={{ width: PIXELS, height: PIXELS, overflow: "hidden", position: "relative", bgcolor: "#777" }}
    >
      <img
        key={`${x} ${y}`}
        alt=""
        src={`/api/bench/${bed.release_id}/under?loading=${bed.loading}&x=${x}&y=${y}&side_mm=${TILE_MM}&cross=${cross}`}
        style={{
          position: "absolute",
          width: side,
          height: side,
          left: PIXELS / 2 - side / 2 - (at[0] - x) * k,
          top: PIXELS / 2 - side / 2 + (at[1] - y) * k,
        }}
      />
      <svg width={PIXELS} height={PIXELS} style={{ position: "absolute", inset: 0 }} aria-hidden>
        <path
          d={`M0 ${PIXELS / 2}H${PIXELS}M${PIXELS / 2} 0V${PIXELS}`}
          stroke="#fff"
          strokeWidth={3}
          opacity={0.8}
        />
        <path d={`M0 ${PIXELS / 2}H${PIXELS}M${PIXELS / 2} 0V${PIXELS}`} stroke="#C4442A" strokeWidth={1} />
        <text
          x={8}
          y={PIXELS - 8}
          fontSize={12}
          stroke="#fff"
          strokeWidth={4}
          paintOrder="stroke"
          fill="#222"
        >
          {say.mmAcross(SEEN_MM)}
        </text>
      </svg>
    </Box>
  );
}
