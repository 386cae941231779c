/** Which of several sheets is shown. */
import { Row } from "../ui/Row";
import { Button, Typography } from "@mui/material";

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
    <Row role="group" aria-label="sheets">
      <Button disabled={shown === 1} onClick={() => onShow(shown - 1)} aria-label="the sheet before">
        ‹
      </Button>
      <Typography variant="body2">
        Sheet {shown} of {count}
      </Typography>
      <Button disabled={shown === count} onClick={() => onShow(shown + 1)} aria-label="the next sheet">
        ›
      </Button>
    </Row>
  );
}
