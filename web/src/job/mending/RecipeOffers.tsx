/** The recipes that fit this job: by its customer, where it goes, or what was found on it. */
import { Failure } from "../../help/Failure";
import { Box, Button, Typography } from "@mui/material";
import { useRunRecipe } from "../../api/shelfChanges";
import type { Job } from "../../api/client";
import { plural } from "../../ui/words";

export function RecipeOffers({ job, busy }: { job: Job; busy: boolean }) {
  const run = useRunRecipe();
  const why = run.data?.[0]?.why;
  return (
    <>
      {job.recipes.map((recipe) => (
        <Box key={recipe.id} sx={{ mb: 1.5 }}>
          <Button
            variant="outlined"
            fullWidth
            disabled={busy || run.isPending}
            onClick={() => run.mutate({ recipe: recipe.id, jobs: [{ id: job.id, version: job.version }] })}
          >
            Recipe “{recipe.name}” · {plural(recipe.steps.length, "step")}
          </Button>
          <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
            {recipe.steps.map((step) => step.label).join(" · ")}
          </Typography>
        </Box>
      ))}
      <Failure of={why ? new Error(why) : run.error} />
    </>
  );
}
