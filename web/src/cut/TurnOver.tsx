/** How a sheet is turned for its back cut. */
import { Stack, Typography } from "@mui/material";

/** How to turn the sheet: sideways, its leading edge still in front. */
export function TurnOver() {
  return (
    <Stack spacing={1}>
      <svg
        viewBox="0 0 340 150"
        width="100%"
        role="img"
        aria-label="Turn the sheet over sideways; its leading edge stays in front, left and right change places"
      >
        <g fontSize={11} textAnchor="middle" fill="#333">
          <rect x={10} y={20} width={110} height={90} fill="#fff" stroke="#333" />
          <path d="M10 110H120" stroke="#C4442A" strokeWidth={4} />
          <text x={30} y={68}>
            left
          </text>
          <text x={98} y={68}>
            right
          </text>
          <text x={65} y={132}>
            leading edge
          </text>
          <path d="M135 65c20 -34 50 -34 70 0" fill="none" stroke="#333" strokeWidth={2} />
          <path d="M205 65l-11 -5M205 65l-1 -12" stroke="#333" strokeWidth={2} />
          <text x={170} y={88}>
            sideways
          </text>
          <rect x={220} y={20} width={110} height={90} fill="#E9E4D8" stroke="#333" />
          <path d="M220 110H330" stroke="#C4442A" strokeWidth={4} />
          <text x={242} y={68}>
            right
          </text>
          <text x={308} y={68}>
            left
          </text>
          <text x={275} y={132}>
            leading edge, still in front
          </text>
        </g>
      </svg>
      <Typography variant="body2" color="text.secondary">
        The cutter aligns to the three corners that were cut right through.
      </Typography>
    </Stack>
  );
}
