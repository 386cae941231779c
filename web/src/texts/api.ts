/** Texts for when the server does not answer as it should. */
export const api = {
  theServerAnsweredTryAgain: (status: number) => `The server answered ${status}. Try again.`,
  theFileCouldNotBe: "The file could not be read.",
  theFileCouldNotBeMade: "The file could not be made. Look at the stack again.",
};
