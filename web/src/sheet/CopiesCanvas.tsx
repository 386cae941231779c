/** Very many copies on a canvas: each item is drawn once at the scale that is seen, and laid down as a picture. */
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import type { Item, Sheet } from "../api/client";
import { MM_PER_INCH, grow, inView, type Box, type View } from "../stage/geometry";
import { lookOf } from "../ui/roles";
import { copiesOf, movedBox, type Matrix } from "./hand";
import type { ItemArt } from "./target";
import { sheet as say } from "../texts/sheet";

const MOST_SPRITE_PX = 1400;
const ART_PPI = 150;
const LINE_PX = 1.6;

interface Props {
  sheet: Sheet;
  arts: ItemArt[];
  view: View;
  size: [number, number];
  over: [number, number];
  /** As it lies before the cutter: the other way round where it is mirrored. */
  printed?: boolean;
}

/** The pictures of the items, as soon as they are there. */
function usePictures(arts: ItemArt[]): (HTMLImageElement | null)[] {
  const [loaded, setLoaded] = useState(0);
  const addresses = arts.map(({ source, media }) => source(media, ART_PPI)).join("\n");
  const pictures = useMemo(
    () =>
      addresses.split("\n").map((address) => {
        const picture = new Image();
        picture.src = address;
        return picture;
      }),
    [addresses],
  );
  useEffect(() => {
    const heard = () => setLoaded((n) => n + 1);
    pictures.forEach((picture) => picture.addEventListener("load", heard));
    return () => pictures.forEach((picture) => picture.removeEventListener("load", heard));
  }, [pictures]);
  return useMemo(
    () => pictures.map((picture) => (picture.complete && picture.naturalWidth ? picture : null)),
    // a picture that has come is another state of the same list
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [pictures, loaded],
  );
}

/** One copy of an item in pixels of the screen; y goes down. */
function sprite(item: Item, picture: HTMLImageElement | null, media: Box, scale: number, sheet: Sheet) {
  const [x0, y0, x1, y1] = item.clip as Box;
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.ceil((x1 - x0) * scale));
  canvas.height = Math.max(1, Math.ceil((y1 - y0) * scale));
  const pen = canvas.getContext("2d");
  if (!pen) return canvas;
  const mm = () => pen.setTransform(scale, 0, 0, -scale, -x0 * scale, y1 * scale);
  mm();
  if (picture && sheet.makes !== "cut") {
    pen.save();
    if (item.clip_path) pen.clip(new Path2D(item.clip_path));
    pen.transform(1, 0, 0, -1, 0, 0);
    pen.drawImage(picture, media[0], -media[3], media[2] - media[0], media[3] - media[1]);
    pen.restore();
  }
  mm();
  if (sheet.makes !== "print")
    for (const line of item.lines) {
      pen.strokeStyle = lookOf(line.role).colour;
      pen.lineWidth = (LINE_PX * window.devicePixelRatio) / scale;
      pen.stroke(new Path2D(line.path));
    }
  return canvas;
}

export function CopiesCanvas({ sheet, arts, view, size, over: [ox, oy], printed }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const pictures = usePictures(arts);
  const copies = useMemo(
    () =>
      copiesOf(sheet).map(({ item, matrix: [a, b, c, d, e, f] }) => {
        const over = printed && sheet.mirrored;
        const matrix: Matrix = over ? [-a, b, -c, d, sheet.width_mm - e, f] : [a, b, c, d, e, f];
        return { item, matrix, box: movedBox(matrix, (sheet.items[item]?.clip ?? [0, 0, 0, 0]) as Box) };
      }),
    [sheet, printed],
  );
  const [width, height] = [size[0] + 2 * ox, size[1] + 2 * oy];
  useLayoutEffect(() => {
    const element = canvas.current;
    const pen = element?.getContext("2d");
    if (!element || !pen) return;
    const ratio = window.devicePixelRatio;
    element.width = Math.round(width * ratio);
    element.height = Math.round(height * ratio);
    const seen = grow(inView(view, size), Math.max(ox, oy) / view.k);
    const sprites = sheet.items.map((item, i) => {
      const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = item.clip;
      const most = MOST_SPRITE_PX / Math.max(x1 - x0, y1 - y0, 1 / MM_PER_INCH);
      const media = arts[i]?.media ?? ([0, 0, 1, 1] as Box);
      return item.clip.length
        ? sprite(item, pictures[i] ?? null, media, Math.min(view.k * ratio, most), sheet)
        : null;
    });
    const k = ratio * view.k;
    const [x, y] = [ratio * (view.x + ox), ratio * (view.y + oy)];
    for (const copy of copies) {
      const picture = sprites[copy.item];
      const clip = sheet.items[copy.item]?.clip as Box | undefined;
      if (!picture || !clip) continue;
      const [a, b, c, d, e, f] = copy.matrix;
      const [bx0, by0, bx1, by1] = copy.box;
      if (bx0 > seen[2] || bx1 < seen[0] || by0 > seen[3] || by1 < seen[1]) continue;
      // mm of the copy with y downwards, to pixels
      pen.setTransform(k * a, -k * b, -k * c, k * d, k * e + x, y - k * f);
      pen.drawImage(picture, clip[0], -clip[3], clip[2] - clip[0], clip[3] - clip[1]);
    }
  }, [sheet, arts, copies, pictures, view, size, ox, oy, width, height]);
  return (
    <canvas
      ref={canvas}
      data-testid="copies"
      data-count={copies.length}
      role="img"
      aria-label={say.copies(copies.length)}
      style={{ position: "absolute", left: -ox, top: -oy, width, height, pointerEvents: "none" }}
    />
  );
}
