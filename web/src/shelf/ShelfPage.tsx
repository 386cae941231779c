/** The Shelf: what is on it by kinds, in groups; each page is shown when it is opened. */
import { Box, Button, LinearProgress, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link, useParams } from "react-router";
import type { Shelf } from "../api/client";
import { queries } from "../api/queries";
import { Failure } from "../help/Failure";
import { CheckSheetsPart } from "./CheckSheetsPart";
import { LogPart } from "./LogPart";
import { MediaPart } from "./MediaPart";
import { MovePart } from "./MovePart";
import { NamesPart } from "./NamesPart";
import { PeoplePart } from "./PeoplePart";
import { GROUPS, placeOf } from "./places";
import { RunningPart } from "./RunningPart";
import { RecipesPart } from "./RecipesPart";
import { ThingPage } from "./ThingPage";
import { ThingsPart } from "./ThingsPart";
import { ToolsPart } from "./ToolsPart";
import { common } from "../texts/common";
import { shelf as say } from "../texts/shelf";

/** What stands on a page beside, or in place of, the list of things of its kind. */
const ABOVE: Record<string, (shelf: Shelf) => ReactNode> = {
  media: (shelf) => <MediaPart shelf={shelf} />,
  tool: (shelf) => <ToolsPart shelf={shelf} />,
  "check-sheet": () => <CheckSheetsPart />,
  recipe: () => <RecipesPart />,
  shop: () => <MovePart />,
  people: () => <PeoplePart />,
  log: () => <LogPart />,
  running: () => <RunningPart />,
};
const BELOW: Record<string, (shelf: Shelf) => ReactNode> = {
  destination: (shelf) => <NamesPart shelf={shelf} />,
};

export function ShelfPage() {
  const { page = "destination", thing } = useParams();
  const shelf = useQuery(queries.shelf());
  const place = placeOf(page);
  return (
    <Stack direction="row" sx={{ height: "100%" }}>
      <Pages here={place?.name ?? ""} />
      <Box sx={{ flex: 1, minWidth: 0, overflow: "auto", p: 3 }}>
        <Stack spacing={3} sx={{ maxWidth: 1040 }}>
          {shelf.isPending && <LinearProgress aria-label={common.loadingLabel} />}
          <Failure of={shelf.error} />
          {!place && <Typography>{say.thereIsNoSuchPage}</Typography>}
          {place && shelf.data && !thing && ABOVE[place.name]?.(shelf.data)}
          {place?.kind &&
            (thing ? (
              <ThingPage key={thing} kind={place.kind} id={thing} />
            ) : (
              <ThingsPart key={place.kind} kind={place.kind} second={place.name in ABOVE} />
            ))}
          {place && shelf.data && !thing && BELOW[place.name]?.(shelf.data)}
        </Stack>
      </Box>
    </Stack>
  );
}

function Pages({ here }: { here: string }) {
  return (
    <Box
      component="nav"
      aria-label={say.shelfLabel}
      sx={{
        width: 190,
        flex: "none",
        overflow: "auto",
        bgcolor: "background.paper",
        borderRight: "1px solid",
        borderColor: "divider",
        py: 2,
      }}
    >
      {GROUPS.map(([words, places]) => (
        <Box key={words} sx={{ mb: 1.5 }}>
          <Typography variant="body2" color="text.secondary" sx={{ px: 2 }}>
            {words}
          </Typography>
          {places.map((one) => (
            <Button
              key={one.name}
              component={Link}
              to={`/shelf/${one.name}`}
              aria-current={one.name === here ? "page" : undefined}
              sx={{
                display: "block",
                width: "100%",
                px: 2,
                py: 0.25,
                borderRadius: 0,
                borderLeft: 3,
                borderColor: one.name === here ? "primary.main" : "transparent",
                bgcolor: one.name === here ? "action.selected" : undefined,
              }}
            >
              {one.words}
            </Button>
          ))}
        </Box>
      ))}
    </Box>
  );
}
