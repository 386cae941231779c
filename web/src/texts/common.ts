/** Texts that several screens say alike. */
export const common = {
  stop: "Stop",
  loadingLabel: "loading",
  theShop: "the shop",
  goOn: "Go on",
  turned: "Turned",
  right: "Right",
  wide: " wide",
  cut: "Cut",
  close: "Close",
  leaveIt: "Leave it",
  makeLines: "Make lines",
  undo: "Undo",
};
