"""Checks of inks that print."""

from collections import Counter
from collections.abc import Iterator

import numpy as np

from horismos.artwork.extent import bounds_of
from horismos.artwork.glyphs import text_box
from horismos.artwork.model import PaintedObject, TextObject
from horismos.artwork.paints import is_additive, kind_of, paints_of
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import MOST_PLACES, Hit
from horismos.checking.engine.rules import rule
from horismos.checking.inks.disguised import candidates
from horismos.checking.inks.heavy import heavy_places
from horismos.checking.measuring.blacks import rich_black
from horismos.checking.measuring.whites import vanishes
from horismos.colour import shift_of_rgb
from horismos.comparing.facets import Facet
from horismos.units import mm_from_points
from horismos.words import are, plural


@rule("ink.unknown", "look", Facet.NAMES, Facet.ART, unit="inks")
def unknown(c: Context) -> Iterator[Hit]:
    """A spot ink that is neither a line role nor a printing ink of the destination."""
    for ink in c.inks:
        known = ink.role is not None or ink.name in c.destination.rip.printing_inks
        if ink.kind == "spot" and not known and ink.name not in ("All", "None"):
            users = [o for o in c.art_objects if _names(o, ink.name)]
            found = [one for one in candidates(c) if (one.by, one.value) == ("ink", ink.name)]
            perhaps = f" It may be a cut line: {', '.join(found[0].why)}." if found else ""
            yield Hit(
                f"“{ink.name}” is a spot ink that {c.destination.title} does not print. "
                f"It will come out in process colours.{perhaps}",
                measured=1, count=len(users), where=[c.place(o) for o in users[:MOST_PLACES]], subject=ink.name,
                candidates=found
            )


def _names(obj: PaintedObject, ink: str) -> bool:
    return any(name == ink for paint, _ in paints_of(obj) for name, _ in paint.inks)


@rule("ink.registration", "stop", Facet.ART, Facet.BOXES)
def registration(c: Context) -> Iterator[Hit]:
    """The ink of all separations on anything but marks, which lie outside the trim."""
    x0, y0, x1, y1 = c.page.boxes.trim
    found = []
    for obj in c.printed:
        if any(name == "All" and tint > 0 for paint, _ in paints_of(obj) for name, tint in paint.inks):
            place = bounds_of(c.page, obj)
            if place and place[0] < x1 and place[2] > x0 and place[1] < y1 and place[3] > y0:
                found.append(place)
    if found:
        count = len(found)
        yield Hit(
            f"{plural(count, 'object')} {are(count)} painted in the ink of all separations, which is for "
            "marks only. It lays every ink on top of each other and prints through white and varnish too.",
            measured=count, count=count, where=found[:MOST_PLACES],
        )


@rule("ink.rgb", "look", Facet.ART)
def rgb(c: Context) -> Iterator[Hit]:
    """RGB, Lab or calibrated colour in the art, by kind of object and area."""
    found = [o for o in c.art_objects if is_additive(o)]
    if not found:
        return
    kinds = Counter(kind_of(o) for o in found)
    listed = ", ".join(f"{n} {kind}{'s' if n != 1 else ''}" for kind, n in kinds.most_common())
    families = sorted({p.family for o in found for p, _ in paints_of(o) if p.additive})
    places = [c.place(o) for o in sorted(found, key=kind_of)[:MOST_PLACES]]
    area = sum((x1 - x0) * (y1 - y0) for x0, y0, x1, y1 in places) / 100
    yield Hit(
        f"{listed} in colour that is not CMYK. The print may look different from the screen.",
        measured=len(found), count=len(found), where=places,
        detail=f"{', '.join(families)}; bounds of {plural(len(places), 'object')} cover {area:.1f} cm².{_shift(found)} "
        "How much ink it lays down is up to the conversion, and not counted in the ink load.",
    )


def _shift(found: list[PaintedObject]) -> str:
    """How far the flat RGB colours move on the press profile at most; pictures are not looked into."""
    flat = {p.values for o in found for p, _ in paints_of(o) if "RGB" in p.family and len(p.values) == 3}
    if not flat:
        return ""
    return f" The flat colours move by up to ΔE {shift_of_rgb(np.array(sorted(flat))).max():.0f} when they are printed."


@rule(
    "ink.load", "look", Facet.ART, Facet.NAMES, Facet.BOXES, limit=280.0, unit="%", scope="piece",
    more={"area": (0.1, "cm²")},
)
def load(c: Context) -> Iterator[Hit]:
    """Total area coverage of the printing inks: the highest, the area above the limit, and where."""
    if not c.may_exceed(c.limit):
        return
    found = heavy_places(c, c.limit, c.more["area"])
    if found.above_cm2 > c.more["area"]:
        yield Hit(
            f"The inks come to {found.highest:.0f} % at the heaviest place, and to more than {c.limit:g} % on "
            f"{found.above_cm2:.1f} cm². So much ink does not dry, and lifts off when it is cut.",
            measured=found.highest, count=len(found.places), where=found.places,
            detail=f"Measured on plates at {c.plates.ppi:.0f} ppi; the heaviest place is first.",
        )


@rule("ink.white-overprint", "stop", Facet.ART)
def white_overprint(c: Context) -> Iterator[Hit]:
    """White (0 % of all inks) set to overprint: it will vanish."""
    found = [o for o in c.printed if any(vanishes(o))]
    if found:
        count = len(found)
        yield Hit(
            f"{plural(count, 'white object')} {are(count)} set to overprint and will vanish in print: white "
            "is no ink here but the bare media.",
            measured=count, count=count, where=[c.place(o) for o in found[:MOST_PLACES]],
        )


@rule("ink.rich-black-text", "look", Facet.ART, limit=12.0, unit="pt")
def rich_black_text(c: Context) -> Iterator[Hit]:
    """Small black text in more than one ink."""
    limit = mm_from_points(c.limit)
    found = [
        o for o in c.printed
        if isinstance(o, TextObject) and o.size_mm < limit - 1e-6 and any(rich_black(p) for p, _ in paints_of(o))
    ]
    if found:
        found.sort(key=lambda o: o.size_mm)
        smallest = found[0].size_mm / mm_from_points(1)
        count = len(found)
        yield Hit(
            f"{plural(count, 'small black text')} {are(count)} set in several inks, down to {smallest:.1f} pt. "
            "Where the inks do not meet exactly it gets coloured fringes.",
            measured=smallest, count=count, where=[text_box(o) for o in found[:MOST_PLACES]],
        )
