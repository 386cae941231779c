/** How a sheet is turned for its back cut. */
import { Stack, Typography } from "@mui/material";
import { cut as say } from "../texts/cut";

/** A sheet seen from above: what is on its left and right, its leading edge in front. */
function Lies({
  x,
  fill,
  left,
  right,
  edge,
}: Record<"fill" | "left" | "right" | "edge", string> & { x: number }) {
  return (
    <g transform={`translate(${x} 20)`}>
      <rect width={110} height={90} fill={fill} stroke="#333" />
      <path d="M0 90H110" stroke="#C4442A" strokeWidth={4} />
      <text x={22} y={48}>
        {left}
      </text>
      <text x={88} y={48}>
        {right}
      </text>
      <text x={55} y={112}>
        {edge}
      </text>
    </g>
  );
}

/** How to turn the sheet: sideways, its leading edge still in front. */
export function TurnOver() {
  return (
    <Stack spacing={1}>
      <svg viewBox="0 0 340 150" width="100%" role="img" aria-label={say.turnTheSheetOverSideways}>
        <g fontSize={11} textAnchor="middle" fill="#333">
          <Lies x={10} fill="#fff" left="left" right="right" edge={say.leadingEdge} />
          <path d="M135 65c20 -34 50 -34 70 0" fill="none" stroke="#333" strokeWidth={2} />
          <path d="M205 65l-11 -5M205 65l-1 -12" stroke="#333" strokeWidth={2} />
          <text x={170} y={88}>
            {say.sideways}
          </text>
          <Lies x={220} fill="#E9E4D8" left="right" right="left" edge={say.leadingEdgeStillInFront} />
        </g>
      </svg>
      <Typography variant="body2" color="text.secondary">
        {say.theCutterAlignsToThe}
      </Typography>
    </Stack>
  );
}
