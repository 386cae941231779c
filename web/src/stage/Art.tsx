/** Pictures of a page under the lines: the whole once, and sharp tiles of what is in view. */
import { inView, MM_PER_INCH, tilesOf, type Box, type View } from "./geometry";

const BASE_PIXELS = 700_000;
const BASE_PPI = 100;

/** How a part of the picture is asked for. */
export type Source = (box: Box, ppi: number) => string;

export const artOf =
  (job: number, art: string, view = "art", revision = 0, preview = 0): Source =>
  ([x0, y0, x1, y1], ppi) =>
    `/api/jobs/${job}/picture?x0=${x0}&y0=${y0}&x1=${x1}&y1=${y1}&ppi=${ppi.toFixed(3)}&view=${view}&revision=${revision}${preview ? `&preview=${preview}` : ""}&of=${art.slice(0, 12)}`;

interface Props {
  source: Source;
  media: Box;
  view?: View;
  size?: [number, number];
}

export function Art({ source, media, view, size }: Props) {
  const area = ((media[2] - media[0]) * (media[3] - media[1])) / MM_PER_INCH ** 2;
  const base = Math.min(BASE_PPI, Math.sqrt(BASE_PIXELS / area));
  const fine = view && size && view.k * MM_PER_INCH * window.devicePixelRatio > base * 1.05;
  const tiles = fine ? tilesOf(media, inView(view, size), view.k * window.devicePixelRatio) : [];
  return (
    <g>
      <Picture href={source(media, base)} box={media} />
      <clipPath id="page">
        <rect x={media[0]} y={media[1]} width={media[2] - media[0]} height={media[3] - media[1]} />
      </clipPath>
      <g clipPath="url(#page)">
        {tiles.map((tile) => (
          <Picture key={tile.key} href={source(tile.box, tile.ppi)} box={tile.box} />
        ))}
      </g>
    </g>
  );
}

/** A picture is drawn with y downwards; inside the stage's group it has to be turned over. */
export function Picture({ href, box: [x0, y0, x1, y1], sharp }: { href: string; box: Box; sharp?: boolean }) {
  return (
    <image
      href={href}
      x={x0}
      y={-y1}
      width={x1 - x0}
      height={y1 - y0}
      transform="scale(1 -1)"
      preserveAspectRatio="none"
      style={sharp ? { imageRendering: "pixelated" } : undefined}
    />
  );
}
