/** What the RIP has: the sheet as it was handed over, all plates together as they print, and each by itself. */
import { Box, Stack, Typography } from "@mui/material";
import { useState, type ReactNode } from "react";
import type { Release } from "../api/client";
import { Stage } from "../stage/Stage";
import { RoleSign } from "../stage/RoleLine";
import { MONO } from "../ui/theme";

const SHEET = "the sheet";
const TOGETHER = "all plates together";

/** A sheet on the stage, by one of its pictures. */
export function SheetPicture({ made, of, label }: { made: Release; of: string; label: string }) {
  const [width = 1, length = 1] = made.sheet_mm;
  return (
    <Stage bounds={[0, 0, width, length]} label={label}>
      {() => (
        <>
          <rect width={width} height={length} fill="#fff" />
          <image
            key={of}
            href={`/api/bench/${made.id}/${of}`}
            x={0}
            y={-length}
            width={width}
            height={length}
            transform="scale(1 -1)"
            preserveAspectRatio="none"
          />
        </>
      )}
    </Stage>
  );
}

export function Plates({ made }: { made: Release }) {
  const [shown, setShown] = useState(made.picture ? TOGETHER : (made.plates[0]?.ink ?? SHEET));
  const plate = made.plates.find((one) => one.ink === shown);
  const of = plate ? `plates/${plate.sha256}` : shown === TOGETHER && made.picture ? "printed" : "sheet";
  return (
    <Stack direction="row" sx={{ flex: 1, minHeight: 0 }}>
      <SheetPicture made={made} of={of} label={plate ? `Plate ${plate.ink}` : shown} />
      <Stack
        spacing={0.5}
        sx={{ width: 300, p: 1, bgcolor: "background.paper", overflowY: "auto" }}
        aria-label="plates"
        role="list"
      >
        <Choice chosen={shown === SHEET} onChoose={() => setShown(SHEET)} name="The sheet">
          as it was handed to the RIP, its lines in it
        </Choice>
        {made.picture && (
          <Choice chosen={shown === TOGETHER} onChoose={() => setShown(TOGETHER)} name="All plates together">
            as it came out of the printer
          </Choice>
        )}
        {made.ink_order.length > 0 && (
          <Typography variant="body2" sx={{ px: 1, pt: 1 }}>
            Laid down in this order, the first next to the media: {made.ink_order.join(", ")}.
          </Typography>
        )}
        {made.plates.map((one) => (
          <Choice
            key={one.ink}
            plate={one.ink}
            chosen={shown === one.ink}
            onChoose={() => setShown(one.ink)}
            name={<span style={{ fontFamily: MONO }}>{one.ink}</span>}
            sign={one.role && <RoleSign role={one.role} />}
          >
            {one.prints
              ? `prints, covers ${(one.coverage * 100).toFixed(2)} %`
              : "goes to the cutter, does not print"}
          </Choice>
        ))}
      </Stack>
    </Stack>
  );
}

interface ChoiceProps {
  name: ReactNode;
  sign?: ReactNode;
  plate?: string;
  chosen: boolean;
  onChoose: () => void;
  children: ReactNode;
}

function Choice({ name, sign, plate, chosen, onChoose, children }: ChoiceProps) {
  return (
    <Box role="listitem">
      <Box
        component="button"
        type="button"
        aria-pressed={chosen}
        onClick={onChoose}
        data-plate={plate}
        sx={{
          width: "100%",
          textAlign: "left",
          border: 0,
          p: 1,
          font: "inherit",
          cursor: "pointer",
          bgcolor: chosen ? "#DDE8E8" : "#F4F4F4",
        }}
      >
        <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
          <b style={{ flex: 1 }}>{name}</b>
          {sign}
        </Stack>
        <Typography variant="body2" color="text.secondary">
          {children}
        </Typography>
      </Box>
    </Box>
  );
}
