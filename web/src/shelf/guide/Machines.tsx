/** The shop's machines, each like one of the examples. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import { LikeAnExample } from "./like";

export function Machines({ onNext }: { onNext: () => void }) {
  const printers = useQuery(queries.things("printer"));
  const cutters = useQuery(queries.things("cutter"));
  const both = !!printers.data?.things.length && !!cutters.data?.things.length;
  return (
    <Stack spacing={3} component="section" aria-label="machines">
      <Typography variant="h2">Printer</Typography>
      <LikeAnExample kind="printer" one="printer" fields={["width_mm", "margin_mm"]} named="Printer" />
      <Typography variant="h2">Cutter</Typography>
      <LikeAnExample
        kind="cutter"
        one="cutter"
        fields={["width_mm", "side_margin_mm", "camera"]}
        named="Cutter"
      />
      <Box>
        <Button variant="contained" disabled={!both} onClick={onNext}>
          {both ? "Go on" : "A printer and a cutter are needed"}
        </Button>
      </Box>
    </Stack>
  );
}
