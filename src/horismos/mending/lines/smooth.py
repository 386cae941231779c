"""Fits fewer and longer curves to lines, within a tolerance; true corners stay."""

from horismos.mending.engine.registry import MendContext
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.mending.lines.shape import Reshaping, pages_of, shape_mend
from horismos.paths import flatten, greatest_distance
from horismos.paths.fit import fit

TOLERANCE = Setting("tolerance_mm", SettingKind.NUMBER, "The tolerance", 0.05, "mm", 0.001, 2.0)
SHARE = 0.6
"""[ours] a contour that would keep more of its nodes is left as it is."""
LEAST_NODES = 8
"""[ours] fewer nodes are not too many."""
FINE = 20
"""The deviation is measured on polylines that are so many times as fine as the tolerance."""


def _find(before: MendContext) -> Reshaping:
    tolerance = float(before.step["tolerance_mm"])
    made = Reshaping(moved_mm=tolerance)
    worst = 0.0
    for shape, roles in pages_of(before):
        for outline in (o for role in roles for o in shape.outlines[role]):
            own = outline.contour
            if own.node_count < LEAST_NODES:
                continue
            new = fit(own, tolerance)
            if new.node_count > SHARE * own.node_count:
                continue
            was, now = [flatten(own, tolerance / FINE)], [flatten(new, tolerance / FINE)]
            off = max(greatest_distance(was, now, tolerance), greatest_distance(now, was, tolerance))
            if off > tolerance:
                continue
            worst = max(worst, off)
            made.changes[outline] = [new]
            made.count("contours")
            made.count("nodes_before", own.node_count)
            made.count("nodes_after", new.node_count)
    made.counts["deviation_mm"] = round(worst, 4)
    return made


def _words(before: MendContext, made: Reshaping) -> str:
    counts = made.counts
    return (
        f"Draws {counts['contours']:.0f} contour{'s' if counts['contours'] != 1 else ''} of the "
        f"{before.step.role_words} with {counts['nodes_after']:.0f} nodes instead of {counts['nodes_before']:.0f}, "
        f"nowhere further off than {counts['deviation_mm']:.3f} mm. Corners stay."
    )


shape_mend(
    "smooth", "Smooth the {role} within {tolerance_mm:g} mm", ("line.nodes",), _find, _words,
    lambda before: f"The {before.step.role_words} cannot be drawn with many fewer nodes within "
                   f"{before.step['tolerance_mm']:g} mm.",
    (TOLERANCE,), safe=True, order=60,
)
