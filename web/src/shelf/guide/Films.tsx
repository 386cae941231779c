/** What the shop prints on, each like one of the examples. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import { LikeAnExample } from "./like";

export function Films({ onNext }: { onNext: () => void }) {
  const films = useQuery(queries.things("material"));
  const some = !!films.data?.things.length;
  return (
    <Stack spacing={2} component="section" aria-label="films">
      <Typography variant="body2" color="text.secondary">
        The first one is the usual one. Strata, drying and the rest are changed on the Shelf.
      </Typography>
      <LikeAnExample kind="material" one="film" fields={["width_mm", "length_mm", "price_m2"]} named="Film" />
      <Box>
        <Button variant="contained" disabled={!some} onClick={onNext}>
          {some ? "Go on" : "One film is needed"}
        </Button>
      </Box>
    </Stack>
  );
}
