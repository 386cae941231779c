"""A filled square."""

from horismos.machines import MarkStyle
from horismos.paths import rectangle
from horismos.sheet.mark_kinds.register import MarkKind, all_of_it, register


def _reach(style: MarkStyle, between: bool) -> tuple[float, float]:
    return style.arm_mm / 2, style.arm_mm


register(MarkKind(
    id="square", words="squares", size_words="side", strokes=lambda mark: (),
    fills=lambda mark: (rectangle(*all_of_it(mark)),), box=all_of_it, inked=lambda mark: (all_of_it(mark),),
    reach=_reach, area=lambda arm, weight: arm * arm, stroked=False
))
