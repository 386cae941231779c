"""Drops inner contours of a role: holes that nobody ordered, all of them, small ones, or those pointed at."""

from collections.abc import Mapping
from typing import Any

from horismos.mending.engine.registry import MendContext
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.mending.lines.chosen import AT, pointed_at
from horismos.mending.lines.shape import Reshaping, pages_of, shape_mend
from horismos.paths import enclosing_counts
from horismos.words import plural

AREA = Setting("below_mm2", SettingKind.NUMBER, "The area below which an inner contour goes", 1e9, "mm²", 0.01, 1e9)
"""By default all."""


def _find(before: MendContext) -> Reshaping:
    most, at = float(before.step["below_mm2"]), before.step["at"]
    made = Reshaping()
    largest = 0.0
    for shape, roles in pages_of(before):
        ribbons = {i for ribbon in shape.ribbons for i in ribbon.contours}
        for role in roles:
            own = [o for i, o in enumerate(shape.everything) if o.role is role and i not in ribbons]
            depths = enclosing_counts([o.contour for o in own])
            for outline in (o for o, depth in zip(own, depths, strict=True) if depth % 2 == 1):
                area = outline.area_mm2
                if area is not None and area < most and (not at or pointed_at(outline, at)):
                    made.changes[outline] = []
                    made.count("contours")
                    largest = max(largest, area)
    made.counts["largest_mm2"] = round(largest, 3)
    return made


def _words(before: MendContext, made: Reshaping) -> str:
    count = int(made.counts["contours"])
    return (
        f"Takes {plural(count, 'inner contour')} out of the {before.step.role_words}, the largest of "
        f"{made.counts['largest_mm2']:.1f} mm². All other contours stay as they are."
    )


def _label(values: Mapping[str, Any]) -> str:
    if values["at"]:
        return f"Take this inner contour out of the {values['role']}"
    small = f" under {values['below_mm2']:g} mm²" if values["below_mm2"] < AREA.most else ""
    return f"Drop the inner contours{small} of the {values['role']}"


shape_mend(
    "drop-inner", _label, ("line.leftover",), _find, _words,
    lambda before: f"The {before.step.role_words} has no such inner contour.", (AREA, AT), order=52,
)
