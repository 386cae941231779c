/** Where the pointer shines from the blade, how old that is, and how it is calibrated. */
import { Button, Stack, Typography } from "@mui/material";
import type { Bed } from "../api/client";
import { Figure } from "../ui/Docket";

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
      <Typography variant="h2">Pointer</Typography>
      <Figure words="From the blade">
        {pointer.x_mm.toFixed(2)}, {pointer.y_mm.toFixed(2)} mm
      </Figure>
      <Typography variant="body2" color={pointer.old ? "text.primary" : "text.secondary"}>
        {pointer.when === null
          ? "As its maker says; never calibrated here. What is taken by hand is off by what is wrong of it."
          : `Calibrated by ${pointer.who || "somebody"} ${pointer.days ? `${pointer.days} days ago` : "today"}${pointer.old ? "; that is long ago" : ""}.`}
      </Typography>
      {bed.side === "front" && (
        <Button size="small" onClick={calibrates ? onLeave : onBegin} sx={{ alignSelf: "flex-start" }}>
          {calibrates ? "Leave it as it was" : "Cut a cross and calibrate"}
        </Button>
      )}
    </Stack>
  );
}
