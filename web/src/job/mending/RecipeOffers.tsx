/** What this customer's files were given before, and the recipes that fit: by customer, destination, or what was found. */
import { Failure } from "../../help/Failure";
import { Box, Button, Typography } from "@mui/material";
import { useAlways, useMendAsBefore } from "../../api/changes";
import { useMay } from "../../api/may";
import { useRunRecipe } from "../../api/shelfChanges";
import type { Job } from "../../api/client";
import { mending as say } from "../../texts/mending";

export function RecipeOffers({ job, busy }: { job: Job; busy: boolean }) {
  const run = useRunRecipe();
  const again = useMendAsBefore(job.id);
  const why = run.data?.[0]?.why;
  const before = job.as_before;
  return (
    <>
      {before && (
        <Box sx={{ mb: 1.5 }} data-testid="as-before">
          <Button
            variant="outlined"
            fullWidth
            disabled={busy || again.isPending}
            onClick={() => again.mutate(undefined)}
          >
            {say.asForMend(before.name, before.mends.length)}
          </Button>
          <Typography variant="body2" color="text.secondary" sx={{ mt: 0.5 }}>
            {before.mends.map((mend) => mend.label).join(" · ")}
          </Typography>
        </Box>
      )}
      <Failure of={again.error} />
      {job.always && <Always job={job} always={job.always} />}
      {job.recipes.map((recipe) => (
        <Box key={recipe.id} sx={{ mb: 1.5 }}>
          <Button
            variant="outlined"
            fullWidth
            disabled={busy || run.isPending}
            onClick={() => run.mutate({ recipe: recipe.id, jobs: [{ id: job.id, version: job.version }] })}
          >
            {say.recipeStep(recipe.name, recipe.steps.length)}
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

/** What people have done alike to several files of the customer, to be done always from now on. */
function Always({ job, always }: { job: Job; always: NonNullable<Job["always"]> }) {
  const keep = useAlways(job.id);
  const may = useMay("edit-shelf");
  return (
    <Box sx={{ mb: 1.5 }} data-testid="always">
      <Typography variant="body2">
        {say.alwaysFor(
          job.customer,
          always.mends.map((mend) => mend.label).join(", "),
          always.jobs.join(", "),
        )}
      </Typography>
      {may ? (
        <>
          <Button variant="outlined" disabled={keep.isPending} onClick={() => keep.mutate(true)}>
            {say.always}
          </Button>
          <Button disabled={keep.isPending} onClick={() => keep.mutate(false)}>
            {say.notThis}
          </Button>
        </>
      ) : (
        <Typography variant="body2" color="text.secondary">
          {say.whoeverChangesTheShelf}
        </Typography>
      )}
      <Failure of={keep.error} />
    </Box>
  );
}
