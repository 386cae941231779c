/** The codes of refusals, and how tables of the project's own pages are read. */
import errors from "../../../docs/errors.md?raw";

/** The first two columns of a Markdown table, by the first. */
export function rowsOf(page: string): Map<string, string> {
  const rows = page
    .split("\n")
    .filter((line) => line.startsWith("|") && !/^\|[\s-|]+$/.test(line))
    .slice(1)
    .map((line) => line.split("|").map((cell) => cell.trim().replaceAll("`", "")));
  return new Map(rows.map(([, word = "", means = ""]) => [word, means]));
}

export const REFUSALS = rowsOf(errors);
