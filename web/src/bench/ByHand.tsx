/** A mark brought under the pointer by hand, and the pointer itself calibrated. */
import { Row, Spacer } from "../ui/Row";
import { Button, Stack, Typography } from "@mui/material";
import type { Bed } from "../api/client";
import { Failure } from "../help/Failure";
import { Eye } from "./Eye";
import type { Taking } from "./useTaking";

interface Props {
  bed: Bed;
  taking: Taking;
  /** Whether the sheet is ready to be cut, so that there is something better to press. */
  ready: boolean;
}

export function ByHand({ bed, taking, ready }: Props) {
  const { jog, mark, calibrates } = taking;
  return (
    <Stack spacing={0.5}>
      <Typography variant="h2">{calibrates ? "Calibrate the pointer" : "By hand"}</Typography>
      <Eye bed={bed} at={jog.at} cross={calibrates} />
      <Row spacing={1}>
        <Button size="small" onClick={jog.finer} aria-label="finer steps">
          [
        </Button>
        <Typography variant="body2" data-testid="step">
          {jog.step} mm a press
        </Typography>
        <Button size="small" onClick={jog.coarser} aria-label="coarser steps">
          ]
        </Button>
        <Spacer />
        <Typography variant="body2" data-testid="carriage">
          {jog.at[0].toFixed(2)}, {jog.at[1].toFixed(2)}
        </Typography>
      </Row>
      <Typography variant="body2" color="text.secondary">
        {calibrates
          ? "A cross was cut in the leader. Bring the pointer to its middle."
          : "Arrow keys jog. Bring the cross onto the corner where the outer edges meet, or onto the middle of a filled mark."}
      </Typography>
      <Stack direction="row" spacing={1}>
        {(mark || calibrates) && (
          <Button
            variant={ready ? "outlined" : "contained"}
            onClick={taking.takeIt}
            disabled={taking.isTaking}
          >
            {calibrates ? "The pointer is in the middle" : `Mark ${mark?.number} is here (Enter)`}
          </Button>
        )}
        {!calibrates && taking.scan && (
          <Button onClick={taking.scan} disabled={taking.isScanning}>
            Scan from here
          </Button>
        )}
      </Stack>
      <Failure of={taking.error} />
    </Stack>
  );
}
