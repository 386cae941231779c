"""Mirrors the pages left to right, for the back of glass: art, white and lines together."""

import pikepdf
from pikepdf import Array

from horismos.artwork.boxes import KEYS, inherited
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.page.turn import EVERYTHING_MOVES, everywhere


def _say(before: MendContext) -> MendSummary:
    pages = before.artwork.pages
    return MendSummary(
        "Mirrors art, white and lines left to right, as they are printed on the back of something clear. Sizes stay.",
        {"pages": len(pages)}, lambda: everywhere(before),
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    """Flip across the middle of the media box; on a page that is turned by a quarter left and right are its height."""
    for page, own in zip(pdf.pages, before.artwork.pages, strict=True):
        x0, y0, x1, y1 = own.boxes.raw["media"]
        upright = own.rotate % 180 == 0
        flip = f"q -1 0 0 1 {x0 + x1:.6f} 0 cm\n" if upright else f"q 1 0 0 -1 0 {y0 + y1:.6f} cm\n"
        contents = page.obj.get("/Contents", Array())
        listed = list(contents) if isinstance(contents, Array) else [contents]
        page.obj.Contents = Array([
            pdf.make_stream(flip.encode()), *listed, pdf.make_stream(b"\n" + b"Q " * (1 + own.unrestored))
        ])
        for key in (*KEYS.values(), "/ArtBox"):
            box = inherited(page.obj, key)
            if box is not None and key != "/MediaBox":
                a, b, c, d = (float(v) for v in box)
                page.obj[key] = Array([x0 + x1 - c, b, x0 + x1 - a, d] if upright else [a, y0 + y1 - d, c, y0 + y1 - b])


register(Mend(
    id="mirror", label="Mirror art, white and lines", answers=(), touches=EVERYTHING_MOVES, settings=(), say=_say,
    do=_do, safe=False, order=6, repeats=True, reveals=True
))
