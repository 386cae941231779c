/** Changes of the Shelf: media, recipes, check sheets, tools, named perforations. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import {
  api,
  told,
  type Draft,
  type Pattern,
  type RecipeDraft,
  type SeenGiven,
  type Shelf,
  type ShopTools,
  type Tool,
} from "./client";
import { begun, useChange, type Stale } from "./changing";
import { queries, refresh } from "./queries";

/** Changes of the Shelf answer with the Shelf as it is now. */
const useShelfChange = <Input>(run: (input: Input) => Promise<Shelf>) => {
  const client = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (shelf) => {
      client.setQueryData(queries.shelf().queryKey, shelf);
      void client.invalidateQueries({ queryKey: ["job"] });
      void client.invalidateQueries({ queryKey: ["shared"] });
    },
  });
};

export const useAddMedia = () =>
  useShelfChange(
    (body: { material: string; title: string; width_mm: number; length_mm: number | null; roll: boolean }) =>
      told(api.POST("/api/shelf/media", { body })),
  );

export const useDropMedia = () =>
  useShelfChange((id: number) =>
    told(api.DELETE("/api/shelf/media/{media_id}", { params: { path: { media_id: id } } })),
  );

export const useLoadMedia = () =>
  useShelfChange((id: number) =>
    told(api.POST("/api/shelf/media/{media_id}/load", { params: { path: { media_id: id } } })),
  );

export const usePrice = () =>
  useShelfChange(({ material, price }: { material: string; price: number | null }) =>
    told(
      api.POST("/api/shelf/materials/{material_id}/price", {
        params: { path: { material_id: material } },
        body: { price_m2: price },
      }),
    ),
  );

const shelved: Stale = (client) => {
  void refresh(client, queries.recipes());
  void client.invalidateQueries({ queryKey: ["job"] });
};

export const useSaveRecipe = () =>
  useChange((body: RecipeDraft) => told(api.POST("/api/recipes", { body })), shelved);

export const useRemoveRecipe = () =>
  useChange(
    (recipe: number) =>
      told(api.DELETE("/api/recipes/{recipe_id}", { params: { path: { recipe_id: recipe } } })),
    shelved,
  );

/** Runs a recipe over jobs, each of the version that was seen. */
export const useRunRecipe = () =>
  useChange(
    ({ recipe, jobs }: { recipe: number; jobs: { id: number; version: number }[] }) =>
      told(
        api.POST("/api/recipes/{recipe_id}/run", { params: { path: { recipe_id: recipe } }, body: { jobs } }),
      ),
    (client) => {
      begun(client);
      void client.invalidateQueries({ queryKey: ["job"] });
      void refresh(client, queries.lists());
    },
  );

export const useSaveSheet = () =>
  useChange(
    (body: Draft) => told(api.POST("/api/sheets", { body })),
    (client) => {
      begun(client);
      void refresh(client, queries.checkSheets());
    },
  );

export const useTrySheet = () =>
  useChange((body: Draft) => told(api.POST("/api/sheets/try", { body })), begun);

/** A change of the shop's tool settings: the answer is what they are now, and jobs are looked at again. */
function useToolsChange<Input>(run: (input: Input) => Promise<ShopTools>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (tools) =>
      client.setQueryData(queries.shopTools(tools.destination, tools.material).queryKey, tools),
    onSettled: () => begun(client),
  });
}

export const useKeepTool = () =>
  useToolsChange((body: { destination: string; material: string; tool: Tool; note: string }) =>
    told(api.POST("/api/shelf/tools", { body })),
  );

/** A change of the named perforations: the answer is what they are now. */
function usePatternsChange<Input>(run: (input: Input) => Promise<Pattern[]>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (patterns) => client.setQueryData(queries.patterns().queryKey, patterns),
  });
}

export const useKeepPattern = () =>
  usePatternsChange((body: { name: string; cut_mm: number; tie_mm: number; tie_force_gf: number }) =>
    told(api.POST("/api/shelf/patterns", { body })),
  );

export const useRemovePattern = () =>
  usePatternsChange((pattern: number) =>
    told(api.DELETE("/api/shelf/patterns/{pattern_id}", { params: { path: { pattern_id: pattern } } })),
  );

export const useTestCut = () =>
  useToolsChange((body: SeenGiven) => told(api.POST("/api/shelf/tools/seen", { body })));
