"""Scales the pages: art with its strokes and lines with their shape, while lines keep the weight that they have."""

import re
from collections.abc import Iterable, Mapping

import pikepdf
from pikepdf import Array

from horismos.artwork.boxes import KEYS, inherited
from horismos.checking.engine.findings import Finding
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Before, Mend, Said, register
from horismos.mending.engine.settings import Kind, Setting, Value
from horismos.mending.lines.paint import repaint
from horismos.mending.page.turn import EVERYTHING_MOVES, everywhere

RATIO = Setting("ratio", Kind.NUMBER, "The ratio", None, "", 0.01, 100.0)
DRAWN_AT = re.compile(r"drawn at ([\d.]+):([\d.]+)")


def _say(before: Before) -> Said:
    ratio = float(before.step["ratio"])
    if abs(ratio - 1) < 1e-9:
        raise NothingToDo("At 1:1 nothing is scaled.")
    w, h = before.artwork.pages[0].size_mm
    return Said(
        f"Makes art and lines {ratio:g} times as large: {w * ratio:.1f} × {h * ratio:.1f} mm instead of "
        f"{w:.1f} × {h:.1f}. Strokes of the art grow with it; lines keep their weight.",
        {"pages": len(before.artwork.pages)}, lambda: everywhere(before),
    )


def _do(before: Before, pdf: pikepdf.Pdf) -> None:
    ratio = float(before.step["ratio"])
    stroked = [line for line in before.lines if line.strokes and line.object.state.line_width]
    thinner = {line: f"{line.object.state.line_width / ratio:.6f} w".encode() for line in stroked}
    repaint(before, pdf, [line for line in stroked if line.contours], thinner.__getitem__, {})
    for page, own in zip(pdf.pages, before.artwork.pages, strict=True):
        for key in (*KEYS.values(), "/ArtBox"):
            box = inherited(page.obj, key)
            if box is not None:
                page.obj[key] = Array([float(v) * ratio for v in box])
        contents = page.obj.get("/Contents", Array())
        listed = list(contents) if isinstance(contents, Array) else [contents]
        begin = pdf.make_stream(f"q {ratio:.8f} 0 0 {ratio:.8f} 0 0 cm\n".encode())
        page.obj.Contents = Array([begin, *listed, pdf.make_stream(b"\n" + b"Q " * (1 + own.unrestored))])
        for annotation in page.obj.get("/Annots", Array()):
            annotation.Rect = Array([float(v) * ratio for v in annotation.get("/Rect", [0, 0, 0, 0])])


def _offer(mend: Mend, finding: Finding) -> Iterable[Mapping[str, Value]]:
    """The plain ratio that the check has found, the other way round: drawn at 1:10 it has to grow tenfold."""
    found = DRAWN_AT.search(finding.message)
    if found:
        yield {"ratio": float(found[2]) / float(found[1])}


register(Mend(
    "scale", "Scale by {ratio:g}", ("page.size",), EVERYTHING_MOVES, (RATIO,), _say, _do, offer=_offer, safe=False,
    order=4, repeats=True, reveals=True,
))
