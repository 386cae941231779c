/** The art under the lines: the whole page once, and the part in view again, sharp. */
import { useEffect, useState } from "react";
import { MM_PER_INCH, toMm, type Box, type View } from "./geometry";

const MOST = 3_500_000;
const STILL_MS = 120;

const url = (job: number, art: string, [x0, y0, x1, y1]: Box, ppi: number) =>
  `/api/jobs/${job}/picture?x0=${x0}&y0=${y0}&x1=${x1}&y1=${y1}&ppi=${ppi.toFixed(2)}&art=${art}`;

/** The resolution at which an area stays within the pixels that a picture may have. */
const within = ([x0, y0, x1, y1]: Box, wanted: number) =>
  Math.min(wanted, Math.sqrt(MOST / (((x1 - x0) * (y1 - y0)) / MM_PER_INCH ** 2)));

interface Props {
  job: number;
  art: string;
  media: Box;
  view?: View;
  size?: [number, number];
}

export function Art({ job, art, media, view, size }: Props) {
  const [detail, setDetail] = useState<{ box: Box; ppi: number } | null>(null);
  const base = within(media, 150) * 0.6;
  useEffect(() => {
    if (!view || !size) return;
    const timer = setTimeout(() => {
      const ppi = view.k * MM_PER_INCH * window.devicePixelRatio;
      const [left, bottom] = toMm(view, [0, size[1]]);
      const [right, top] = toMm(view, [size[0], 0]);
      const box: Box = [
        Math.max(left, media[0]), Math.max(bottom, media[1]), Math.min(right, media[2]), Math.min(top, media[3]),
      ];
      const seen = box[2] > box[0] && box[3] > box[1];
      setDetail(seen && ppi > base * 1.1 ? { box, ppi: Math.min(within(box, ppi), 9000) } : null);
    }, STILL_MS);
    return () => clearTimeout(timer);
  }, [view, size, media, base]);
  return (
    <g>
      <Picture href={url(job, art, media, base)} box={media} />
      {detail && <Picture href={url(job, art, detail.box, detail.ppi)} box={detail.box} />}
    </g>
  );
}

/** A picture is drawn with y downwards; inside the stage's group it has to be turned over. */
function Picture({ href, box: [x0, y0, x1, y1] }: { href: string; box: Box }) {
  return (
    <image
      href={href}
      x={x0}
      y={-y1}
      width={x1 - x0}
      height={y1 - y0}
      transform="scale(1 -1)"
      preserveAspectRatio="none"
    />
  );
}
