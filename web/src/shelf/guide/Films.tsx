/** What the shop prints on, each like one of the examples. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import { LikeAnExample } from "./like";
import { common } from "../../texts/common";
import { guide as say } from "../../texts/guide";

export function Films({ onNext }: { onNext: () => void }) {
  const films = useQuery(queries.things("material"));
  const some = !!films.data?.things.length;
  return (
    <Stack spacing={2} component="section" aria-label={say.filmsLabel}>
      <Typography variant="body2" color="text.secondary">
        {say.theFirstOneIsThe}
      </Typography>
      <LikeAnExample
        kind="material"
        one="film"
        fields={["width_mm", "length_mm", "price_m2"]}
        named={say.film}
      />
      <Box>
        <Button variant="contained" disabled={!some} onClick={onNext}>
          {some ? common.goOn : say.oneFilmIsNeeded}
        </Button>
      </Box>
    </Stack>
  );
}
