/** The shelf, a page for each kind of thing that stands on it; each is shown when it is opened. */
import { Row } from "../ui/Row";
import { Button, LinearProgress, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link, useParams } from "react-router";
import { Failure } from "../help/Failure";
import type { Shelf } from "../api/client";
import { queries } from "../api/queries";
import { CheckSheetsPart } from "./CheckSheetsPart";
import { MediaPart } from "./MediaPart";
import { NamesPart } from "./NamesPart";
import { PeoplePart } from "./PeoplePart";
import { RecipesPart } from "./RecipesPart";
import { ToolsPart } from "./ToolsPart";

const PAGES: Record<string, { words: string; part: (shelf: Shelf) => ReactNode }> = {
  destinations: { words: "Destinations", part: (shelf) => <NamesPart shelf={shelf} /> },
  media: { words: "Media", part: (shelf) => <MediaPart shelf={shelf} /> },
  tools: { words: "Tools", part: (shelf) => <ToolsPart shelf={shelf} /> },
  checks: { words: "Checks", part: () => <CheckSheetsPart /> },
  recipes: { words: "Recipes", part: () => <RecipesPart /> },
  people: { words: "People", part: () => <PeoplePart /> },
};

export function ShelfPage() {
  const { page = "destinations" } = useParams();
  const shelf = useQuery(queries.shelf());
  if (shelf.isPending) return <LinearProgress aria-label="loading" />;
  if (shelf.isError) return <Failure of={shelf.error} />;
  return (
    <Stack spacing={3} sx={{ p: 3, maxWidth: 1000 }}>
      <Row spacing={2}>
        <Typography variant="h1">Shelf</Typography>
        <Stack component="nav" aria-label="shelf" direction="row" spacing={1}>
          {Object.entries(PAGES).map(([name, { words }]) => (
            <Button
              key={name}
              component={Link}
              to={`/shelf/${name}`}
              aria-current={name === page ? "page" : undefined}
              sx={{ borderBottom: name === page ? 2 : 0, borderRadius: 0 }}
            >
              {words}
            </Button>
          ))}
        </Stack>
      </Row>
      {PAGES[page]?.part(shelf.data) ?? <Typography>There is no such page on the Shelf.</Typography>}
    </Stack>
  );
}
