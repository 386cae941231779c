/** Changes of the Shelf: media, recipes, check sheets, tools, named perforations. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import {
  api,
  cookie,
  exact,
  Refused,
  told,
  type ShelfPreview,
  type Draft,
  type KindId,
  type RecipeDraft,
  type ShelfThingWhole,
  type ShopShown,
  type SeenGiven,
  type Shelf,
  type ShopTools,
  type Tool,
} from "./client";
import { begun, useChange, type Stale } from "./changing";
import { queries, refresh } from "./queries";
import { api as say } from "../texts/api";

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

const shelved: Stale = (client) => {
  void refresh(client, queries.recipes());
  void client.invalidateQueries({ queryKey: ["job"] });
};

export const useSaveRecipe = () =>
  useChange((body: RecipeDraft) => told(api.POST("/api/recipes", { body })), shelved);

export const useRemoveRecipe = () =>
  useChange(
    (recipe: string) =>
      told(api.DELETE("/api/recipes/{recipe_id}", { params: { path: { recipe_id: recipe } } })),
    shelved,
  );

/** Runs a recipe over jobs, each of the version that was seen. */
export const useRunRecipe = () =>
  useChange(
    ({ recipe, jobs }: { recipe: string; jobs: { id: number; version: number }[] }) =>
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

export const useTestCut = () =>
  useToolsChange((body: SeenGiven) => told(api.POST("/api/shelf/tools/seen", { body })));

export interface Keeping {
  kind: KindId;
  /** The thing that is changed; none: one is made. */
  id?: string;
  title: string;
  data: Record<string, unknown>;
  note: string;
  /** The version that was on the screen. */
  seen: number;
}

/** A change of a thing: the answer is what it is now, and whatever is made of it is asked anew. */
function useThingChange<Input>(run: (input: Input) => Promise<ShelfThingWhole>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: run,
    onSuccess: (whole) => {
      client.setQueryData(queries.thing(whole.thing.id).queryKey, whole);
      everythingOfTheShelf(client);
    },
  });
}

const everythingOfTheShelf: Stale = (client) => {
  begun(client);
  for (const key of ["shelf", "recipes", "sheets", "job", "shared", "shop"])
    void client.invalidateQueries({ queryKey: [key] });
};

export const useKeepThing = () =>
  useThingChange(({ kind, id, title, data, note, seen }: Keeping) =>
    id === undefined
      ? exact(api.POST("/api/shelf/things", { body: { kind, title, data, note } }))
      : exact(
          api.PUT("/api/shelf/things/{thing_id}", {
            params: { path: { thing_id: id } },
            body: { title, data, note, seen },
          }),
        ),
  );

export const useRetireThing = () =>
  useThingChange(({ id, ...body }: { id: string; retired: boolean; note: string; seen: number }) =>
    exact(api.POST("/api/shelf/things/{thing_id}/retire", { params: { path: { thing_id: id } }, body })),
  );

export const useUsualThing = () =>
  useThingChange((id: string) =>
    exact(api.POST("/api/shelf/things/{thing_id}/usual", { params: { path: { thing_id: id } } })),
  );

export const useRemoveThing = () =>
  useChange(
    (id: string) => told(api.DELETE("/api/shelf/things/{thing_id}", { params: { path: { thing_id: id } } })),
    everythingOfTheShelf,
  );

/** What a draft would change in a job. */
export const useTryThing = () =>
  useChange(
    (body: { kind: KindId; id: string | null; title: string; data: Record<string, unknown>; job: number }) =>
      told(api.POST("/api/shelf/try", { body })),
    begun,
  );

export const useTryNames = () =>
  useMutation({
    mutationFn: (body: { pattern: string; names: string[] }) =>
      told(api.POST("/api/shelf/names/try", { body })),
  });

export const useTryCutter = () =>
  useMutation({
    mutationFn: (body: { title: string; data: Record<string, unknown> }) =>
      told(api.POST("/api/shelf/cutter/try", { body })),
  });

export function useShopChange() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Partial<ShopShown>) => told(api.PATCH("/api/shop", { body })),
    onSuccess: (shop) => {
      client.setQueryData(queries.shop().queryKey, shop);
      void refresh(client, queries.me());
    },
  });
}

export const useTryLetter = () =>
  useMutation({
    mutationFn: (body: { data: Record<string, unknown> }) =>
      told(api.POST("/api/shelf/letter/try", { body })),
  });

/** What becomes of a thing that a file and the Shelf both have, each otherwise. */
export type Chosen = "take" | "keep" | "both";

/** Sends a form with a file; the answer, or what the server says is wrong. */
async function sent<Answer>(to: string, body: FormData): Promise<Answer> {
  const answer = await fetch(to, { method: "POST", body, headers: { "X-CSRFToken": cookie("csrftoken") } });
  const said = (await answer.json()) as Answer & { message?: string; code?: string };
  if (!answer.ok) throw new Refused(said.message ?? say.theFileCouldNotBe, answer.status, said.code ?? "");
  return said;
}

const formOf = (file: File, more: Record<string, string> = {}): FormData => {
  const form = new FormData();
  form.append("file", file);
  for (const [key, value] of Object.entries(more)) form.append(key, value);
  return form;
};

export const useImportLook = () =>
  useMutation({ mutationFn: (file: File) => sent<ShelfPreview>("/api/shelf/import/look", formOf(file)) });

export const useImportTake = () =>
  useChange(
    ({ file, choices }: { file: File; choices: Record<string, Chosen> }) =>
      sent<{ things: number; media: number }>(
        "/api/shelf/import",
        formOf(file, { choices: JSON.stringify(choices) }),
      ),
    everythingOfTheShelf,
  );

export const usePutExamples = () =>
  useChange(
    (ids: string[]) => told(api.POST("/api/shelf/examples", { body: { ids } })),
    everythingOfTheShelf,
  );

export interface SpotName {
  name: string;
  role: string | null;
}

export const useNamesInFile = () =>
  useMutation({ mutationFn: (file: File) => sent<SpotName[]>("/api/shelf/names-in-file", formOf(file)) });
