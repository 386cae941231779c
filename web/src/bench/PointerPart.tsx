/** Where the pointer shines from the blade, how old that is, and how it is calibrated. */
import { Button, Stack, Typography } from "@mui/material";
import type { Bed } from "../api/client";
import { Figure } from "../ui/Docket";
import { bench as say } from "../texts/bench";

interface Props {
  bed: Bed;
  calibrates: boolean;
  onBegin: () => void;
  onLeave: () => void;
}

export function PointerPart({ bed, calibrates, onBegin, onLeave }: Props) {
  const { pointer } = bed;
  return (
    <Stack spacing={0.5}>
      <Typography variant="h2">{say.pointer}</Typography>
      <Figure words={say.fromTheBlade}>
        {pointer.x_mm.toFixed(2)}, {pointer.y_mm.toFixed(2)} mm
      </Figure>
      <Typography variant="body2" color={pointer.old ? "text.primary" : "text.secondary"}>
        {pointer.when === null
          ? say.asItsMakerSaysNever
          : say.calibratedBy(
              pointer.who || "somebody",
              pointer.days ? say.daysAgo(pointer.days) : "today",
              pointer.old,
            )}
      </Typography>
      {bed.side === "front" && (
        <Button size="small" onClick={calibrates ? onLeave : onBegin} sx={{ alignSelf: "flex-start" }}>
          {calibrates ? say.leaveItAsItWas : say.cutACrossAndCalibrate}
        </Button>
      )}
    </Stack>
  );
}
