"""A filled circle."""

import math

from horismos.machines import MarkStyle
from horismos.paths import circle
from horismos.sheet.mark_kinds.register import MarkKind, all_of_it, register


def _reach(style: MarkStyle, between: bool) -> tuple[float, float]:
    return style.arm_mm / 2, style.arm_mm


register(MarkKind(
    id="dot", words="dots", size_words="across", strokes=lambda mark: (),
    fills=lambda mark: (circle(mark.x_mm, mark.y_mm, mark.arm_mm / 2),), box=all_of_it,
    inked=lambda mark: (all_of_it(mark),), reach=_reach, area=lambda arm, weight: math.pi * arm * arm / 4,
    stroked=False
))
