"""Strokes: what a tool does along one contour, from where it is lowered until it is lifted."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from horismos.cutting.blade import holder_path, led_in, overcut, parted_at_corners
from horismos.cutting.perforate import cuts_and_ties, perforated_starts
from horismos.cutting.starts import Starts, starts_of
from horismos.cutting.tools import Tool
from horismos.formats.hpgl import StrokeSegment
from horismos.paths import Contour, flatten
from horismos.paths.contour import Floats
from horismos.paths.matrix import Matrix

__all__ = ["FLATTEN_MM", "Prepared", "Stroke"]

FLATTEN_MM = 0.002
"""[ours] how far a flattened line may leave its curve: a tenth of a plotter unit's rounding."""


@dataclass(frozen=True, eq=False)
class Stroke:
    """One stroke with the tool down: where its ``holder`` goes and what its ``tip`` cuts, both shape (n, 2) in mm.

    ``forces`` are None where the tool keeps its own; else one for each of the ``parts`` of the holder's path, by where
    each begins.
    """

    holder: Floats
    tip: Floats
    begins: tuple[int, ...] = (0,)
    forces: tuple[float | None, ...] = (None,)

    @property
    def parts(self) -> list[StrokeSegment]:
        """The parts of the holder's path, each with its force."""
        ends = [*(b + 1 for b in self.begins[1:]), len(self.holder)]
        return [
            StrokeSegment(self.holder[a:b], force)
            for a, b, force in zip(self.begins, ends, self.forces, strict=True)
        ]

    def moved(self, matrix: Matrix) -> "Stroke":
        """The stroke of a copy."""
        a, b, c, d, e, f = matrix
        linear = np.array([[a, b], [c, d]])
        holder = self.holder @ linear + (e, f)
        tip = holder if self.tip is self.holder else self.tip @ linear + (e, f)
        return Stroke(holder, tip, self.begins, self.forces)


@dataclass(frozen=True, eq=False)
class Prepared:
    """A contour made ready for a tool: where its cut may begin, and the strokes from each such place."""

    contour: Contour
    tool: Tool
    known: dict[int, tuple[Stroke, ...]] = field(default_factory=dict)

    @cached_property
    def _perforated(self) -> tuple[list[Floats], list[Floats]]:
        return cuts_and_ties(self.contour, self.tool, FLATTEN_MM)

    @cached_property
    def _perforated_starts(self) -> tuple[Starts, list[int]]:
        return perforated_starts(self._perforated[0], self.contour.loops)

    @cached_property
    def starts(self) -> Starts:
        """Where its cut may begin."""
        if self.tool.perforates:
            return self._perforated_starts[0]
        return starts_of(flatten(self.contour, FLATTEN_MM))

    def strokes(self, which: int) -> tuple[Stroke, ...]:
        """What the tool does from one of those places, once."""
        if which not in self.known:
            made = self._perforating(which) if self.tool.perforates else self._cutting(which)
            self.known[which] = tuple(made)
        return self.known[which]

    def _cutting(self, which: int) -> list[Stroke]:
        path = self.starts.begun(which)
        if self.contour.loops:
            path = overcut(path, self.tool.overcut_mm)
        if self.tool.trails_mm:
            path = led_in(path)
        paths = parted_at_corners(path) if self.tool.lifts_at_corners else [path]
        return [self._stroke([one], [None]) for one in paths]

    def _perforating(self, which: int) -> list[Stroke]:
        cuts, ties = self._perforated
        first = self._perforated_starts[1][which]
        if not self.contour.loops and which:
            cuts, ties = [c[::-1] for c in reversed(cuts)], [t[::-1] for t in reversed(ties)]
        elif self.contour.loops:
            cuts, ties = cuts[first:] + cuts[:first], ties[first:] + ties[:first]
        if not self.tool.tie_force_gf:
            return [self._stroke([cut], [None]) for cut in cuts]
        scored = [self.tool.tie_force_gf] * len(ties)
        paths = [part for k, whole in enumerate(cuts) for part in (whole, *ties[k : k + 1])]
        forces: list[float | None] = [force for i in range(len(cuts)) for force in (None, *scored[i : i + 1])]
        return [self._stroke(paths, forces)]

    def _stroke(self, paths: Sequence[Floats], forces: Sequence[float | None]) -> Stroke:
        """One stroke along paths that join, each with its force."""
        off = self.tool.trails_mm
        tip = np.concatenate([paths[0], *(path[1:] for path in paths[1:])])
        if not off:
            begins = np.cumsum([0, *(len(path) - 1 for path in paths[:-1])])
            return Stroke(tip, tip, tuple(begins.tolist()), tuple(forces))
        holders = [holder_path(path, off) for path in paths]
        begins = np.cumsum([0, *(len(holder) for holder in holders[:-1])])
        begins[1:] -= 1
        return Stroke(np.concatenate(holders), tip, tuple(begins.tolist()), tuple(forces))
