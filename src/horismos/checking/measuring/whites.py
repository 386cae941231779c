"""White that vanishes, and white and colour that knock each other out."""

from collections.abc import Collection

from horismos.artwork.extent import bounds_of
from horismos.artwork.model import ImageObject, Page, PaintedObject
from horismos.artwork.paints import paints_of
from horismos.paths.box import Bounds

__all__ = ["knocking_out", "overprints", "vanishes"]


def vanishes(obj: PaintedObject) -> tuple[bool, bool]:
    """Whether an object's stroke and its fill lay nothing down and leave what is below.

    White, which is 0 % of all inks, set to overprint (ISO 32000-1, 8.6.7, overprint mode 1).
    """
    out = [False, False]
    for paint, stroking in paints_of(obj):
        over = obj.state.overprint_stroke if stroking else obj.state.overprint_fill
        if over and not isinstance(obj, ImageObject) and paint.white and not paint.additive:
            out[0 if stroking else 1] = True
    return out[0], out[1]


def overprints(obj: PaintedObject) -> bool:
    """Whether everything that an object paints overprints."""
    over = (obj.state.overprint_stroke if stroking else obj.state.overprint_fill for _, stroking in paints_of(obj))
    return all(over)


def knocking_out(page: Page, white: Collection[int], lines: Collection[int]) -> list[tuple[int, Bounds]]:
    """The objects, by index, that do not overprint and lie on others that are white where they are not, or the reverse.

    ``white`` and ``lines`` are objects by index; lines are passed over.
    """
    boxes = {i: bounds_of(page, obj) for i, obj in enumerate(page.objects) if i not in lines}
    whites = set(white)
    found = []
    for i, obj in enumerate(page.objects):
        box = boxes.get(i)
        if box is None or overprints(obj) or not obj.state.prints:
            continue
        others = (j for j in boxes if j < i and (j in whites) != (i in whites))
        if any((other := boxes[j]) is not None and _cover(box, other) for j in others):
            found.append((i, box))
    return found


def _cover(a: Bounds, b: Bounds) -> bool:
    return a[0] < b[2] and a[2] > b[0] and a[1] < b[3] and a[3] > b[1]
