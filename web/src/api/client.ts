/** The API, typed by its OpenAPI document. Errors carry the server's own words. */
import { sentencesIn } from "../ui/lengths";
import { unitNow } from "../ui/unit";
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";
import { api as say } from "../texts/api";

type Shapes = components["schemas"];
export type Job = Shapes["JobShown"];
export type JobRow = Shapes["JobRow"];
export type Order = Shapes["OrderShown"];
export type Finding = Shapes["FindingShown"];
export type Mend = Shapes["MendShown"];
/** What a mend is asked for by: what it brings with it may be left out. */
export type MendAsked = Pick<Mend, "kind" | "settings"> & Partial<Mend>;
export type Work = Shapes["WorkShown"];
export type WayToFit = Shapes["WayToFit"];
export type Release = Shapes["ReleaseShown"];
export type Queues = Shapes["QueuesShown"];
export type AtCutter = Shapes["AtCutter"];
export type PrintQueued = Shapes["PrintQueued"];
export type CutQueued = Shapes["CutQueued"];
export type RipReport = NonNullable<Shapes["RipGiven"]["report"]>;
export type Playback = Shapes["PlaybackShown"];
export type Bed = Shapes["BedShown"];
export type TestCut = Shapes["TestCutShown"];
export type LineFormat = NonNullable<Shapes["ReleaseAsked"]["also"]>[number];
export type HandOverWay = Shapes["WayGiven"]["way"];
export type ShelfKind = Shapes["ShelfKindShown"];
export type KindId = ShelfKind["kind"];
export type ShelfThing = Shapes["ShelfThing"];
export type ShelfThings = Shapes["ShelfThings"];
export type ShelfThingWhole = Shapes["ShelfThingWhole"];
export type ThingVersion = Shapes["ThingVersion"];
export type ShelfPreview = Shapes["ShelfPreview"];
export type ThingCompared = Shapes["ThingCompared"];
export type NameTried = Shapes["NameTried"];
export type Difference = Shapes["Difference"];
export type ShopShown = Shapes["ShopShown"];
export type Right = Shapes["Right"];
export type Staff = Shapes["Staff"];
export type RoleShown = Shapes["RoleShown"];
export type LogPage = Shapes["LogPage"];
export type RunningShown = Shapes["RunningShown"];
export type LogTopic = Shapes["LogTopic"];
export type Newer = Shapes["NewerShown"];
export type AlikeRow = Shapes["AlikeRow"];
export type Alike = Shapes["AlikeShown"];
export type AskedAlike = Shapes["AskedShown"];
export type ChosenFile = Shapes["Chosen"];
export type Answered = Shapes["Answered"];
export type Letter = Shapes["LetterShown"];
export type Corrected = Shapes["CorrectedShown"];
export type FileChange = Shapes["ChangeShown"];
export type Again = Shapes["AgainShown"];
export type CustomerRow = Shapes["CustomerRow"];
export type Customer = Shapes["CustomerShown"];
export type Figures = Shapes["FiguresShown"];
export type Laying = Shapes["LayingGiven"];
export type BedMark = Shapes["MarkOnBed"];
export type Side = Bed["side"];
export type Tool = Shapes["ToolShown"];
export type ShopTools = Shapes["ShopTools"];
export type ShopTool = Shapes["ShopToolShown"];
export type SeenGiven = Shapes["SeenGiven"];
export type SeenOutcome = SeenGiven["seen"];
export type JobChange = Shapes["JobChange"];
export type DrawnLine = Shapes["DrawnLine"];
export type Sheet = Shapes["SheetShown"];
export type SharedRow = Shapes["SharedRow"];
export type Shared = Shapes["SharedShown"];
export type SharedChange = Shapes["SharedChange"];
export type Layout = Shared["layout"];
export type Media = NonNullable<Layout["media"]>;
export type MarkKind = NonNullable<NonNullable<JobChange["marks"]>["kind"]>;
export type MediaShown = Shapes["MediaShown"];
export type Item = Shapes["ItemShown"];
export type Cut = Shapes["CutShown"];
export type PageSeen = Shapes["PageSeen"];
export type Shelf = Shapes["ShelfShown"];
export type Section = Shapes["SectionShown"];
export type Question = Shapes["Question"];
export type Answers = Shapes["AnswersGiven"];
export type Edges = Shapes["EdgesShown"];
export type EdgeProfile = Shapes["EdgeProfileShown"];
export type Landing = Shapes["LandingShown"];
export type CheckSheets = Shapes["CheckSheets"];
export type Draft = Shapes["Draft"];
export type TakenIn = Shapes["TakenInShown"];
export type Revision = Shapes["RevisionShown"];
export type Recipe = Shapes["RecipeShown"];
export type Recipes = Shapes["Recipes"];
export type RecipeDraft = Shapes["RecipeDraft"];
export type RecipeRead = Shapes["RecipeRead"];
export type RunOver = Shapes["RunShown"];
export type MendKnown = Shapes["MendKnown"];
export type Setting = Shapes["SettingKnown"];
export type Thing = Shapes["ThingShown"];
export type Making = Shapes["MakingShown"];
export type MadeLine = Shapes["MadeLineShown"];
export type StackShown = Shapes["StackShown"];
export type FabricLayer = Shapes["LayerShown"];
export type Drawn = Shapes["DrawnShown"];
export type Fabric = Shapes["FabricShown"];
export type StackSection = Shapes["StackSectionShown"];
export type StackPackage = Shapes["StackPackageShown"];
export type StackBed = Shapes["StackBed"];
export type Sewn = Shapes["SewnShown"];
export type FabricTest = Shapes["FabricTested"];

/** A stack as it is kept with the job, with its layers and their stitches. */
export type StackWanted = Shapes["Stack"];
export type LayerWanted = Shapes["Layer"];
export type SewingWanted = Shapes["Sewing"];
/** What lines are to be made of. */
export type MakeWanted = Shapes["DraftRequest"]["make"];

export const api = createClient<paths>({ baseUrl: "/" });

export const cookie = (name: string) =>
  document.cookie
    .split("; ")
    .find((part) => part.startsWith(`${name}=`))
    ?.split("=")[1] ?? "";

api.use({
  onRequest({ request }) {
    request.headers.set("X-CSRFToken", cookie("csrftoken"));
    return request;
  },
});

export class Refused extends Error {
  constructor(
    message: string,
    readonly status: number,
    readonly code: string,
  ) {
    super(message);
  }
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer, its sentences in the person's unit, or an error with the server's message. */
export async function told<T>(call: Promise<Answer<T>>): Promise<T> {
  return sentencesIn(await exact(call), unitNow());
}

/** The same letter for letter: what is written back must not have been said in another unit. */
export async function exact<T>(call: Promise<Answer<T>>): Promise<T> {
  const { data, error, response } = await call;
  if (data !== undefined && response.ok) return data;
  const said = sentencesIn(error, unitNow()) as { message?: string; code?: string } | undefined;
  throw new Refused(
    said?.message ?? say.theServerAnsweredTryAgain(response.status),
    response.status,
    said?.code ?? "",
  );
}
