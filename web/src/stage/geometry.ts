/** Geometry on screen: mm with y upwards to pixels with y downwards, and the ruler's steps. */
export type Box = [number, number, number, number];

/** pixels = k * mm + x, and y - k * mm for the vertical. */
export interface View {
  k: number;
  x: number;
  y: number;
}

export const MM_PER_INCH = 25.4;
/** CSS pixels in a millimetre when a pixel is 1/96 inch. */
export const ACTUAL = 96 / MM_PER_INCH;

export const toScreen = (view: View, [x, y]: [number, number]): [number, number] => [
  view.k * x + view.x,
  view.y - view.k * y,
];

export const toMm = (view: View, [px, py]: [number, number]): [number, number] => [
  (px - view.x) / view.k,
  (view.y - py) / view.k,
];

/** The view that shows a box whole, in the middle of so many pixels. */
export function fit([x0, y0, x1, y1]: Box, width: number, height: number, margin = 40): View {
  const w = Math.max(x1 - x0, 0.1);
  const h = Math.max(y1 - y0, 0.1);
  const k = Math.max(Math.min((width - margin) / w, (height - margin) / h), 0.001);
  return { k, x: width / 2 - (k * (x0 + x1)) / 2, y: height / 2 + (k * (y0 + y1)) / 2 };
}

/** A step of 1, 2 or 5 times a power of ten that comes out at least so many pixels apart. */
export function rulerStep(k: number, pixels = 60): number {
  const least = pixels / k;
  const power = 10 ** Math.floor(Math.log10(least));
  return [1, 2, 5, 10].map((m) => m * power).find((step) => step >= least - 1e-9) ?? 10 * power;
}

export const grow = ([x0, y0, x1, y1]: Box, by: number): Box => [x0 - by, y0 - by, x1 + by, y1 + by];

/** A length in mm in words: as exact as it is of use. */
export const mm = (value: number, digits = 1): string => `${value.toFixed(digits)} mm`;

export const minutes = (seconds: number): string => {
  const whole = Math.round(seconds);
  return whole < 60 ? `${whole} s` : `${Math.floor(whole / 60)} min ${whole % 60} s`;
};
