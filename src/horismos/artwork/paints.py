"""Which paints a painted object uses."""

import math
from collections.abc import Iterable

from horismos.artwork.model import (
    ImageObject,
    Paint,
    PaintedObject,
    PathObject,
    ShadingObject,
    TextObject,
)

__all__ = ["is_additive", "kind_of", "most_load", "paints_of", "together"]

KINDS: dict[type, str] = {PathObject: "path", TextObject: "text", ImageObject: "image", ShadingObject: "shading"}


def paints_of(obj: PaintedObject) -> list[tuple[Paint, bool]]:
    """The paints that an object uses, each with whether it strokes."""
    if isinstance(obj, PathObject):
        return [(obj.state.stroke, True)] * obj.strokes + [(obj.state.fill, False)] * obj.fills
    if isinstance(obj, TextObject):
        own = [(paint, False) for paint in obj.font_used.paints] if obj.font_used else []
        if own:
            return own
        modes = obj.rendering_mode % 4
        return [(obj.state.fill, False)] * (modes in (0, 2)) + [(obj.state.stroke, True)] * (
            modes in (1, 2)
        )
    if isinstance(obj, ImageObject):
        return [(Paint(obj.space, tuple((ink, 1.0) for ink in obj.inks), obj.additive), False)]
    assert isinstance(obj, ShadingObject)
    return [(obj.paint, False)]


def kind_of(obj: PaintedObject) -> str:
    """In one word what an object is: path, text, image or shading."""
    return KINDS[type(obj)]


def is_additive(obj: PaintedObject) -> bool:
    """Whether an object uses a colour that names no inks: RGB, Lab or calibrated."""
    return any(paint.additive for paint, _ in paints_of(obj))


def most_load(objects: Iterable[PaintedObject]) -> float:
    """What objects can come to in per cent, wherever and however they lie: all the inks that they name, in full."""
    used = [paint for o in objects for paint, _ in paints_of(o)]
    inks = {ink for paint in used for ink, tint in paint.inks if tint > 0}
    if "All" in inks or not all(paint.inks for paint in used):
        return math.inf
    return 100.0 * len(inks)


def together(family: str, objects: Iterable[PaintedObject]) -> Paint:
    """One paint that lays down all that the objects do, each ink at its highest tint."""
    tints: dict[str, float] = {}
    additive = False
    for obj in objects:
        for paint, _ in paints_of(obj):
            additive |= paint.additive
            for ink, tint in paint.inks:
                tints[ink] = max(tint, tints.get(ink, 0.0))
    return Paint(family, tuple(tints.items()), additive)
