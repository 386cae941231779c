"""The material cut open along a line: its strata, the inks on top, and every cut that the line crosses."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import accumulate

import numpy as np

from horismos.cutting.depth import CutOutcome, outcome_of, reached_um
from horismos.cutting.tools import Tool
from horismos.materials import Material, Stratum
from horismos.paths import Contour, flatten
from horismos.paths.contour import Floats
from horismos.roles import LineRole

__all__ = ["Crossing", "Section", "depth_of", "section"]

SAME_MM = 0.05
"""[ours] cuts no further apart are on the same path."""
FLAT_MM = 0.005
"""[ours] how far a chord may lie from its curve where crossings are looked for."""


@dataclass(frozen=True)
class Crossing:
    """A cut that the line crosses, ``at_mm`` from its beginning.

    ``top_um`` and ``bottom_um`` are depths below the face between which the material is parted;
    they are equal for what is only pressed. ``outcome`` is what that comes to with the tool that cuts it.
    """

    role: LineRole
    at_mm: float
    top_um: float
    bottom_um: float
    outcome: CutOutcome = CutOutcome.RIGHT


@dataclass(frozen=True)
class Section:
    """A section ``length_mm`` long: strata from the face down, and the crossings in order."""

    length_mm: float
    strata: tuple[Stratum, ...]
    crossings: tuple[Crossing, ...]


def depth_of(role: LineRole, strata: Sequence[Stratum]) -> tuple[float, float]:
    """Between which depths below the face, in µm, a role parts the strata; the same twice for what only presses.

    The role says which parts of a material it goes through, the material what its strata are: a kiss cut
    stops at whatever carries the face, a back cut parts that alone, from behind.

    >>> from horismos.materials import MATERIALS
    >>> depth_of(LineRole.KISS_CUT, MATERIALS["film-1370"].strata)
    (0.0, 115.0)
    """
    tops = [0.0, *accumulate(float(s.thickness_um) for s in strata)]
    parted = [i for i, stratum in enumerate(strata) if stratum.part in role.facts.through]
    return (tops[parted[0]], tops[parted[-1] + 1]) if parted else (0.0, 0.0)


def section(
    material: Material, lines: Mapping[LineRole, Iterable[Contour]], start: tuple[float, float],
    end: tuple[float, float], tools: Mapping[LineRole, Tool] | None = None,
) -> Section:
    """Cut a material open between two points in mm, as deep as the tools go; without them, as roles are meant to.

    The line has to have a length.
    """
    a, b = np.array(start, float), np.array(end, float)
    length = float(np.hypot(*(b - a)))
    found = [
        Crossing(role, at, *_parted(role, material.strata, (tools or {}).get(role)))
        for role, contours in lines.items()
        for contour in contours
        for at in _crossings(contour, a, b, length)
    ]
    found = [_over_kiss(one, found) for one in found]
    return Section(length, material.strata, tuple(sorted(found, key=lambda c: (c.at_mm, c.role))))


def _over_kiss(one: Crossing, found: Iterable[Crossing]) -> Crossing:
    """A perforation on a kiss cut begins where that has ended: only the liner is left to part [practice]."""
    if one.role is not LineRole.PERFORATION:
        return one
    kissed = [c for c in found if c.role is LineRole.KISS_CUT and abs(c.at_mm - one.at_mm) <= SAME_MM]
    return replace(one, top_um=max((c.bottom_um for c in kissed), default=one.top_um))


def _parted(role: LineRole, strata: Sequence[Stratum], tool: Tool | None) -> tuple[float, float, CutOutcome]:
    """Between which depths a tool parts the strata, and what that comes to."""
    if tool is None or not role.facts.through:
        return (*depth_of(role, strata), CutOutcome.RIGHT)
    deep, whole = reached_um(tool, strata), float(sum(s.thickness_um for s in strata))
    top, bottom = (whole - deep, whole) if role.facts.from_behind else (0.0, deep)
    return top, bottom, outcome_of(tool, strata)


def _crossings(contour: Contour, a: Floats, b: Floats, length: float) -> list[float]:
    """Where, in mm from ``a``, a contour crosses the line from ``a`` to ``b``."""
    if not length:
        return []
    box = contour.segments.reshape(-1, 2)
    if (box.max(axis=0) < np.minimum(a, b)).any() or (box.min(axis=0) > np.maximum(a, b)).any():
        return []
    along = (b - a) / length
    across = np.array([-along[1], along[0]])
    points = flatten(contour, FLAT_MM) - a
    t, s = points @ along, points @ across
    side = s >= 0
    at = np.flatnonzero(side[:-1] != side[1:])
    share = s[at] / (s[at] - s[at + 1])
    places = t[at] + share * (t[at + 1] - t[at])
    return [float(v) for v in places[(places >= 0) & (places <= length)]]
