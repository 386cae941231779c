"""Pieces: what is repeated on a sheet. A sheet may hold pieces of several jobs."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely

from horismos.artwork.extent import art_boxes
from horismos.artwork.lines import Line, line_objects, lines_by_role
from horismos.artwork.model import Artwork, Page
from horismos.destinations import Destination
from horismos.orders import Edge, Order
from horismos.paths import Contour, bounds, chain, enclosing_counts, flatten, rectangle, signed_area, union_bounds
from horismos.paths.box import Bounds
from horismos.paths.contour import Floats
from horismos.roles import LineRole

__all__ = ["Piece", "piece_of"]

FINE_MM = 0.01


@dataclass(frozen=True, eq=False)
class Piece:
    """One page of an artwork as it is to be cut; all in mm of the artwork.

    ``drawn`` are all lines of the page, so that the art can be parted from them; ``lines`` the contours of the
    roles that are wanted, ``left_out`` the roles that the file has and the order does not want. ``outline``
    are the outermost closed contours, the trim box where there is none; ``bounds`` those of everything that is
    cut. ``bleed_mm`` is what it wants round it.
    """

    artwork: Artwork
    page: Page
    drawn: tuple[Line, ...]
    lines: Mapping[LineRole, tuple[Contour, ...]]
    left_out: tuple[LineRole, ...]
    outline: tuple[Contour, ...]
    bounds: Bounds
    bleed_mm: float
    job: str = ""

    @cached_property
    def hull(self) -> Floats:
        """The corners of the convex hull of all that is cut, shape (n, 2): what any turn of it reaches."""
        contours = [c for of in self.lines.values() for c in of] or list(self.outline)
        hull = shapely.convex_hull(shapely.multipoints(np.concatenate([flatten(c, FINE_MM) for c in contours])))
        return np.asarray(shapely.get_coordinates(hull), np.float64)

    @property
    def area_mm2(self) -> float:
        """The area inside the outline, at most that of the bounds: two roles on one path count once."""
        x0, y0, x1, y1 = self.bounds
        return min(sum(abs(signed_area(c)) for c in self.outline), (x1 - x0) * (y1 - y0))


def piece_of(
    artwork: Artwork, page: Page, order: Order, destination: Destination, bleed_mm: float, job: str = ""
) -> Piece:
    """The piece that a page makes under an order, with the bleed that it wants where colour runs over the cut."""
    drawn = line_objects(artwork, page, destination)
    by_role = {
        role: tuple(c for line in lines for c in line.contours) for role, lines in lines_by_role(drawn).items()
    }
    wanted = {
        role: contours for role, contours in by_role.items()
        if contours and (order.roles is None or role in order.roles)
    }
    left_out = tuple(role for role in by_role if role not in wanted)
    contours = [joined.contour for joined in chain([c for of in wanted.values() for c in of])]
    box = union_bounds(bounds(contour) for contour in contours) or page.boxes.trim
    prints = order.edge is not Edge.BORDER and bool(art_boxes(page, drawn))
    bleed = bleed_mm if prints else 0.0
    return Piece(
        artwork, page, tuple(drawn), wanted, left_out, _outline(contours) or (rectangle(*box),), box, bleed, job
    )


def _outline(contours: Sequence[Contour]) -> tuple[Contour, ...]:
    depths = enclosing_counts(contours)
    return tuple(c for c, depth in zip(contours, depths, strict=True) if c.loops and not depth)
