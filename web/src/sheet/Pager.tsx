/** Which of several sheets is shown. */
import { Row } from "../ui/Row";
import { Button, Typography } from "@mui/material";
import { sheet as say } from "../texts/sheet";

export function Pager({
  count,
  shown,
  onShow,
}: {
  count: number;
  shown: number;
  onShow: (number: number) => void;
}) {
  if (count < 2) return null;
  return (
    <Row role="group" aria-label={say.sheetsLabel}>
      <Button disabled={shown === 1} onClick={() => onShow(shown - 1)} aria-label={say.theSheetBefore}>
        ‹
      </Button>
      <Typography variant="body2">{say.sheetOf(shown, count)}</Typography>
      <Button disabled={shown === count} onClick={() => onShow(shown + 1)} aria-label={say.theNextSheet}>
        ›
      </Button>
    </Row>
  );
}
