/** The groups of the Desk, by what a job needs from a person, in words. */
import { desk as say } from "../texts/desk";

export const GROUPS = {
  all: say.allOfThem,
  coming: say.beingChecked,
  answer: say.toAnswer,
  letter: say.forALetter,
  mend: say.toMend,
  look: say.toLookAt,
  unreadable: say.unreadable,
  ready: say.readyToRelease,
  released: say.released2,
} as const;
