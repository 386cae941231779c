"""What see-through flat colours come to on other flat colours, drawn without transparency.

Where a see-through shape lies on others, these are drawn once more inside it, each in the colour that the two make
together (ISO 32000-1, 11.3.3 to 11.3.6). So edges stay vectors, and tints are exact.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

from horismos.artwork.clips import clip_paths
from horismos.artwork.glyphs import text_contours
from horismos.artwork.model import Page, Paint, PaintedObject, PathObject, TextObject
from horismos.artwork.spaces import DEVICE_SPACES
from horismos.artwork.strokes import stroke_outline
from horismos.errors import CannotWrite
from horismos.paths.contour import Contour

__all__ = ["BLENDS", "Flat", "Piece", "Shape", "flat_of", "on_paper", "over", "pieces_of", "shapes_of"]

BLENDS = ("Normal", "Compatible", "Multiply", "Darken")
"""Modes that leave paper as it is and can be reckoned plate by plate, spots included (11.7.4.2)."""
RGB = ("red", "green", "blue")
"""What takes the place of inks where everything is in RGB: how much of each light is missing."""
FULL = 1.0 - 1e-9


class Flat(NamedTuple):
    """A flat colour: what of each ink is laid down, 0 to 1; inks that it lacks knock out. ``additive``: it is RGB."""

    tints: tuple[tuple[str, float], ...]
    additive: bool = False


class Piece(NamedTuple):
    """A shape in mm with its colour, drawn inside clips, each with whether it is even-odd."""

    contours: Sequence[Contour]
    even_odd: bool
    clips: tuple[tuple[Sequence[Contour], bool], ...]
    colour: Flat


def flat_of(paint: Paint, additive: bool) -> Flat | None:
    """A paint as a flat colour, in light or in inks; None where it is not flat, or not of that sort."""
    if paint.family == "Pattern":
        return None
    if not additive:
        known = paint.inks and not paint.additive and all(ink != "All" for ink, _ in paint.inks)
        return Flat(paint.inks) if known else None
    if paint.additive:
        values = paint.values if "RGB" in paint.family or paint.family == "ICCBased" else ()
        return Flat(tuple(zip(RGB, (1 - v for v in values), strict=True)), True) if len(values) == 3 else None
    grey = paint.inks == (("Black", paint.inks[0][1]),) if paint.inks else False
    is_grey = grey and paint.family in DEVICE_SPACES and DEVICE_SPACES[paint.family].components == 1
    return Flat(tuple((light, paint.inks[0][1]) for light in RGB), True) if is_grey else None


def on_paper(colour: Flat, alpha: float) -> Flat:
    """A see-through colour where nothing lies below it: any blending leaves it as it is there (11.3.6)."""
    return Flat(tuple((ink, tint * alpha) for ink, tint in colour.tints), colour.additive)


def over(below: Flat, above: Flat, alpha: float, blend: str) -> Flat:
    """Two colours where the upper one is see-through (11.3.6), reckoned in tints: 1 is no light.

    >>> over(Flat((("Cyan", 1.0),)), Flat((("Magenta", 1.0),)), 0.5, "Normal").tints
    (('Cyan', 0.5), ('Magenta', 0.5))
    """
    lower, upper = dict(below.tints), dict(above.tints)
    out = []
    for ink in {**lower, **upper}:
        b, s = lower.get(ink, 0.0), upper.get(ink, 0.0)
        both = 1 - (1 - b) * (1 - s) if blend == "Multiply" else max(b, s) if blend == "Darken" else s
        out.append((ink, (1 - alpha) * b + alpha * both))
    return Flat(tuple(out), below.additive)


@dataclass(frozen=True)
class Shape:
    """What an object fills, in mm."""

    contours: Sequence[Contour]
    even_odd: bool


def shapes_of(page: Page, obj: PaintedObject) -> list[tuple[Shape, Paint]] | None:
    """What an object covers, each with its paint, the fill first; None for a picture, a shading, or strange text."""
    if isinstance(obj, TextObject):
        plain = obj.rendering_mode == 0 and not (obj.font_used and obj.font_used.paints)
        contours = text_contours(obj) if plain else None
        return [(Shape(contours, False), obj.state.fill)] if contours is not None else None
    if not isinstance(obj, PathObject):
        return None
    out = []
    if obj.fills:
        out.append((Shape(page.contours(obj), obj.operator.endswith("*")), obj.state.fill))
    if obj.strokes:
        try:
            out.append((Shape(stroke_outline(page, obj), False), obj.state.stroke))
        except CannotWrite:
            return None
    return out


def pieces_of(page: Page, obj: PaintedObject, additive: bool) -> list[Piece] | None:
    """An opaque object as pieces to be drawn again; None where it is not made of flat shapes that knock out."""
    if obj.state.overprint_fill or obj.state.overprint_stroke:
        return None
    shapes = shapes_of(page, obj)
    if shapes is None:
        return None
    clips = tuple((contours, odd) for contours, odd in clip_paths(page, obj.state.clip))
    out = []
    for shape, paint in shapes:
        colour = flat_of(paint, additive)
        if colour is None:
            return None
        out.append(Piece(shape.contours, shape.even_odd, clips, colour))
    return out
