/** The least and the most of what people may enter, as the core's tables have them. */
import { looks } from "../api/looks";

export const limits = looks.limits;
