/** Stands in for the server: answers by method and path, and what it was asked. */
type Answer = unknown;

export interface Asked {
  to: string;
  body: unknown;
}

let answers: Record<string, Answer> = {};
export const asked: Asked[] = [];

export const forget = () => {
  answers = {};
  asked.length = 0;
};

/**
 * What is answered from here on: `{ "GET /api/jobs": [...] }`; a Refusal answers with its status, a function by
 * what stands after the question mark.
 */
export const answer = (next: Record<string, Answer>) => Object.assign(answers, next);

export class Refusal {
  constructor(
    readonly status: number,
    readonly message: string,
  ) {}
}

export async function answerTo(request: Request): Promise<Response> {
  const { pathname, searchParams } = new URL(request.url);
  const to = `${request.method} ${pathname}`;
  const text = await request.text();
  const isForm = request.headers.get("content-type")?.startsWith("multipart/") ?? false;
  asked.push({ to, body: isForm ? text : text ? JSON.parse(text) : null });
  const known = answers[to];
  const found: Answer =
    typeof known === "function" ? (known as (query: URLSearchParams) => Answer)(searchParams) : known;
  if (found instanceof Refusal)
    return Response.json({ message: found.message, code: "refused" }, { status: found.status });
  return found === undefined
    ? Response.json({ message: `The test has no answer to ${to}.` }, { status: 500 })
    : Response.json(found);
}
