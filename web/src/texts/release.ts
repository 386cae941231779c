/** Texts of the rehearsal and of the release. */
import { plural } from "./plural";

export const release = {
  linesAlsoAs: "Lines also as",
  rehearsal: "Rehearsal",
  printsLoadsAndCutsIt: (loads: number) =>
    `Prints, loads and cuts it ${loads} times on the simulated machines, each time as askew as hands lay it, and counts the pieces that are spoilt.`,
  rehearseLoadsAgain: (loads: number) => `Rehearse ${loads} loads again`,
  rehearseLoads: (loads: number) => `Rehearse ${loads} loads`,
  withBareMediaAtThe: "With bare media at the edge",
  withArtTrimmed: "With art trimmed",
  cutIntoWhenAlreadyLoose: "Cut into when already loose",
  outOfTheirTiesToo: "Out of their ties too soon",
  noPieceSpoilt: "No piece spoilt",
  ofPiecesSpoilt: (spoilt: number, pieces: number) => `${spoilt} of ${pieces} pieces spoilt`,
  ofLoadsStopAtA: (missed: number, loads: number) => `; ${missed} of ${loads} loads stop at a mark`,
  theShopDoesNotRelease: (stop: string) => `The shop does not release this. ${stop}`,
  of100Pieces95Are: "Of 100 pieces 95 are cut within",
  theWorstLiesOffBy: "The worst lies off by",
  inLoad: (worst_mm: string, worst_load: number) => `${worst_mm}, in load ${worst_load}`,
  pieceCutInLoad: (pieces: number, loads: number) =>
    `${plural(pieces, "piece")} cut in ${plural(loads, "load")}.`,
  theWorstPieceCopyAnd: (copy: number) => `the worst piece, copy ${copy}, and where its cut landed`,
  theWorstPieceCopyWith: (copy: number) => `The worst piece, copy ${copy}, with its cut as it landed.`,
};
