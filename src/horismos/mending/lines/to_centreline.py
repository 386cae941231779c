"""Makes the outline of an expanded stroke one line again, in the middle of it."""

import numpy as np
import shapely

from horismos.checking.measuring.outlines import LineShape
from horismos.mending.engine.registry import MendContext
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.mending.lines.shape import Reshaping, pages_of, shape_mend
from horismos.paths import Contour, flatten, length
from horismos.paths.fit import fit_points
from horismos.paths.nearness import Ribbon
from horismos.paths.offset import offset
from horismos.words import plural

WIDEST = Setting("width_mm", SettingKind.NUMBER, "The widest stroke that is taken for one", 0.5, "mm", 0.01, 2.0)
"""[ours] the same as the limit of the check that is shipped."""
WITHIN_MM = 0.01
SAMPLES_PER_WIDTH = 4
MOST_SAMPLES = 40_000


def _find(before: MendContext) -> Reshaping:
    widest = float(before.step["width_mm"])
    made = Reshaping()
    most = 0.0
    for shape, roles in pages_of(before):
        for ribbon in shape.ribbons:
            outlines = [shape.everything[i] for i in ribbon.contours]
            if outlines[0].role not in roles or ribbon.width_mm > widest:
                continue
            made.changes |= {o: [_centreline(shape, ribbon)] if i == 0 else [] for i, o in enumerate(outlines)}
            made.count("strokes")
            most = max(most, ribbon.width_mm)
    made.counts["width_mm"] = round(most, 3)
    made.moved_mm = most
    return made


def _centreline(shape: LineShape, ribbon: Ribbon) -> Contour:
    contours = [shape.everything[i].contour for i in ribbon.contours]
    if len(contours) == 2:
        # Between an outer and an inner contour: the inner one, moved out by half of the width.
        middle = offset(contours[1], ribbon.width_mm / 2, join="mitre")
        if middle is not None:
            return middle
    return _between_sides(contours[0], ribbon.width_mm)


def _between_sides(outline: Contour, width_mm: float) -> Contour:
    """The line between the two sides of one closed outline: it folds at the ends of the stroke."""
    ring = shapely.LinearRing(flatten(outline, WITHIN_MM / 4))
    count = min(max(int(length(outline) / width_mm * SAMPLES_PER_WIDTH), 64), MOST_SAMPLES) // 2 * 2
    at = (np.arange(count) + 0.5) * ring.length / count
    points = shapely.get_coordinates(shapely.line_interpolate_point(ring, at))
    steps = np.arange(1, count // 2)
    probe = steps[:: max(len(steps) // 64, 1)]
    folds = np.arange(0, count // 2)
    apart = np.hypot(*np.moveaxis(
        points[(folds[:, None] + probe) % count] - points[(folds[:, None] - 1 - probe) % count], -1, 0
    )).mean(axis=1)
    fold = int(folds[apart.argmin()])
    k = np.arange(count // 2)
    middle = (points[(fold + k) % count] + points[(fold - 1 - k) % count]) / 2
    return fit_points(middle, False, False, WITHIN_MM)


def _words(before: MendContext, made: Reshaping) -> str:
    strokes = plural(int(made.counts["strokes"]), "expanded stroke")
    wide = f"up to {made.counts['width_mm']:.2f} mm wide"
    return f"Draws {strokes} of the {before.step.role_words}, {wide}, as one line in the middle."


shape_mend(
    "to-centreline", "Make expanded strokes of the {role} lines again", ("line.ribbon",), _find, _words,
    lambda before: f"The {before.step.role_words} holds no expanded stroke of at most {before.step['width_mm']:g} mm.",
    (WIDEST,), safe=True, order=28, as_strokes=True,
)
