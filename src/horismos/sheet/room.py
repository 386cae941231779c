"""The room for cuts on the media: what machine, marks, code and bleed leave of it, and what each of them takes."""

import math

from horismos.machines import Cutter
from horismos.materials import Material
from horismos.paths.box import Bounds
from horismos.sheet.code import CODE_MM
from horismos.sheet.layout import Layout, Makes

__all__ = ["CODE_STRIP_MM", "QUIET_MM", "bound_of", "eaten", "frame_mm", "inner_box", "usable_box"]

QUIET_MM = 2.0
"""[standard] ISO/IEC 18004: four modules round the code, of half a mm."""
CODE_STRIP_MM = CODE_MM + 2 * QUIET_MM


def frame_mm(layout: Layout) -> float:
    """How far round everything a weeding frame is cut: where nothing is printed, and it was asked for."""
    return layout.frame_mm or 0.0 if layout.makes is Makes.CUT else 0.0


def bound_of(material: Material, layout: Layout) -> float | None:
    """How long a sheet may be, as the material, what is loaded or the layout bounds it."""
    known = [length for length in (material.length_mm, layout.bound_mm) if length is not None]
    return min(known, default=None)


def usable_box(material: Material, cutter: Cutter) -> Bounds:
    """What the machine can use of the media, in mm; upwards without end on a roll."""
    top = math.inf if material.length_mm is None else material.length_mm - cutter.trailer_mm
    return cutter.side_margin_mm, cutter.leader_mm, material.width_mm - cutter.side_margin_mm, top


def _beside(layout: Layout, cutter: Cutter) -> tuple[float, float]:
    """What marks take on three sides, and on the leading one, where the code lies; in mm."""
    rectangle = isinstance(layout.marks.around, tuple)
    far = layout.marks.offsets(cutter.marks)[1] if layout.has_marks and not rectangle else 0.0
    return far, max(far, CODE_STRIP_MM) if layout.has_marks and layout.code else far


def inner_box(material: Material, cutter: Cutter, layout: Layout, bleed_mm: float) -> Bounds:
    """Where cuts may lie: inside margins, leader and trailer, the marks and the code, and their own bleed or frame.

    Upwards without end on a roll.
    """
    far, low = _beside(layout, cutter)
    bleed = max(bleed_mm, frame_mm(layout))
    x0, y0, x1, y1 = usable_box(material, cutter)
    return x0 + far + bleed, y0 + low + bleed, x1 - far - bleed, y1 - far - bleed


def eaten(material: Material, cutter: Cutter, layout: Layout, bleed_mm: float) -> str:
    """What takes the room on the media, across and along the feed, and what is left; lengths in mm."""
    far, low = _beside(layout, cutter)
    bleed = max(bleed_mm, frame_mm(layout))
    x0, y0, x1, y1 = inner_box(material, cutter, layout, bleed_mm)
    beside = [("rollers", 2 * cutter.side_margin_mm), ("marks", 2 * far), ("bleed", 2 * bleed)]
    said = f"Across: {_taken(material.width_mm, beside, x1 - x0)}."
    if material.length_mm is None:
        return said
    ahead = "marks and code" if low > far else "marks"
    along = [
        ("leader", cutter.leader_mm), ("trailer", cutter.trailer_mm), (ahead, low + far), ("bleed", 2 * bleed),
    ]
    return f"{said} Along: {_taken(material.length_mm, along, y1 - y0)}."


def _taken(whole: float, parts: list[tuple[str, float]], left: float) -> str:
    said = ", ".join(f"{words} {mm:.4g} mm" for words, mm in parts if mm > 0)
    rest = f"{left:.1f} mm is left" if left > 0 else "nothing is left"
    return f"{whole:.5g} mm, less {said}: {rest}"
