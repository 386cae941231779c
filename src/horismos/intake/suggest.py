"""What an order most likely is, from what the file says and the customer ordered last."""

from dataclasses import dataclass, replace

import numpy as np

from horismos.artwork.lines import Line, line_objects, lines_by_role
from horismos.artwork.model import Artwork, Page
from horismos.artwork.parting import art_alone
from horismos.destinations import Destination
from horismos.orders import Edge, Order
from horismos.paths import Contour, bounds, chain, signed_area, union_bounds
from horismos.rendering.edges import measure_edges
from horismos.rendering.page_process import PageProcess
from horismos.roles import OUTERMOST_FIRST, LineRole
from horismos.units import PLAIN_RATIOS

__all__ = ["Suggestion", "suggest", "warnings"]

WITHIN = 0.02
REACH_MM = 5.0
MOST_CONTOURS = 40
LEAST_MM = 0.5
"""[ours] a straight line across a piece bounds nothing."""


@dataclass(frozen=True)
class Suggestion:
    """An order to begin with, each part said where it comes from, and what does not fit."""

    order: Order
    said: tuple[str, ...]
    warnings: tuple[str, ...]


def suggest(
    artwork: Artwork, page: Page, destination: Destination, given: Order, last: Order | None = None
) -> Suggestion:
    """Fill what an order leaves open: size and edge from the file, the rest as ordered last.

    Which cuts are wanted stays open: a guess would be held against the file before anybody has said a word.
    """
    lines = line_objects(artwork, page, destination)
    roles = lines_by_role(lines)
    said: list[str] = []
    order = given
    if last is not None:
        order = replace(
            order, bleed_mm=_said(order.bleed_mm, last.bleed_mm), border_mm=_said(order.border_mm, last.border_mm),
            tolerance_mm=_said(order.tolerance_mm, last.tolerance_mm),
            viewing_distance_m=order.viewing_distance_m or last.viewing_distance_m, seen=last.seen,
            material=order.material or last.material,
        )
        said.append("Bleed, tolerance, material and viewing distance as in this customer's last order.")
    size, whence = finished_size(page, roles)
    if order.width_mm is None and order.height_mm is None:
        order = replace(order, width_mm=round(size[0], 2), height_mm=round(size[1], 2))
        said.append(f"Size from {whence}.")
    if order.edge is Edge.EITHER:
        edge = _edge(artwork, page, lines, roles)
        if edge is not Edge.EITHER:
            order = replace(order, edge=edge)
            runs = edge is Edge.BLEED
            said.append("Colour runs over the cut." if runs else "A blank border stays round the colour.")
    return Suggestion(order, tuple(said), warnings(size, given, last))


def _said(now: float | None, before: float | None) -> float | None:
    return now if now is not None else before


def finished_size(page: Page, roles: dict[LineRole, list[Line]]) -> tuple[tuple[float, float], str]:
    """The size in mm of what the outermost closed cuts hold, or of the trim box, and where it comes from."""
    for role in OUTERMOST_FIRST:
        box = union_bounds(map(bounds, _closed(roles.get(role, []))))
        if box and min(box[2] - box[0], box[3] - box[1]) > LEAST_MM:
            return (box[2] - box[0], box[3] - box[1]), f"the {role.words}"
    return page.size_mm, "the trim box" if "trim" in page.boxes.stated else "the page"


def warnings(size: tuple[float, float], order: Order, last: Order | None) -> tuple[str, ...]:
    """What in the file does not fit the order, in words: scale, turn, or another size than last time."""
    out = []
    w, h = size
    if order.width_mm and order.height_mm:
        ow, oh = order.width_mm, order.height_mm
        for ratio in PLAIN_RATIOS:
            if _near(w * ratio, ow) and _near(h * ratio, oh):
                out.append(f"The file is at 1:{ratio}; the order wants {ow:g} × {oh:g} mm.")
            elif _near(w, ow * ratio) and _near(h, oh * ratio):
                out.append(f"The file is {ratio} times as large as ordered.")
        if not _near(w / h, ow / oh) and _near(w / h, oh / ow):
            out.append(f"The page is turned: the file is {w:.1f} × {h:.1f} mm, the order {ow:g} × {oh:g} mm.")
        if not out and not (_near(w, ow) and _near(h, oh)):
            out.append(f"The file is {w:.1f} × {h:.1f} mm, the order {ow:g} × {oh:g} mm.")
    elif last is not None and last.width_mm and last.height_mm and not _near(w / h, last.width_mm / last.height_mm):
        out.append(f"The customer's last order was {last.width_mm:g} × {last.height_mm:g} mm, of another shape.")
    return tuple(out)


def _near(a: float, b: float) -> bool:
    return abs(a - b) <= WITHIN * max(abs(a), abs(b))


def _edge(artwork: Artwork, page: Page, lines: list[Line], roles: dict[LineRole, list[Line]]) -> Edge:
    """Bleed or border by what the art does at the largest cuts; either where it cannot be told."""
    drawn = [
        c for role in OUTERMOST_FIRST
        for c in _closed(roles.get(role, []))
    ]
    if not drawn or len(page.objects) == len(lines):
        return Edge.EITHER
    largest = sorted(drawn, key=lambda c: -abs(signed_area(c)))[:MOST_CONTOURS]
    with PageProcess.of_art(art_alone(artwork, page, lines), page) as view:
        profiles = measure_edges(view, largest, REACH_MM)
    over = np.concatenate([p.outside for p in profiles]) if profiles else np.zeros(0)
    if not len(over):
        return Edge.EITHER
    share = float((over > 0.3).mean())
    return Edge.BLEED if share > 0.5 else Edge.BORDER if share < 0.05 else Edge.EITHER


def _closed(lines: list[Line]) -> list[Contour]:
    return [joined.contour for joined in chain([c for line in lines for c in line.contours]) if joined.contour.loops]
