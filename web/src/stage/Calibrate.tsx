/** Actual size for this monitor: a card is held against the screen and the drawn one made as wide. */
import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Slider, Typography } from "@mui/material";
import { useState } from "react";
import { calibrate, pixelsPerMm } from "./calibration";
import { stage as say } from "../texts/stage";

/** ISO/IEC 7810, ID-1: the size of bank and identity cards. */
const CARD_MM = [85.6, 53.98] as const;

export function Calibrate({ onClose }: { onClose: () => void }) {
  const [k, setK] = useState(pixelsPerMm());
  return (
    <Dialog open onClose={onClose} maxWidth="md" aria-labelledby="monitor">
      <DialogTitle id="monitor">{say.actualSizeOnThisMonitor}</DialogTitle>
      <DialogContent>
        <Typography sx={{ mb: 1 }}>{say.holdABankCardAgainst}</Typography>
        <svg
          width={Math.max(CARD_MM[0] * k + 8, 300)}
          height={CARD_MM[1] * k + 8}
          role="img"
          aria-label={say.aCard856Mm}
        >
          <rect
            x={2}
            y={2}
            width={CARD_MM[0] * k}
            height={CARD_MM[1] * k}
            rx={3.18 * k}
            fill="#F2F2F2"
            stroke="#1A1A1A"
            strokeWidth={2}
          />
          <text x={16} y={CARD_MM[1] * k - 14} fontSize={13}>
            85.60 × 53.98 mm
          </text>
        </svg>
        <Slider
          min={1.5}
          max={12}
          step={0.005}
          value={k}
          onChange={(_, v) => setK(v as number)}
          aria-label={say.pixelsToTheMillimetre}
          valueLabelDisplay="auto"
        />
      </DialogContent>
      <DialogActions>
        <Button
          onClick={() => {
            calibrate(null);
            onClose();
          }}
        >
          {say.backTo96ToThe}
        </Button>
        <Button
          variant="contained"
          onClick={() => {
            calibrate(k);
            onClose();
          }}
        >
          {say.keepForThisMonitor}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
