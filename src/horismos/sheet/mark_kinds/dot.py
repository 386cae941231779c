"""A filled circle."""

import math

from horismos.machines import MarkStyle
from horismos.paths import circle
from horismos.sheet.mark_kinds.register import MarkKind, all_of_it, register


def _reach(style: MarkStyle, between: bool) -> tuple[float, float]:
    return style.arm_mm / 2, style.arm_mm


register(MarkKind(
    "dot", "dots", "across", lambda mark: (), lambda mark: (circle(mark.x_mm, mark.y_mm, mark.arm_mm / 2),), all_of_it,
    lambda mark: (all_of_it(mark),), _reach, lambda arm, weight: math.pi * arm * arm / 4, stroked=False,
))
