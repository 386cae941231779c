/** The API, typed by its OpenAPI document. Errors carry the server's own words. */
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

type Shapes = components["schemas"];
export type Job = Shapes["JobShape"];
export type JobRow = Shapes["JobRow"];
export type Order = Shapes["OrderShape"];
export type Finding = Shapes["FindingShape"];
export type Mend = Shapes["Mend"];
export type Work = Shapes["WorkShape"];
export type Release = Shapes["ReleaseShape"];
export type Playback = Shapes["PlaybackShape"];
export type Tool = Shapes["ToolShape"];
export type JobChange = Shapes["JobChange"];
export type DrawnLine = Shapes["DrawnLine"];
export type Sheet = Shapes["SheetShape"];
export type Shelf = Shapes["Shelf"];
export type Section = Shapes["SectionShape"];
export type Question = Shapes["QuestionShape"];
export type Answers = Shapes["AnswersShape"];
export type Edges = Shapes["EdgesShape"];
export type EdgeProfile = Shapes["EdgeProfileShape"];
export type Landing = Shapes["LandingShape"];
export type CheckSheets = Shapes["CheckSheets"];
export type Draft = Shapes["Draft"];
export type TakenIn = Shapes["TakenIn"];

export const api = createClient<paths>({ baseUrl: "/" });

export const cookie = (name: string) =>
  document.cookie.split("; ").find((part) => part.startsWith(`${name}=`))?.split("=")[1] ?? "";

api.use({
  onRequest({ request }) {
    request.headers.set("X-CSRFToken", cookie("csrftoken"));
    return request;
  },
});

export class Refused extends Error {
  constructor(message: string, readonly status: number) {
    super(message);
  }
}

/** The data of an answer, or an error with the server's message. */
export async function told<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error, response } = await call;
  if (data !== undefined && response.ok) return data;
  const message = (error as { message?: string } | undefined)?.message;
  throw new Refused(message ?? `The server answered ${response.status}. Try again.`, response.status);
}
