"""Paints in black alone: what is in the ink of all separations, and small text that is black in several inks."""

from collections.abc import Callable

import pikepdf

from horismos.artwork.edit import edit_page
from horismos.artwork.extent import bounds_of
from horismos.artwork.model import ImageObject, Page, Paint, PaintedObject, ShadingObject, TextObject
from horismos.artwork.paints import paints_of
from horismos.artwork.recolour import repainted
from horismos.checking.measuring.blacks import rich_black
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, places_of, register
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.units import mm_from_points
from horismos.words import plural

SIZE = Setting(
    "below_pt", SettingKind.NUMBER, "The size below which text counts as small", 12.0, "pt", 1.0, 500.0, habit=True
)
"""[ours] the same as the limit of the check that is shipped."""
TOUCHES = frozenset([Facet.ART, Facet.LOOK, Facet.NAMES])
Tint = Callable[[MendContext, Page, PaintedObject, Paint], float | None]
"""The tint of black that a paint of an object becomes; None where it stays."""


def _registration(before: MendContext, page: Page, obj: PaintedObject, paint: Paint) -> float | None:
    """The tint of what is in all separations and reaches into the trim box; marks lie outside."""
    tint = dict(paint.inks).get("All", 0.0)
    if tint <= 0:
        return None
    x0, y0, x1, y1 = page.boxes.trim
    place = bounds_of(page, obj)
    return tint if place and place[0] < x1 and place[2] > x0 and place[1] < y1 and place[3] > y0 else None


def _text(before: MendContext, page: Page, obj: PaintedObject, paint: Paint) -> float | None:
    small = isinstance(obj, TextObject) and obj.size_mm < mm_from_points(float(before.step["below_pt"])) - 1e-6
    return 1.0 if small and rich_black(paint) else None


def _blackening(
    id: str, label: str, answers: tuple[str, ...], tint: Tint, settings: tuple[Setting, ...], words: str,
    nothing: str, order: int,
) -> Mend:
    """Register a mend that paints some objects in black alone."""

    def found(before: MendContext) -> dict[int, dict[int, tuple[bytes, bytes]]]:
        made = before.cached(id, lambda: {page.number: _wanted(before, page, tint) for page in before.artwork.pages})
        if not any(made.values()):
            raise NothingToDo(nothing)
        return made

    def say(before: MendContext) -> MendSummary:
        count = sum(map(len, found(before).values()))
        said = words.format(objects=plural(count, "object"), texts=plural(count, "text"))
        return MendSummary(said, {"objects": count}, lambda: places_of(before, found(before)))

    def do(before: MendContext, pdf: pikepdf.Pdf) -> None:
        for page in before.artwork.pages:
            edits = repainted(pdf, page, found(before)[page.number])
            if edits:
                edit_page(pdf, page, edits, {})

    return register(Mend(
        id=id, label=label, answers=answers, touches=TOUCHES, settings=settings, say=say, do=do, order=order,
        safe=False
    ))


def _wanted(before: MendContext, page: Page, tint: Tint) -> dict[int, tuple[bytes, bytes]]:
    out = {}
    for i, obj in enumerate(page.objects):
        if isinstance(obj, ShadingObject) or (isinstance(obj, ImageObject) and not obj.stencil):
            continue
        stroke = fill = b""
        for paint, stroking in paints_of(obj):
            black = tint(before, page, obj, paint)
            if black is not None and stroking:
                stroke = f"0 0 0 {black:.4f} K".encode()
            elif black is not None:
                fill = f"0 0 0 {black:.4f} k".encode()
        if stroke or fill:
            out[i] = stroke, fill
    return out


_blackening(
    "registration-to-black", "Paint it in black", ("ink.registration",), _registration, (),
    "Paints {objects} inside the trim box in black alone, at the same tints. Marks outside stay in every ink.",
    "Nothing inside the trim box is in the ink of all separations.", 102,
)
_blackening(
    "text-to-black", "Set small black text in black alone", ("ink.rich-black-text",), _text, (SIZE,),
    "Sets {texts} in 100 % black alone, so that nothing can show beside it. The letters stay where they are.",
    "No small text is black in several inks.", 103,
)
