"""Makes a sheet of copies that are placed: marks, the bar beside the first one, the code, and the length of media."""

import hashlib
import math
from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from horismos.errors import DoesNotFit
from horismos.machines import Cutter
from horismos.materials import Material
from horismos.paths.box import Bounds, grow, holds, union_bounds
from horismos.paths.matrix import multiply
from horismos.sheet.code import Code, code_at, name_of
from horismos.sheet.layout import Layout, Makes
from horismos.sheet.mark_kinds import kind_of, registered
from horismos.sheet.marks import Mark, MarkPlan, MarksRound, marks_on
from horismos.sheet.room import QUIET_MM, eaten, frame_mm, inner_box
from horismos.sheet.sheet import Grid, Placement, Sheet, flip, flipped

__all__ = ["ROUNDING_MM", "dressed", "marks_for", "sheet_of", "spacing", "unless_far"]

PLAIN = Layout(code=False)
ROUNDING_MM = 1e-6
BETWEEN_MARKS_MM = 1.0
"""[ours] at least, between the marks of neighbours that have their own."""
BAR_MM = 3.0
"""[ours] between the first mark and its bar."""
MOST_COMPARED = 3_000
Boxes = NDArray[np.float64]
Laid = TypeVar("Laid")


GAP_MM = 2.0
"""[practice] between the outermost lines of copies, where nobody says otherwise: what is narrower tears in weeding."""


def spacing(bleed_mm: float, alone: bool, layout: Layout, cutter: Cutter) -> tuple[float, float]:
    """What lies between cuts, and how much of its bleed each copy shows, in mm.

    A copy ``alone`` shows all of it; marks of its own need room between copies; without print there is none to show.
    """
    gap = layout.gap_mm if layout.gap_mm is not None else max(2 * bleed_mm, GAP_MM)
    if layout.makes is Makes.CUT:
        return gap, 0.0
    shown = bleed_mm if alone else min(bleed_mm, gap / 2)
    if layout.has_marks and layout.marks.around is MarksRound.EACH:
        gap = max(gap, 2 * (shown + layout.marks.offsets(cutter.marks)[1]) + BETWEEN_MARKS_MM)
    return gap, shown


def dressed(sheet: Sheet, layout: Layout, gap_mm: float) -> Sheet:
    """A sheet with what else the layout says of it: what it goes through, the inks' order, the weeding frame."""
    beside = frame_mm(layout)
    frame = grow(sheet.cut_box, beside) if beside else None
    return replace(sheet, makes=layout.makes, inks=layout.ink_order, frame=frame, gap_mm=gap_mm)


def unless_far(marks: MarkPlan, lay: Callable[[MarkPlan], Laid], sheets: Callable[[Laid], Sequence[Sheet]]) -> Laid:
    """What is laid out with marks every so many mm: where four corners are near enough, without the room for more."""
    if marks.every_mm is not None:
        laid = lay(replace(marks, every_mm=None))
        if marks_for(marks, sheets(laid)).every_mm is None:
            return laid
    return lay(marks)


def _goes_through(material: Material, cutter: Cutter) -> None:
    """Raise DoesNotFit for media that is wider than the machines take."""
    if cutter.width_mm is not None and material.width_mm > cutter.width_mm + ROUNDING_MM:
        raise DoesNotFit(
            f"{material.title} is {material.width_mm:g} mm wide, and its machines take {cutter.width_mm:g} mm.",
            "Choose a narrower material, or another destination.",
        )


def _finds(cutter: Cutter, layout: Layout) -> None:
    """Raise DoesNotFit for marks that the cutter does not find."""
    known, kind = cutter.dialect.marks, layout.marks.kind
    if layout.has_marks and known and kind.id not in known:
        others = ", ".join(kind_of(one).words for one in known if one in registered())
        raise DoesNotFit(f"{cutter.title} does not find {kind.words}.", f"Choose what it finds: {others}.")


def marks_for(marks: MarkPlan, sheets: Sequence[Sheet]) -> MarkPlan:
    """The marks that sheets need: corners alone where these stand near enough to each other."""
    near = marks.every_mm is not None and all(sheet.marks_span_mm <= marks.every_mm for sheet in sheets)
    return replace(marks, every_mm=None) if near else marks


def sheet_of(
    placements: Sequence[Placement], material: Material, cutter: Cutter, layout: Layout = PLAIN, number: int = 1,
    grid: Grid | None = None,
) -> Sheet:
    """The sheet of copies that are placed already, of one or more pieces: marks and code beside them, and its length.

    Raises DoesNotFit where copies leave the media or the room between the marks, or marks lie in art.
    """
    if layout.mirror:
        # marks, bar and code stand as the cutter sees them: on what is printed the other way round
        turned = [replace(p, matrix=multiply(p.matrix, flip(material))) for p in placements]
        plain = replace(layout, mirror=False, marks=_turned(layout.marks, material))
        return flipped(sheet_of(turned, material, cutter, plain, number, grid))
    _goes_through(material, cutter)
    _finds(cutter, layout)
    marks, code = (layout.marks, number if layout.code else 0) if layout.has_marks else (None, 0)
    if not placements:
        raise DoesNotFit("There is nothing on the sheet.", "Place a copy.")
    art = np.array([p.art_box for p in placements])
    block: Bounds = (*art[:, :2].min(axis=0).tolist(), *art[:, 2:].max(axis=0).tolist())
    inner = inner_box(material, cutter, layout, 0.0)
    if block[0] < inner[0] - ROUNDING_MM or block[2] > inner[2] + ROUNDING_MM:
        raise DoesNotFit(
            f"A piece {block[2] - block[0]:.1f} mm wide does not fit on {material.title}. "
            f"{eaten(material, cutter, layout, 0.0)}", "Choose a wider material, or turn the piece.",
        )
    if block[1] < inner[1] - ROUNDING_MM:
        raise DoesNotFit(f"A copy lies {block[1]:.1f} mm from the leading edge.", f"Leave {inner[1]:g} mm.")
    if block[3] > inner[3] + ROUNDING_MM:
        raise DoesNotFit(
            f"The copies need {block[3] - inner[3] + (material.length_mm or 0):.0f} mm of a sheet of "
            f"{material.length_mm:.0f} mm.", "Order fewer copies a sheet, or choose a roll.",
        )
    usable = (cutter.side_margin_mm, cutter.leader_mm, material.width_mm - cutter.side_margin_mm, inner[3])
    made = marks_on(_frames(art, block, usable, marks, cutter), marks, cutter.marks) if marks else ()
    top = max([block[3], *(mark.box[3] for mark in made)])
    length = material.length_mm if material.length_mm is not None else top + frame_mm(layout) + cutter.trailer_mm
    usable = (*usable[:3], length - cutter.trailer_mm)
    _clear(made, art, usable)
    bar = _bar(made, art, usable) if made else None
    named = _coded(_name(placements, code), made, bar, art, usable) if code else None
    return Sheet(
        material=material, placements=tuple(placements), marks=made, cutter=cutter, length_mm=length, code=named,
        bar=bar, grid=grid
    )


def _turned(marks: MarkPlan, material: Material) -> MarkPlan:
    """A rectangle for marks as it lies on what is printed the other way round."""
    if not isinstance(marks.around, tuple):
        return marks
    x0, y0, x1, y1 = marks.around
    return replace(marks, around=(material.width_mm - x1, y0, material.width_mm - x0, y1))


def _name(placements: Sequence[Placement], number: int) -> str:
    """What the code says: the same for the same copies at the same places."""
    digests = {id(p.piece): hashlib.sha256(p.piece.artwork.data).hexdigest() for p in placements}
    return name_of([digests[id(p.piece)] + repr(p.matrix) for p in placements], number)


def _frames(art: Boxes, block: Bounds, usable: Bounds, marks: MarkPlan, cutter: Cutter) -> list[Bounds]:
    """The boxes on whose corners the places of marks lie."""
    place, far = marks.offsets(cutter.marks)
    if isinstance(marks.around, tuple):
        return [marks.around]
    if marks.around is MarksRound.EACH:
        return [(x0 - place, y0 - place, x1 + place, y1 + place) for x0, y0, x1, y1 in art.tolist()]
    frame = grow(block, place)
    if marks.around is MarksRound.PAGE:
        reach = far - place
        top = frame[3] if math.isinf(usable[3]) else usable[3] + place
        return [(usable[0] + reach, frame[1], usable[2] - reach, top)]
    return [frame]


def _clear(marks: Sequence[Mark], art: Boxes, usable: Bounds) -> None:
    """Refuse marks that lie in art, beyond what the machine can use, or in each other. Raises DoesNotFit."""
    boxes = np.array([box for mark in marks for box in mark.inked]).reshape(-1, 4)
    all_of_them = union_bounds(mark.box for mark in marks)
    if all_of_them is not None and not holds(grow(usable, ROUNDING_MM), all_of_them):
        raise DoesNotFit(
            f"The marks leave what the machine can use, by {_beyond(all_of_them, usable)}.",
            "Bring them nearer, or leave the margins free.",
        )
    for mark in marks:
        if any(_met(box, art).any() for box in mark.inked):
            raise DoesNotFit(
                f"Mark {mark.number} at {mark.x_mm:.0f}, {mark.y_mm:.0f} mm lies in art.",
                "Set the marks round the art, or elsewhere.",
            )
        own = len(mark.inked)
        if len(boxes) < MOST_COMPARED and any(_met(box, boxes).sum() > own for box in mark.inked):
            raise DoesNotFit(f"Mark {mark.number} runs into another.", "Take shorter arms, or fewer marks.")


def _beyond(box: Bounds, usable: Bounds) -> str:
    """How far a box reaches beyond another, and on which sides, in words."""
    over = usable[0] - box[0], usable[1] - box[1], box[2] - usable[2], box[3] - usable[3]
    sides = "on the left", "at the leading edge", "on the right", "at the end"
    return ", ".join(f"{mm:.1f} mm {side}" for mm, side in zip(over, sides, strict=True) if mm > ROUNDING_MM)


def _met(box: Bounds, boxes: Boxes) -> np.ndarray:
    x0, y0, x1, y1 = box
    return np.asarray((boxes[:, 0] < x1) & (boxes[:, 2] > x0) & (boxes[:, 1] < y1) & (boxes[:, 3] > y0))


def _bar(marks: Sequence[Mark], art: Boxes, usable: Bounds) -> Bounds | None:
    """The bar beside the first mark, along the leading edge; None where there is no room for it."""
    first = marks[0]
    _, y0, x1, y1 = first.box
    low = y0 if first.kind.opens > 0 else (y0 + y1 - first.weight_mm) / 2
    bar = (x1 + BAR_MM, low, x1 + BAR_MM + max(first.arm_mm, 4 * first.weight_mm), low + first.weight_mm)
    return bar if _is_free(bar, [], marks[1:], art, usable) else None


def _is_free(box: Bounds, taken: Sequence[Bounds], marks: Sequence[Mark], art: Boxes, usable: Bounds) -> bool:
    others = np.array([*taken, *(ink for mark in marks for ink in mark.inked)]).reshape(-1, 4)
    return holds(grow(usable, ROUNDING_MM), box) and not _met(box, art).any() and not _met(box, others).any()


def _coded(text: str, marks: Sequence[Mark], bar: Bounds | None, art: Boxes, usable: Bounds) -> Code:
    """The code in the strip before the art: beside the first mark where there is room. Raises DoesNotFit."""
    y = usable[1] + QUIET_MM
    taken = [bar] if bar else []
    begins = [bar[2]] if bar else []
    begins += [mark.box[2] for mark in sorted(marks, key=lambda mark: (mark.y_mm, mark.x_mm))[:2]]
    begins += [usable[0], float(art[:, 0].min()) - QUIET_MM]
    for x in begins:
        code = code_at(text, x + QUIET_MM, y)
        if _is_free(grow(code.box, QUIET_MM), taken, marks, art, grow(usable, QUIET_MM)):
            return code
    raise DoesNotFit("There is no room for the code beside the marks.", "Leave it out, or set the marks elsewhere.")
