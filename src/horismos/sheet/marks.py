"""Registration marks: what the cutter's sensor looks for."""

from dataclasses import dataclass

from horismos.paths import Contour, contour_from_points
from horismos.paths.box import Bounds

__all__ = ["Mark", "corner_marks"]


@dataclass(frozen=True)
class Mark:
    """A corner mark: two arms from a corner point, inwards along x and y; mm on the sheet."""

    number: int
    x_mm: float
    y_mm: float
    along_x: int
    along_y: int
    arm_mm: float
    weight_mm: float

    @property
    def contour(self) -> Contour:
        """The middle of the mark's stroke: arm, corner, arm."""
        x, y = self.x_mm, self.y_mm
        return contour_from_points(
            [(x + self.along_x * self.arm_mm, y), (x, y), (x, y + self.along_y * self.arm_mm)],
            closed=False,
        )


def corner_marks(frame: Bounds, arm_mm: float, weight_mm: float) -> tuple[Mark, ...]:
    """Four marks on the corners of a frame, opening inwards; the first is the lower left one.

    [practice] brackets that open inwards sit closer to the art and save media. The numbers run
    lower left, lower right, upper right, upper left.
    """
    x0, y0, x1, y1 = frame
    corners = ((x0, y0, 1, 1), (x1, y0, -1, 1), (x1, y1, -1, -1), (x0, y1, 1, -1))
    return tuple(
        Mark(i, x, y, dx, dy, arm_mm, weight_mm) for i, (x, y, dx, dy) in enumerate(corners, 1)
    )
