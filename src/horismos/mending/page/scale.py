"""Scales the pages: art with its strokes and lines with their shape, while lines keep the weight that they have."""

from collections.abc import Mapping
from typing import Any

import pikepdf
from pikepdf import Array

from horismos.artwork.boxes import KEYS, inherited
from horismos.artwork.lines import outer_cut
from horismos.artwork.notes import PULLED_IN, SPREAD, note
from horismos.checking.page.boxes import PROPORTION
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, by_proposal, register
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.mending.lines.paint import repaint
from horismos.mending.page.turn import EVERYTHING_MOVES, everywhere
from horismos.units import MM_PER_POINT

RATIO = Setting("ratio", SettingKind.NUMBER, "The ratio", None, "", 0.01, 100.0, optional=True)
TO = Setting(
    "to", SettingKind.CHOICE, "To what", None, options=("order", "order-width", "order-height"), optional=True
)
"""Left open: by the ratio. Otherwise the ratio is worked out, and one that is given beside it only tells it."""


def finished_size(before: MendContext) -> tuple[float, float]:
    """What the order's size is of, in mm: the outer cut of the first page, where there is one, else its trim box."""
    page = before.artwork.pages[0]
    box = outer_cut(page, before.lines)
    if box is None:
        return page.size_mm
    in_by = 2 * page.pulled_in_mm
    return box[2] - box[0] + in_by, box[3] - box[1] + in_by


def _ratio(before: MendContext) -> float:
    """How many times as large it becomes. Raises NothingToDo where nothing says it."""
    to = str(before.step["to"])
    if not to:
        if not before.step["ratio"]:
            raise NothingToDo("By how much is not said.", "Give a ratio, or “to” as order.")
        return float(before.step["ratio"])
    width, height = finished_size(before)
    sides = [
        (wanted, wanted / found)
        for name, found, wanted in (("width", width, before.order.width_mm), ("height", height, before.order.height_mm))
        if wanted is not None and found > 0 and to in ("order", f"order-{name}")
    ]
    if not sides:
        raise NothingToDo("The order says no size.", "Say the ordered width or height first.")
    ratios = [ratio for _, ratio in sides]
    if max(ratios) / min(ratios) - 1 > PROPORTION:
        raise NothingToDo(
            f"The proportions differ by {(max(ratios) / min(ratios) - 1) * 100:.1f} %.", "Say which side holds."
        )
    return max(sides)[1]


def _label(values: Mapping[str, Any]) -> str:
    by = f"{values['ratio']:.4g}" if values["ratio"] else ""
    to = {"order": "the order", "order-width": "the ordered width", "order-height": "the ordered height"}
    if not values["to"]:
        return f"Scale by {by or '…'}"
    return f"Scale to {to[str(values['to'])]}" + (f" (× {by})" if by else "")


def _say(before: MendContext) -> MendSummary:
    ratio = _ratio(before)
    if abs(ratio - 1) < 1e-9:
        raise NothingToDo("At 1:1 nothing is scaled.")
    w, h = before.artwork.pages[0].size_mm
    return MendSummary(
        f"Makes art and lines {ratio:.6g} times as large: {w * ratio:.1f} × {h * ratio:.1f} mm instead of "
        f"{w:.1f} × {h:.1f}. Strokes of the art grow with it; lines keep their weight.",
        {"pages": len(before.artwork.pages)}, lambda: everywhere(before),
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    ratio = _ratio(before)
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
        for key, noted in ((PULLED_IN, own.pulled_in_mm), (SPREAD, own.spread_mm)):
            if noted:
                note(page.obj, key, round(noted * ratio / MM_PER_POINT / own.user_unit, 6))
        for annotation in page.obj.get("/Annots", Array()):
            annotation.Rect = Array([float(v) * ratio for v in annotation.get("/Rect", [0, 0, 0, 0])])


register(Mend(
    id="scale", label=_label, answers=("page.size",), touches=EVERYTHING_MOVES, settings=(RATIO, TO), say=_say, do=_do,
    offer=by_proposal, safe=False, order=4, repeats=True, reveals=True
))
