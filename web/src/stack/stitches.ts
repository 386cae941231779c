/** Stitches on screen: how many are sewn of which seam, where the needle is. */

export interface Seam {
  colour: string;
  points: number[];
}

/** How many needle points there are before each seam, and behind the last. */
export function countsOf(seams: Seam[]): number[] {
  const out = [0];
  for (const seam of seams) out.push((out.at(-1) ?? 0) + seam.points.length / 2);
  return out;
}

/** The seam that the n-th needle point is of, from 0; the last one where there are fewer. */
export function seamAt(counts: number[], n: number): number {
  let low = 0;
  let high = Math.max(counts.length - 2, 0);
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((counts[middle] ?? 0) <= n) low = middle;
    else high = middle - 1;
  }
  return low;
}

interface Kinds extends Seam {
  layer: number;
  kinds: { kind: string }[];
}

/** Which layers lie when n points are sewn: those that are sewn already, but for the line that they are laid by. */
export function laidAt(seams: Kinds[], counts: number[], n: number): Set<number> {
  const out = new Set<number>();
  seams.forEach((seam, i) => {
    if ((counts[i] ?? 0) <= n && seam.kinds[0]?.kind !== "placement") out.add(seam.layer);
  });
  return out;
}

/** Where the needle is when n points are sewn, in mm; null before the first. */
export function needleAt(seams: Seam[], counts: number[], n: number): [number, number] | null {
  if (n <= 0) return null;
  const at = seamAt(counts, n - 1);
  const k = 2 * (n - 1 - (counts[at] ?? 0));
  const [x, y] = [seams[at]?.points[k], seams[at]?.points[k + 1]];
  return x === undefined || y === undefined ? null : [x, y];
}

/** How many needle points were sewn at a time, by when the needle was down in each. */
export function sewnAt(times: number[][], time: number): number {
  let count = 0;
  for (const seam of times) {
    if ((seam[0] ?? 0) > time) break;
    if ((seam.at(-1) ?? 0) <= time) count += seam.length;
    else {
      let low = 0;
      let high = seam.length;
      while (low < high) {
        const middle = (low + high) >> 1;
        if ((seam[middle] ?? 0) <= time) low = middle + 1;
        else high = middle;
      }
      count += low;
    }
  }
  return count;
}

/** A colour some steps darker, for the shade between two threads. */
export function darker(colour: string, by = 0.6): string {
  const parts = [1, 3, 5].map((i) => Math.round(parseInt(colour.slice(i, i + 2), 16) * by));
  return parts.some(Number.isNaN) ? "#333333" : `rgb(${parts.join(", ")})`;
}
