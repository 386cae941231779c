/** A mark brought under the pointer by hand, and the pointer itself calibrated. */
import { Row, Spacer } from "../ui/Row";
import { Button, Stack, Typography } from "@mui/material";
import type { Bed } from "../api/client";
import { Failure } from "../help/Failure";
import { Eye } from "./Eye";
import type { Taking } from "./useTaking";
import { bench as say } from "../texts/bench";

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
      <Typography variant="h2">{calibrates ? say.calibrateThePointer : say.byHand}</Typography>
      <Eye bed={bed} at={jog.at} cross={calibrates} />
      <Row spacing={1}>
        <Button size="small" onClick={jog.finer} aria-label={say.finerStepsLabel}>
          [
        </Button>
        <Typography variant="body2" data-testid="step">
          {say.mmAPress(jog.step)}
        </Typography>
        <Button size="small" onClick={jog.coarser} aria-label={say.coarserStepsLabel}>
          ]
        </Button>
        <Spacer />
        <Typography variant="body2" data-testid="carriage">
          {jog.at[0].toFixed(2)}, {jog.at[1].toFixed(2)}
        </Typography>
      </Row>
      <Typography variant="body2" color="text.secondary">
        {calibrates ? say.aCrossWasCutIn : say.arrowKeysJogBringThe}
      </Typography>
      <Stack direction="row" spacing={1}>
        {(mark || calibrates) && (
          <Button
            variant={ready ? "outlined" : "contained"}
            onClick={taking.takeIt}
            disabled={taking.isTaking}
          >
            {calibrates ? say.thePointerIsInThe : say.markIsHereEnter(mark?.number)}
          </Button>
        )}
        {!calibrates && taking.scan && (
          <Button onClick={taking.scan} disabled={taking.isScanning}>
            {say.scanFromHere}
          </Button>
        )}
      </Stack>
      <Failure of={taking.error} />
    </Stack>
  );
}
