/** The shop's machines, each like one of the examples. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import { LikeAnExample } from "./like";
import { common } from "../../texts/common";
import { guide as say } from "../../texts/guide";

export function Machines({ onNext }: { onNext: () => void }) {
  const printers = useQuery(queries.things("printer"));
  const cutters = useQuery(queries.things("cutter"));
  const both = !!printers.data?.things.length && !!cutters.data?.things.length;
  return (
    <Stack spacing={3} component="section" aria-label={say.machinesLabel}>
      <Typography variant="h2">{say.printer}</Typography>
      <LikeAnExample kind="printer" one="printer" fields={["width_mm", "margin_mm"]} named={say.printer} />
      <Typography variant="h2">{say.cutter}</Typography>
      <LikeAnExample
        kind="cutter"
        one="cutter"
        fields={["width_mm", "side_margin_mm", "camera"]}
        named={say.cutter}
      />
      <Box>
        <Button variant="contained" disabled={!both} onClick={onNext}>
          {both ? common.goOn : say.aPrinterAndACutter}
        </Button>
      </Box>
    </Stack>
  );
}
