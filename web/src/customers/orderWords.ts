/** What goes for all orders of a customer, in a line. */
import { length, plain } from "../ui/words";

/** Keys of an order with their values; lengths in the person's unit. */
export const orderWords = (order: Record<string, unknown>): string =>
  Object.entries(order)
    .map(([key, value]) => `${key.replace(/_mm$/, "").replaceAll("_", " ")} ${valueWords(key, value)}`)
    .join(", ");

function valueWords(key: string, value: unknown): string {
  if (Array.isArray(value)) return value.map((one) => String(one).replaceAll("-", " ")).join(" + ") || "–";
  if (typeof value === "number") return key.endsWith("_mm") ? length(value) : plain(value);
  return String(value).replaceAll("-", " ");
}
