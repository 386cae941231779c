/** One plate per ink, and whether it prints. */
import { Box, Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { Release } from "../api/client";
import { Stage } from "../stage/Stage";
import { RoleSign } from "../stage/RoleLine";
import { MONO } from "../ui/theme";

export function Plates({ made }: { made: Release }) {
  const [at, setAt] = useState(0);
  const plate = made.plates[at] ?? made.plates[0];
  const [width = 1, length = 1] = made.sheet_mm;
  return (
    <Stack direction="row" sx={{ flex: 1, minHeight: 0 }}>
      <Stage bounds={[0, 0, width, length]} label={`Plate ${plate?.ink}`}>
        {() =>
          plate && (
            <image
              href={`/api/bench/${made.id}/plates/${plate.sha256}`}
              x={0}
              y={-length}
              width={width}
              height={length}
              transform="scale(1 -1)"
              preserveAspectRatio="none"
            />
          )
        }
      </Stage>
      <Stack
        spacing={0.5}
        sx={{ width: 300, p: 1, bgcolor: "background.paper", overflowY: "auto" }}
        aria-label="plates"
        role="list"
      >
        {made.ink_order.length > 0 && (
          <Typography variant="body2" sx={{ px: 1 }}>
            Laid down in this order, the first next to the media: {made.ink_order.join(", ")}.
          </Typography>
        )}
        {made.plates.map((one, i) => (
          <Box key={one.ink} role="listitem">
            <Box
              component="button"
              type="button"
              aria-pressed={i === at}
              onClick={() => setAt(i)}
              data-plate={one.ink}
              sx={{
                width: "100%",
                textAlign: "left",
                border: 0,
                p: 1,
                font: "inherit",
                cursor: "pointer",
                bgcolor: i === at ? "#DDE8E8" : "#F4F4F4",
              }}
            >
              <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
                <span style={{ fontFamily: MONO, flex: 1 }}>{one.ink}</span>
                {one.role && <RoleSign role={one.role} />}
              </Stack>
              <Typography variant="body2" color="text.secondary">
                {one.prints
                  ? `prints, covers ${(one.coverage * 100).toFixed(2)} %`
                  : "goes to the cutter, does not print"}
              </Typography>
            </Box>
          </Box>
        ))}
      </Stack>
    </Stack>
  );
}
