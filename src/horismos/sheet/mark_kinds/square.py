"""A filled square."""

from horismos.machines import MarkStyle
from horismos.paths import rectangle
from horismos.sheet.mark_kinds.register import MarkKind, all_of_it, register


def _reach(style: MarkStyle, between: bool) -> tuple[float, float]:
    return style.arm_mm / 2, style.arm_mm


register(MarkKind(
    "square", "squares", "side", lambda mark: (), lambda mark: (rectangle(*all_of_it(mark)),), all_of_it,
    lambda mark: (all_of_it(mark),), _reach, lambda arm, weight: arm * arm, stroked=False,
))
