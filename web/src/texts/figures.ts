/** Texts of the shop's figures. */
export const figures = {
  figures: "Figures",
  from: "From",
  until: "To",
  asTable: "As a table (CSV)",
  arrived: "Files that came in",
  untouched: "needed nobody",
  withoutAnybody: "Without anybody",
  others: "needed somebody",
  unknown: "came before this was counted",
  ready: "From arrival to ready",
  half: "half of them within",
  nine: "nine in ten within",
  nothingReady: "nothing was ready in this time",
  hours: (hours: number) =>
    hours < 1
      ? `${Math.max(1, Math.round(hours * 60))} min`
      : hours < 48
        ? `${hours.toFixed(1)} h`
        : `${(hours / 24).toFixed(1)} days`,
  share: (part: number, of: number) => (of ? `${Math.round((100 * part) / of)} %` : "–"),
  ofFiles: (part: number, of: number) => `${part} of ${of} files`,
  printed: "Media printed",
  waste: "Waste",
  ofArea: (waste: number, area: number) => `${waste.toFixed(2)} of ${area.toFixed(2)} m²`,
  sheets: (count: number) => `${count} ${count === 1 ? "sheet" : "sheets"}`,
  weekFrom: "week from",
  byKind: "What files came with",
  byCustomer: "By customer",
  customer: "Customer",
  files: "Files",
  faulty: "With faults",
  mostOften: "Most often",
  noFiles: "Nothing came in in this time.",
  noFaults: "No file came with a fault.",
  used: "used",
  wasted: "waste",
  squareMetres: "m²",
  noCustomer: "no customer",
  noneReleased: "Nothing was released in this time.",
};
