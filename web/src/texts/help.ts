/** Texts of the help panel and of failures; what it teaches stands in its tables. */
export const help = {
  helpLabel: "Help",
  whatThisPlaceIsFor: "What this place is for, key ?",
  whatMeans: (value: string) => `What ${value} means`,
  whatThisMeansAndWhat: "What this means, and what to do",
  helpLabel2: "help",
  whatThisMeans: "What this means",
  about: (title: string) => `About ${title}`,
  mostOften: "Most often",
  keys: "Keys",
  words: "Words",
  lookingItUp: "Looking it up…",
  thereIsNoEntryFor: "There is no entry for it.",
  aStopNothingIsReleased: "A stop: nothing is released while it is open.",
  aLookSomebodyHasTo: "A look: somebody has to decide, then it may be released.",
  aNoteItIsOnly: "A note: it is only to be known.",
  shippedWithTheLimitThe: (limits: string) =>
    `Shipped with the limit ${limits}; the shop sets it on the Shelf, under Checks.`,
  whatToDo: "What to do",
  pressTheCardTheStage: "Press the card: the stage goes to the place.",
  pressTheMendThatStands:
    "Press the mend that stands first on it; “Look first” shows before and after. Every mend can be undone.",
  whereThereIsNoMend: "Where there is no mend, ask the customer: “Letter…” writes what to change.",
  whereItMayStaySay: "Where it may stay, say why and accept it.",
  whatTakesTheRoomStands:
    "What takes the room stands in the message. Press one of the buttons, or load something larger.",
  openCheckMendWhatIs: "Open Check, mend what is red, or let it pass with a reason if you may.",
  waitUntilTheWorkThat: "Wait until the work that is shown on top is done, then press again.",
  somebodyElseOrAnotherWindow:
    "Somebody else, or another window, was faster. Look at it as it is now, and do it again.",
  itIsAsYouWant: "It is as you want it already. Nothing was changed.",
  askTheCustomerForThe: "Ask the customer for the file again, as PDF if they can.",
  makeTheFileSimplerFewer: "Make the file simpler: fewer nodes, smaller pictures. The original is kept.",
  askTheCustomerForThePassword: "Ask the customer for the password, or for a file without one.",
  somebodyWithTheRightFor: "Somebody with the right for it has to press it.",
  pressTheButtonInThe: "Press the button in the message: it does both at once.",
  theMessageSaysTheNext: "The message says the next step. Nothing was lost: what was there before stands.",
};
