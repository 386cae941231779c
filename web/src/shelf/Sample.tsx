/** A thing as it looks, where it looks like something: a colour, a perforation at its true length. */
import { Box } from "@mui/material";
import type { ShelfThing } from "../api/client";
import { shelf as say } from "../texts/shelf";

/** Pixels to the mm, as browsers count them. */
const TRUE = 96 / 25.4;
const LONG_MM = 40;

export function Sample({ thing }: { thing: Pick<ShelfThing, "kind" | "data"> }) {
  const { colour, cut_mm, tie_mm, tie_force_gf } = thing.data;
  if (typeof colour === "string" && (thing.kind === "thread" || thing.kind === "fabric"))
    return (
      <Box
        component="span"
        aria-hidden
        sx={{
          display: "inline-block",
          width: 16,
          height: 16,
          mr: 1,
          verticalAlign: "-3px",
          bgcolor: colour,
          border: "1px solid",
          borderColor: "divider",
        }}
      />
    );
  if (thing.kind !== "perforation" || typeof cut_mm !== "number" || typeof tie_mm !== "number") return null;
  return (
    <Box
      component="svg"
      role="img"
      aria-label={say.mmCutMmTieAt(cut_mm, tie_mm)}
      viewBox={`0 0 ${LONG_MM} 2`}
      sx={{ width: LONG_MM * TRUE, height: 8, mr: 1, verticalAlign: "middle" }}
    >
      {!!tie_force_gf && <line x1={0} x2={LONG_MM} y1={1} y2={1} stroke="#8A8A8A" strokeWidth={0.3} />}
      <line
        x1={0}
        x2={LONG_MM}
        y1={1}
        y2={1}
        stroke="#1A1A1A"
        strokeWidth={0.6}
        strokeDasharray={`${cut_mm} ${tie_mm}`}
      />
    </Box>
  );
}
