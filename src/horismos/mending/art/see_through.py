"""What is see-through on a page, and how each can be drawn without: as vectors where that is exact, else as pixels."""

from collections.abc import Collection
from dataclasses import dataclass, field
from enum import Enum

import numpy as np
from numpy.typing import NDArray

from horismos.artwork.extent import bounds_of
from horismos.artwork.model import ImageObject, Page, PaintedObject, PathObject, TextObject
from horismos.artwork.paints import is_additive, paints_of
from horismos.errors import CannotWrite
from horismos.mending.art.blending import (
    BLENDS,
    Flat,
    Piece,
    flat_of,
    on_paper,
    over,
    pieces_of,
    shapes_of,
)
from horismos.paths.box import Bounds

__all__ = ["SeeThrough", "Unit", "Way", "see_through"]

MOST_PIECES = 80
"""[ours] drawn again inside one shape; more are drawn as pixels."""
MOST_UNDER_PICTURE = 6
"""[ours] below a picture, which is drawn once more inside each."""
PLAIN = ("Normal", "Compatible")


class Way(Enum):
    """How something see-through is drawn without."""

    VECTOR = "vector"
    """In the colour that it has on paper, and what lies below it once more inside it."""
    PICTURE = "picture"
    """A picture over nothing, mixed with paper; or one whose mask knows only all and nothing."""
    PIXELS = "pixels"


@dataclass(frozen=True)
class Unit:
    """One see-through object: its box in mm, and for vectors its colour on paper and what is drawn inside it.

    For pictures ``alpha`` is the opacity beside their mask and ``blend`` how they mix; ``known`` says that what lies
    below is all flat: it is ``inside`` then, in its own colours.
    """

    index: int
    way: Way
    box: Bounds
    colour: Flat | None = None
    inside: tuple[Piece, ...] = ()
    alpha: float = 1.0
    blend: str = "Normal"
    known: bool = False


@dataclass(frozen=True)
class SeeThrough:
    """All of a page, in the order in which it is painted. ``additive`` says that it is all in RGB, else all in inks."""

    units: tuple[Unit, ...]
    additive: bool
    boxes: dict[int, Bounds] = field(repr=False)


def see_through(page: Page, lines: Collection[int], blends_in_rgb: bool) -> SeeThrough | None:
    """What is see-through in the art of a page, ``lines`` left aside; None where nothing is.

    Raises CannotWrite where RGB and inks lie on each other there, or where RGB is not to be mixed in RGB: what they
    make together is up to a conversion.
    """
    boxes = {
        i: box for i, o in enumerate(page.objects)
        if i not in lines and o.state.visible and (box := bounds_of(page, o)) is not None
    }
    meant = [i for i in boxes if _is_meant(page.objects[i])]
    if not meant:
        return None
    found = _Resolver(page, boxes, meant).found()
    if found.additive and not blends_in_rgb:
        raise CannotWrite(
            "RGB is see-through here, and the file does not say that it is mixed in RGB: what it makes together is up "
            "to a conversion.", "Convert to CMYK first, then flatten.",
        )
    return found


def _is_meant(obj: PaintedObject) -> bool:
    return obj.state.transparent or (isinstance(obj, ImageObject) and obj.masked)


class _Resolver:
    """Goes through the objects from below."""

    def __init__(self, page: Page, boxes: dict[int, Bounds], meant: list[int]) -> None:
        self.page, self.boxes, self.meant = page, boxes, set(meant)
        self.order = np.array(sorted(boxes), int)
        self.corners = np.array([boxes[int(i)] for i in self.order]).reshape(-1, 4)
        self.below = {i: self._below(i) for i in meant}
        self.wanted = {j for below in self.below.values() for j in below}
        self.additive = self._is_additive()
        self.pieces: dict[int, list[Piece] | None] = {}
        self.members: dict[int, int] = {}
        for i in boxes:
            group = page.objects[i].state.group
            while group >= 0:
                self.members[group] = self.members.get(group, 0) + 1
                group = page.groups[group].outer

    def _below(self, i: int) -> list[int]:
        """The objects painted before one that its box meets."""
        x0, y0, x1, y1 = self.boxes[i]
        c = self.corners
        meets: NDArray[np.bool_] = (c[:, 0] < x1) & (c[:, 2] > x0) & (c[:, 1] < y1) & (c[:, 3] > y0) & (self.order < i)
        return [int(j) for j in self.order[meets]]

    def _is_additive(self) -> bool:
        involved = {*self.meant, *self.wanted}
        kinds = {is_additive(self.page.objects[i]) for i in involved if not _is_grey(self.page.objects[i])}
        if len(kinds) == 2:
            raise CannotWrite(
                "RGB and inks lie on each other where something is see-through; what they make together is up to a "
                "conversion.", "Convert to CMYK first, then flatten.",
            )
        return kinds == {True}

    def found(self) -> SeeThrough:
        units = tuple(self._unit(i) for i in sorted(self.meant))
        return SeeThrough(units, self.additive, self.boxes)

    def _unit(self, i: int) -> Unit:
        obj, box = self.page.objects[i], self.boxes[i]
        effect = self._effect(obj)
        pixels = Unit(i, Way.PIXELS, box)
        self.pieces[i] = None
        if effect is None:
            return pixels
        if isinstance(obj, ImageObject):
            if obj.state.overprint_fill or obj.stencil:
                return pixels
            below = self._all_below(i, MOST_UNDER_PICTURE)
            return Unit(i, Way.PICTURE, box, None, tuple(below or ()), *effect, below is not None)
        found = self._vector(i, obj, *effect)
        if found is None:
            return pixels
        colour, inside, own = found
        self.pieces[i] = [*own, *inside]
        return Unit(i, Way.VECTOR, box, colour, tuple(inside))

    def _vector(
        self, i: int, obj: PaintedObject, alpha: float, blend: str
    ) -> tuple[Flat, list[Piece], list[Piece]] | None:
        """Its colour on paper, what is drawn inside it, and itself as pieces; None where that would not be exact."""
        paints = paints_of(obj)
        colour = flat_of(paints[0][0], self.additive) if len(paints) == 1 else None
        if colour is None or obj.state.overprint_fill or obj.state.overprint_stroke:
            return None
        below = self._all_below(i, MOST_PIECES)
        if below is None:
            return None
        colour_on_paper = on_paper(colour, alpha)
        if not below and isinstance(obj, PathObject | TextObject) and i not in self.wanted:
            return colour_on_paper, [], []
        shapes = shapes_of(self.page, obj)
        own = pieces_of(self.page, obj, self.additive)
        if shapes is None or own is None or len(shapes) != 1:
            return None
        shape = shapes[0][0]
        inside = [
            piece._replace(
                clips=(*piece.clips, (shape.contours, shape.even_odd)), colour=over(piece.colour, colour, alpha, blend)
            )
            for piece in below
        ]
        return colour_on_paper, inside, [piece._replace(colour=colour_on_paper) for piece in own]

    def _all_below(self, i: int, most: int) -> list[Piece] | None:
        """The pieces that lie below an object; None where one is not flat, or there are more than so many."""
        out: list[Piece] = []
        for j in self.below[i]:
            pieces = self._pieces(j)
            if pieces is None or len(out) + len(pieces) > most:
                return None
            out += pieces
        return out

    def _pieces(self, j: int) -> list[Piece] | None:
        if j not in self.pieces:
            self.pieces[j] = pieces_of(self.page, self.page.objects[j], self.additive)
        return self.pieces[j]

    def _effect(self, obj: PaintedObject) -> tuple[float, str] | None:
        """The opacity and blend mode that an object has alone; None where it is not that simple.

        A group of one object is that object; one of several is taken as a whole (11.4), and so is its mask.
        """
        state = obj.state
        strokes = isinstance(obj, PathObject) and obj.strokes
        if state.soft_mask or (strokes and isinstance(obj, PathObject) and obj.fills):
            return None
        alpha, blend = (state.alpha_stroke if strokes else state.alpha_fill), state.blend
        group = state.group
        while group >= 0:
            found = self.page.groups[group]
            plain = found.alpha >= 1 and found.blend in PLAIN and not found.soft_mask
            if found.soft_mask or (self.members[group] > 1 and not (plain and not found.knockout and blend in PLAIN)):
                return None
            if found.isolated and blend not in PLAIN:
                blend = "Normal"  # what is alone in an isolated group has nothing to blend with (11.4.5)
            if not plain:
                blend = found.blend if found.blend not in PLAIN else blend
                alpha *= found.alpha
            group = found.outer
        return (alpha, "Normal" if blend in PLAIN else blend) if blend in BLENDS else None


def _is_grey(obj: PaintedObject) -> bool:
    """Whether an object is in DeviceGray alone, which is at home in RGB and in inks."""
    return all(
        paint.family in ("DeviceGray",) and not paint.additive for paint, _ in paints_of(obj)
    )
