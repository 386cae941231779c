/** Texts of the stage: rulers, tools and what is drawn on it. */
export const stage = {
  noInk: "no ink",
  hidden: ", hidden",
  actualSizeOnThisMonitor: "Actual size on this monitor",
  holdABankCardAgainst:
    "Hold a bank card against the screen and move the slider until the drawn one is as wide.",
  aCard856Mm: "a card 85.6 mm wide",
  pixelsToTheMillimetre: "pixels to the millimetre",
  backTo96ToThe: "Back to 96 to the inch",
  keepForThisMonitor: "Keep for this monitor",
  tape: "Tape",
  cutOpen: "Cut open",
  rulersIn: (isMm: boolean) => `rulers in ${isMm ? "millimetres" : "inches"}`,
  fit: "Fit",
  actualSizeLabel: "Actual size",
  actualSizeKey0: "actual size, key 0",
  zoomMeasureThisMonitor: (percent: string) => `zoom ${percent}; measure this monitor`,
  ofActualSizeOnThis: "of actual size on this monitor",
  ofActualSizeAt96: "of actual size at 96 pixels to the inch; press to measure your monitor",
  keysFFit0Actual: (label: string, onSection: boolean) =>
    `${label}. Keys: f fit, 0 actual size, plus and minus zoom, arrows pan, t tape${onSection ? ", c cut open" : ""}, u unit; with a tool, Enter sets a point in the middle.`,
};
