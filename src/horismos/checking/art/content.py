"""Checks of text, thin strokes and transparency in the art."""

import math
from collections.abc import Iterator

from horismos.artwork.extent import bounds_of
from horismos.artwork.glyphs import text_bounds, text_box
from horismos.artwork.lines import paints_of
from horismos.artwork.model import ImageObject, PaintedObject, PathObject, TextObject
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import MOST_PLACES, Hit, Severity
from horismos.checking.engine.rules import rule
from horismos.comparing.facets import Facet
from horismos.units import mm_from_points
from horismos.words import are, plural

INVISIBLE = 3
"""[standard] ISO 32000-1, table 106: the rendering mode that neither fills nor strokes."""


def texts(c: Context) -> list[TextObject]:
    """The live texts that show something."""
    return [
        o for o in c.art_objects
        if isinstance(o, TextObject) and o.rendering_mode != INVISIBLE and text_bounds(o) is not None
    ]


@rule("text.live", "look", Facet.ART, unit="texts")
def live_text(c: Context) -> Iterator[Hit]:
    """Text that is not outlined."""
    found = texts(c)
    if found:
        fonts = ", ".join(sorted({t.font_title for t in found}))
        yield Hit(
            f"{plural(len(found), 'live text')} in {fonts}. "
            "It can change its shape where the font differs; outlines cannot.",
            measured=len(found), count=len(found), where=[text_box(t) for t in found[:MOST_PLACES]],
        )


@rule("stroke.live", "note", Facet.ART, Facet.BOXES, Facet.GEOMETRY, Facet.NAMES, unit="strokes")
def live_stroke(c: Context) -> Iterator[Hit]:
    """Art strokes that are not expanded; something to look at where the file is to be scaled.

    They keep or change their weight when a file is scaled, as whoever scales it has set.
    """
    found = [o for o in c.printed if isinstance(o, PathObject) and o.strokes and o.state.line_width > 0]
    if found:
        scaled = _is_to_be_scaled(c)
        then = " The file is to be scaled: their weight may not follow." if scaled else ""
        yield Hit(
            f"{plural(len(found), 'stroke')} of the art {are(len(found))} not outlined.{then}",
            measured=len(found), count=len(found), where=[c.place(o) for o in found[:MOST_PLACES]],
            severity=Severity.LOOK if scaled else None,
        )


def _is_to_be_scaled(c: Context) -> bool:
    """Whether the finished size that was ordered is neither the cut's nor the page's."""
    wanted = c.order.width_mm, c.order.height_mm
    return all(
        any(w is not None and abs(w - has) > SIZE_MM for w, has in zip(wanted, size, strict=True))
        for size in c.finished_sizes
    )


SIZE_MM = 0.5
"""[ours] as the check of the page's size."""


@rule("text.font", "stop", Facet.ART, unit="fonts")
def font(c: Context) -> Iterator[Hit]:
    """A font that is not embedded."""
    missing: dict[str, list[TextObject]] = {}
    for text in texts(c):
        if not text.embedded:
            missing.setdefault(text.font_title, []).append(text)
    for name, found in missing.items():
        yield Hit(
            f"The font {name} is not in the file. Another one will take its place, and the text will look different.",
            measured=1, count=len(found), where=[text_box(t) for t in found[:MOST_PLACES]], subject=name,
        )


@rule("text.small", "look", Facet.ART, limit=5.0, unit="pt", more={"reversed": (7.0, "pt")})
def small_text(c: Context) -> Iterator[Hit]:
    """Text smaller than the printer holds; reversed text, white on a ground, fills in sooner."""
    point = mm_from_points(1)
    for words, limit, reversed_ in (("", c.limit, False), ("reversed ", c.more["reversed"], True)):
        found = [t for t in texts(c) if _is_reversed(t) is reversed_ and t.size_mm / point < limit - 1e-3]
        if found:
            found.sort(key=lambda t: t.size_mm)
            smallest = found[0].size_mm / point
            count = len(found)
            yield Hit(
                f"{plural(count, words + 'text')} {are(count)} smaller than {limit:g} pt, down to "
                f"{smallest:.1f} pt. The printer does not hold that.",
                measured=smallest, count=count, where=[text_box(t) for t in found[:MOST_PLACES]], limit=limit,
                subject=words.strip()
            )


def _is_reversed(text: TextObject) -> bool:
    paints = paints_of(text)
    return bool(paints) and all(paint.white for paint, _ in paints)


@rule("stroke.thin", "look", Facet.ART, limit=0.1, unit="mm")
def thin_strokes(c: Context) -> Iterator[Hit]:
    """Printed strokes thinner than the printer holds."""
    found = [
        (width, o) for o in c.printed
        if isinstance(o, PathObject) and o.strokes and not o.state.stroke.white
        and (width := _thinnest(o)) < c.limit - 1e-4 and _is_seen(c, o)
    ]
    if found:
        found.sort(key=lambda item: item[0])
        count = len(found)
        yield Hit(
            f"{plural(count, 'stroke')} {are(count)} thinner than {c.limit:g} mm, down to {found[0][0]:.3f} mm. "
            "They break up or vanish in print.",
            measured=found[0][0], count=count, where=[c.place(o) for _, o in found[:MOST_PLACES]],
        )


def _is_seen(c: Context, obj: PathObject) -> bool:
    """Whether the stroke is more than a hair round a fill of the same colour, and inside its clip."""
    return not (obj.fills and obj.state.fill == obj.state.stroke) and bounds_of(c.page, obj) is not None


def _thinnest(obj: PathObject) -> float:
    """The width of a stroke in mm at its thinnest under the matrix: its smaller singular value."""
    a, b, c, d, _, _ = obj.state.ctm
    total, det = a * a + b * b + c * c + d * d, a * d - b * c
    least = (total - math.sqrt(max(total * total - 4 * det * det, 0.0))) / 2
    return obj.state.line_width * math.sqrt(max(least, 0.0))


@rule("art.transparency", "look", Facet.ART)
def transparency(c: Context) -> Iterator[Hit]:
    """Live transparency in the art."""
    found = [o for o in c.art_objects if o.state.transparent or (isinstance(o, ImageObject) and o.masked)]
    if found:
        ways = sorted({_way(o) for o in found})
        count = len(found)
        yield Hit(
            f"{plural(count, 'object')} {are(count)} see-through. "
            "Some RIPs flatten such objects and lose what is below.",
            measured=count, count=count, where=[c.place(o) for o in found[:MOST_PLACES]],
            detail=f"By {', '.join(ways)}."
        )


def _way(obj: PaintedObject) -> str:
    if obj.state.soft_mask or (isinstance(obj, ImageObject) and obj.masked):
        return "soft mask"
    return "blending" if obj.state.blend not in ("Normal", "Compatible") else "opacity"
