"""The fit of marks as they are seen to marks as they are meant.

Two marks give a move, a turn and one stretch; three or more an affine map: stretch along and across, skew too; with at
least three rows of marks a bend along the length comes to it. What is left at each mark is its residual.
"""

from dataclasses import dataclass

import numpy as np

from horismos.errors import BadValue
from horismos.paths.contour import Floats
from horismos.sheet.misplacement import fit_design, segments_of

__all__ = ["Fit", "aligned", "fit"]

LEAST_MARKS, LEAST_ROWS_BENT, LEAST_BENT = 2, 3, 6


@dataclass(frozen=True, eq=False)
class Fit:
    """Where places of the sheet, in mm, lie before the cutter: as ``lands`` says.

    ``turn_deg`` is counter-clockwise; ``stretch_x`` and ``stretch_y`` are fractions; ``skew_deg`` leans the feed to the
    right; ``bend_mm`` is how far the ends of the marked length lie off to the right of its middle. ``residuals``, shape
    (n, 2), are how far each mark was seen from where the fit has it.
    """

    middle: Floats
    scale: float
    parameters: Floats
    count: int
    bend: Floats
    residuals: Floats

    def lands(self, places: Floats) -> Floats:
        """Where places, shape (n, 2) in mm on the sheet, lie before the cutter."""
        own = (places - self.middle) / self.scale
        out = (fit_design(own, self.count) @ self.parameters).reshape(-1, 2) + self.middle
        landed: Floats = out + own[:, 1:] ** 2 * self.bend
        return landed

    @property
    def _linear(self) -> Floats:
        """How the two axes land, rows."""
        ends = self.lands(self.middle + np.array([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]]))
        linear: Floats = ends[1:] - ends[0] - np.array([[0.0, 0.0], self.bend / self.scale**2])
        return linear

    @property
    def moved_mm(self) -> tuple[float, float]:
        """How far the middle of the marks lies from where it is meant."""
        x, y = (self.lands(self.middle[None])[0] - self.middle).tolist()
        return x, y

    @property
    def turn_deg(self) -> float:
        """How far it is turned."""
        across = self._linear[0]
        return float(np.degrees(np.arctan2(across[1], across[0])))

    @property
    def stretch_x(self) -> float:
        """How much longer it is across the media."""
        return float(np.hypot(*self._linear[0])) - 1

    @property
    def stretch_y(self) -> float:
        """How much longer it is along the feed, at right angles to the other."""
        (a, b), (c, d) = self._linear
        return float((a * d - b * c) / np.hypot(a, b)) - 1

    @property
    def skew_deg(self) -> float:
        """How far the feed leans to the right."""
        (a, b), (c, d) = self._linear
        return float(np.degrees(np.arctan2(a * c + b * d, a * d - b * c)))

    @property
    def bend_mm(self) -> float:
        """How far the ends of the marked length lie off to the right of its middle."""
        return float(self.bend[0])

    @property
    def worst_mm(self) -> float:
        """The greatest residual."""
        return float(np.hypot(*self.residuals.T).max())


def fit(meant: Floats, seen: Floats, straight: bool = False) -> Fit:
    """Fit marks seen to marks meant, both shape (n, 2) in mm. Raises BadValue for fewer than two, or two in one place.

    ``straight``: no bend is looked for.

    >>> found = fit(np.array([[0., 0.], [100., 0.], [0., 50.]]), np.array([[1., 2.], [101., 2.], [1., 52.]]))
    >>> [round(v, 6) for v in found.moved_mm], round(found.worst_mm, 6)
    ([1.0, 2.0], 0.0)
    """
    if len(meant) < LEAST_MARKS or np.ptp(meant, axis=0).max() < 1.0:
        raise BadValue("One mark does not tell how the sheet lies.", "Find at least two, far apart.")
    middle = meant.mean(axis=0)
    scale = max(float(np.abs(meant - middle).max()), 1.0)
    own = (meant - middle) / scale
    # marks on one line tell no more than a turn and a stretch
    count = len(meant) if np.linalg.matrix_rank(own, tol=1e-3) == 2 else LEAST_MARKS
    design = fit_design(own, count).reshape(2 * len(meant), -1)
    rows = len(np.unique(np.round(meant[:, 1], 3)))
    columns = design.shape[1]
    if not straight and count >= LEAST_BENT and rows >= LEAST_ROWS_BENT:
        curve = np.zeros((2 * len(meant), 2))
        curve[0::2, 0] = curve[1::2, 1] = own[:, 1] ** 2
        design = np.hstack([design, curve])
    found, *_ = np.linalg.lstsq(design, (seen - middle).reshape(-1), rcond=None)
    bend = found[columns:] if len(found) > columns else np.zeros(2)
    residuals = (seen - middle) - (design @ found).reshape(-1, 2)
    return Fit(middle, scale, found[:columns], count, bend, residuals)


def aligned(meant: Floats, seen: Floats, places: Floats) -> Floats:
    """Where a cutter goes for places, shape (n, 2), that are meant: by all marks, or by the rows before and behind.

    Of more than two rows of marks, those before and behind a place count for it: the cutter reads them as it goes.
    """
    out = np.empty_like(places)
    for chosen, here in segments_of(meant, places):
        out[here] = fit(meant[chosen], seen[chosen], straight=True).lands(places[here])
    return out
