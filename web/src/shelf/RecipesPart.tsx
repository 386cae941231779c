/** The recipes on the Shelf: written, bound, run over jobs, exported and imported; their versions stay. */
import { Row } from "../ui/Row";
import { Failure } from "../help/Failure";
import {
  Box,
  Button,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useRemoveRecipe } from "../api/shelfChanges";
import { type Recipe, type RecipeRead } from "../api/client";
import { queries } from "../api/queries";
import { moment, plural } from "../ui/words";
import { ImportButton } from "./ImportButton";
import { RecipeDialog, type RecipeStart } from "./RecipeDialog";
import { RunOver } from "./RunOver";

export function RecipesPart() {
  const shelf = useQuery(queries.recipes());
  const remove = useRemoveRecipe();
  const [editing, setEditing] = useState<RecipeStart | null>(null);
  const [running, setRunning] = useState<Recipe | null>(null);
  const [problem, setProblem] = useState("");
  return (
    <Stack spacing={1.5} component="section" aria-label="recipes">
      <Row spacing={1}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          Recipes
        </Typography>
        <ImportButton
          to="/api/recipes/import"
          label="recipe to import"
          onRead={(said: RecipeRead) => {
            setProblem("");
            setEditing({ name: said.name, steps: said.steps });
          }}
          onRefused={setProblem}
        />
        <Button variant="outlined" onClick={() => setEditing({ name: "", steps: [] })}>
          Write one…
        </Button>
      </Row>
      <Typography variant="body2" color="text.secondary">
        Mends in a row, under a name. A job's history keeps its own way as one; it is offered where it fits.
      </Typography>
      <Failure of={problem ? new Error(problem) : (shelf.error ?? remove.error)} />
      {shelf.data && !shelf.data.recipes.length && <Typography variant="body2">No recipe yet.</Typography>}
      {!!shelf.data?.recipes.length && (
        <Table size="small">
          <TableHead>
            <TableRow>
              <TableCell>Recipe</TableCell>
              <TableCell>Steps</TableCell>
              <TableCell>Offered for</TableCell>
              <TableCell />
            </TableRow>
          </TableHead>
          <TableBody>
            {shelf.data.recipes.map((recipe) => (
              <TableRow key={recipe.id} data-recipe={recipe.name} sx={{ verticalAlign: "top" }}>
                <TableCell>
                  <b>{recipe.name}</b>
                  <Typography variant="body2" color="text.secondary">
                    {recipe.versions.slice(0, 3).map((v) => (
                      <Box key={v.number} component="span" sx={{ display: "block" }}>
                        {v.number} · {v.who}, {moment(v.when)}
                        {v.note && `: ${v.note}`}
                      </Box>
                    ))}
                  </Typography>
                </TableCell>
                <TableCell>{recipe.steps.map((step) => step.label).join(" · ")}</TableCell>
                <TableCell>
                  {[...recipe.customers, ...recipe.destinations, ...recipe.findings].join(", ") || "by hand"}
                </TableCell>
                <TableCell>
                  <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap" }}>
                    <Button variant="contained" onClick={() => setRunning(recipe)}>
                      Run…
                    </Button>
                    <Button onClick={() => setEditing(recipe)} disabled={!shelf.data.may_edit}>
                      Change…
                    </Button>
                    <Button href={`/api/recipes/${recipe.id}/export`}>Export</Button>
                    <Button
                      disabled={!shelf.data.may_edit || remove.isPending}
                      onClick={() => remove.mutate(recipe.id)}
                      aria-label={`take “${recipe.name}” off, ${plural(recipe.versions.length, "version")}`}
                    >
                      Take off
                    </Button>
                  </Stack>
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      {editing && <RecipeDialog start={editing} onClose={() => setEditing(null)} />}
      {running && <RunOver recipe={running} onClose={() => setRunning(null)} />}
    </Stack>
  );
}
