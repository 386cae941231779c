"""Checks of inks that print."""

from collections import Counter
from collections.abc import Iterator

from horismos.artwork.lines import inks_of_page, paints_of
from horismos.artwork.model import ImageObject, PaintedObject, PathObject, TextObject
from horismos.checking.check import rule
from horismos.checking.context import Context
from horismos.checking.findings import MOST_PLACES, Hit


@rule("ink.unknown", "look", unit="inks")
def unknown(c: Context) -> Iterator[Hit]:
    """A spot ink that is neither a line role nor a printing ink of the destination."""
    for ink in inks_of_page(c.artwork, c.page, c.destination):
        known = ink.role is not None or ink.name in c.destination.printing_inks
        if ink.kind == "spot" and not known and ink.name != "All":
            users = [o for o in c.art_objects if _names(o, ink.name)]
            yield Hit(
                f"“{ink.name}” is a spot ink that {c.destination.title} does not print. "
                "It will come out in process colours.",
                1, len(users), [c.place(o) for o in users[:MOST_PLACES]],
            )


def _names(obj: PaintedObject, ink: str) -> bool:
    return any(name == ink for paint, _ in paints_of(obj) for name, _ in paint.inks)


@rule("ink.rgb", "look")
def rgb(c: Context) -> Iterator[Hit]:
    """RGB, Lab or calibrated colour in the art, by kind of object and area."""
    found = [o for o in c.art_objects if any(paint.additive for paint, _ in paints_of(o))]
    if not found:
        return
    kinds = Counter(_kind(o) for o in found)
    listed = ", ".join(f"{n} {kind}{'s' if n != 1 else ''}" for kind, n in kinds.most_common())
    families = sorted({p.family for o in found for p, _ in paints_of(o) if p.additive})
    places = [c.place(o) for o in sorted(found, key=_kind)[:MOST_PLACES]]
    area = sum((x1 - x0) * (y1 - y0) for x0, y0, x1, y1 in places) / 100
    yield Hit(
        f"{listed} in colour that is not CMYK. The print may look different from the screen.",
        len(found), len(found), places,
        detail=f"{', '.join(families)}; bounds of {len(places)} objects cover {area:.1f} cm².",
    )


def _kind(obj: PaintedObject) -> str:
    if isinstance(obj, ImageObject):
        return "image"
    if isinstance(obj, PathObject):
        return "path"
    return "text" if isinstance(obj, TextObject) else "shading"
