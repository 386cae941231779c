"""The simulated cutter with a stack of fabric: layer by layer on one sheet that stays where it lies.

It reads the cut files, and knows of each layer what lies on the bed then. It brings a little less force than it is
told, returns to its zero as exactly as it can, and cuts wherever its zero was set last.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from horismos.cutting.depth import CutOutcome, depth_um, outcome_at, wanted_um
from horismos.formats.hpgl import read_hpgl
from horismos.machines import Cutter
from horismos.materials import Stratum
from horismos.paths.areas import area_of
from horismos.paths.contour import Floats, contour_from_points
from horismos.roles import LineRole
from horismos.simulation.cutter import FORCE_RATIO

__all__ = ["JobCut", "StackJob", "cut_stack"]

@dataclass(frozen=True)
class StackJob:
    """A cut job: the file, and what the blade meets from the face down.

    ``origin_mm`` is how far the zero was set from where it was for the first layer: nothing, unless somebody sets it
    anew. ``framed`` says that its longest cut is a frame round all else, to be weeded.
    """

    name: str
    hpgl: bytes
    strata: tuple[Stratum, ...]
    origin_mm: tuple[float, float] = (0.0, 0.0)
    framed: bool = False


@dataclass(frozen=True, eq=False)
class JobCut:
    """A job as it was cut. ``strokes`` are where the blade went, in mm from the first zero, each (n, 2), without the
    ``frame``, which is None where there is none.

    ``inside_mm`` is by how much it lies within what was cut before, at least; negative where it lies over its edge;
    None for the first.
    """

    name: str
    strokes: tuple[Floats, ...]
    frame: Floats | None
    deep_um: float
    outcome: CutOutcome
    off_mm: tuple[float, float]
    inside_mm: float | None


def cut_stack(jobs: Sequence[StackJob], cutter: Cutter, seed: int = 1) -> tuple[JobCut, ...]:
    """Cut jobs in the order given, the lowest layer first. Raises CannotRead for what is not HP-GL."""
    rng = np.random.default_rng(seed)
    out: list[JobCut] = []
    below: shapely.Geometry | None = None
    for number, job in enumerate(jobs):
        strokes = read_hpgl(job.hpgl, (0.0, 0.0), cutter.dialect)
        repeats = rng.normal(0, cutter.repeats_mm, 2) if number else np.zeros(2)
        off = np.array(job.origin_mm) + repeats
        points = tuple(np.asarray(stroke.points + off, np.float64) for stroke in strokes)
        frame, points = _parted(points) if job.framed else (None, points)
        area = area_of([contour_from_points(stroke, True) for stroke in points])
        force = min((s.force_gf for s in strokes if s.force_gf), default=0.0)
        deep = depth_um(force * FORCE_RATIO, job.strata) if force else wanted_um(LineRole.KISS_CUT, job.strata)
        outcome = outcome_at(deep, LineRole.KISS_CUT, job.strata)
        inside = None if below is None else _inside(area, below)
        out.append(JobCut(job.name, points, frame, deep, outcome, (float(off[0]), float(off[1])), inside))
        below = area
    return tuple(out)


def _parted(strokes: tuple[Floats, ...]) -> tuple[Floats | None, tuple[Floats, ...]]:
    """The frame, which reaches furthest, and all else."""
    if len(strokes) < 2:
        return None, strokes
    at = int(np.argmax([np.ptp(stroke, axis=0).sum() for stroke in strokes]))
    return strokes[at], (*strokes[:at], *strokes[at + 1 :])


def _inside(upper: shapely.Geometry, lower: shapely.Geometry) -> float:
    over = shapely.difference(upper, lower)
    if over.is_empty:
        return float(shapely.distance(shapely.boundary(upper), shapely.boundary(lower)))
    points = shapely.points(shapely.get_coordinates(over))
    return -float(shapely.distance(points, lower).max())
