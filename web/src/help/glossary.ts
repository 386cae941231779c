/** The words of the trade and ours, as the project's own page has them. */
import glossary from "../../../docs/glossary.md?raw";
import { rowsOf } from "./tables";

export const GLOSSARY = rowsOf(glossary);
