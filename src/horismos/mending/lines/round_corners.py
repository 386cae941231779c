"""Rounds corners and bends of lines to a radius that a blade can follow."""

import numpy as np

from horismos.mending.engine.registry import MendContext
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.mending.lines.shape import Reshaping, pages_of, shape_mend
from horismos.paths import Contour, flatten, greatest_distance
from horismos.paths.curvature import node_turns, tight_turns
from horismos.paths.offset import offset
from horismos.words import plural

RADIUS = Setting("radius_mm", SettingKind.NUMBER, "The radius", 0.5, "mm", 0.05, 20.0, habit=True)
"""[ours] the tightest turn of a through cut, as the check that is shipped has it."""
WITHIN_MM = 0.005
CORNER_DEGREES = 20.0
"""[ours] a node that turns less is no corner."""
SAME_MM = 0.02
"""[ours] where rounding moves nothing further than this, the contour is left as it is."""
MARGIN = 1.05
"""[ours] so that what is drawn is nowhere tighter than the radius, though it is drawn by fitted curves."""


def _find(before: MendContext) -> Reshaping:
    radius = float(before.step["radius_mm"])
    made = Reshaping()
    furthest = 0.0
    for shape, roles in pages_of(before):
        for outline in (o for role in roles for o in shape.outlines[role] if o.contour.loops):
            turns = _turns(outline.contour, radius)
            if not turns:
                continue
            wide = radius * MARGIN
            new = offset(outline.contour, -wide, 2 * wide, -wide, tolerance_mm=WITHIN_MM)
            if new is None:
                made.count("left")
                continue
            off = greatest_distance([flatten(outline.contour)], [flatten(new)], 0.05)
            if off <= SAME_MM:
                continue
            made.changes[outline] = [new]
            made.count("contours")
            made.count("corners", turns)
            furthest = max(furthest, off)
    made.counts["furthest_mm"] = round(furthest, 3)
    return made


def _turns(contour: Contour, radius: float) -> int:
    """How many corners and tight bends a contour has."""
    _, degrees = node_turns(contour)
    return int((np.abs(degrees) > CORNER_DEGREES).sum()) + len(tight_turns(contour, radius * 0.99))


def _words(before: MendContext, made: Reshaping) -> str:
    left = int(made.counts.get("left", 0))
    stays = f" Not rounded, for want of room: {plural(left, 'contour')}." if left else ""
    turns, contours = int(made.counts["corners"]), int(made.counts["contours"])
    return (
        f"Rounds {plural(turns, 'turn')} on {plural(contours, 'contour')} of the {before.step.role_words} to "
        f"{before.step['radius_mm']:g} mm; a corner is left by at most {made.counts['furthest_mm']:.2f} mm.{stays}"
    )


shape_mend(
    "round-corners", "Round the corners of the {role} to {radius_mm:g} mm", ("line.sharp",), _find, _words,
    lambda before: f"Nothing of the {before.step.role_words} can be rounded to {before.step['radius_mm']:g} mm.",
    (RADIUS,), order=55,
)
