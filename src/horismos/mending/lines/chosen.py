"""Contours that a person points at, and the proof that only chosen ones have gone."""

from collections.abc import Sequence

from horismos.checking.measuring.outlines import Outline
from horismos.comparing.difference import Difference
from horismos.errors import CannotWrite
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.paths import Contour, flatten, length

__all__ = ["AT", "only_dropped", "pointed_at"]

AT = Setting("at", SettingKind.POINTS, "Places on the contours", optional=True)
NEAR_MM = 1.0
"""[ours] a contour that runs so near a point was pointed at; so is the one that the point lies in."""
SLACK_MM = 0.01
"""[ours] how far the length that is left may differ from what was said."""


def pointed_at(outline: Outline, points: Sequence[Sequence[float]]) -> bool:
    """Whether one of the points, in mm, lies on an outline or inside it."""
    import shapely

    line = shapely.LineString(flatten(outline.contour))
    area = outline.polygon
    return any(
        line.distance(place) <= NEAR_MM or (area is not None and area.contains(place))
        for place in map(shapely.Point, points)
    )


def only_dropped(difference: Difference, gone: Sequence[Contour]) -> None:
    """Raise CannotWrite where other contours than these have gone."""
    count = sum(difference.before.values()) - sum(difference.after.values())
    shorter = difference.length_before_mm - difference.length_after_mm
    if count != len(gone) or abs(shorter - sum(map(length, gone))) > SLACK_MM:
        raise CannotWrite(
            "Other contours than those that were said would go.",
            "Nothing was changed. Report this; it is a fault of the program.",
        )
