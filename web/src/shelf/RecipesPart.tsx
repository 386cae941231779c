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
import { moment } from "../ui/words";
import { ImportButton } from "./ImportButton";
import { RecipeDialog, type RecipeStart } from "./RecipeDialog";
import { RunOver } from "./RunOver";
import { shelf as say } from "../texts/shelf";

export function RecipesPart() {
  const shelf = useQuery(queries.recipes());
  const remove = useRemoveRecipe();
  const [editing, setEditing] = useState<RecipeStart | null>(null);
  const [running, setRunning] = useState<Recipe | null>(null);
  const [problem, setProblem] = useState("");
  return (
    <Stack spacing={1.5} component="section" aria-label={say.recipesLabel}>
      <Row spacing={1}>
        <Typography variant="h1" sx={{ flex: 1 }}>
          {say.recipes}
        </Typography>
        <ImportButton
          to="/api/recipes/import"
          label={say.recipeToImport}
          onRead={(said: RecipeRead) => {
            setProblem("");
            setEditing({ name: said.name, steps: said.steps });
          }}
          onRefused={setProblem}
        />
        <Button variant="outlined" onClick={() => setEditing({ name: "", steps: [] })}>
          {say.writeOne}
        </Button>
      </Row>
      <Typography variant="body2" color="text.secondary">
        {say.mendsInARowUnder}
      </Typography>
      <Failure of={problem ? new Error(problem) : (shelf.error ?? remove.error)} />
      {shelf.data && !shelf.data.recipes.length && <Typography variant="body2">{say.noRecipeYet}</Typography>}
      {!!shelf.data?.recipes.length && (
        <Table size="small">
          <TableHead>
            <TableRow>
              <TableCell>{say.recipe}</TableCell>
              <TableCell>{say.steps}</TableCell>
              <TableCell>{say.offeredFor}</TableCell>
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
                  {[...recipe.customers, ...recipe.destinations, ...recipe.findings].join(", ") || say.byHand}
                </TableCell>
                <TableCell>
                  <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap" }}>
                    <Button variant="contained" onClick={() => setRunning(recipe)}>
                      {say.run}
                    </Button>
                    <Button onClick={() => setEditing(recipe)} disabled={!shelf.data.may_edit}>
                      {say.change}
                    </Button>
                    <Button href={`/api/recipes/${recipe.id}/export`}>{say.exportIt}</Button>
                    <Button
                      disabled={!shelf.data.may_edit || remove.isPending}
                      onClick={() => remove.mutate(recipe.id)}
                      aria-label={say.takeOffVersion(recipe.name, recipe.versions.length)}
                    >
                      {say.takeOff}
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
