"""In which order contours are cut, and where each begins: inner before outer, the shortest way, section by section."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from horismos.cutting.tour import MOST_PLACES, tour
from horismos.paths.contour import Floats

__all__ = ["SECTION_MM", "TourStops", "in_order"]

SECTION_MM = 2000.0
"""[ours] a longer run is cut section by section along the media, so that it does not run back and forth."""
FIRST_HASTE = 0.2
FEW = 20
"""So many contours inside another are arranged exactly, and once for all copies."""
Ints = NDArray[np.intp]


@dataclass(frozen=True, eq=False)
class TourStops:
    """Where each of n contours may be begun, and where it ends then, both shape (n, k, 2) in mm on the sheet.

    ``around`` is the nearest contour that encloses each, by its number, or -1; ``last`` are cut behind all others.
    """

    begins: Floats
    ends: Floats
    around: Ints
    last: NDArray[np.bool_]

    @cached_property
    def middles(self) -> Floats:
        """A place for each contour before it is known where it begins, shape (n, 2)."""
        middles: Floats = self.begins.mean(axis=1)
        return middles

    @cached_property
    def inside(self) -> dict[int, list[int]]:
        """The contours right inside each contour; under -1 those that nothing encloses."""
        out: dict[int, list[int]] = {}
        for i, around in enumerate(self.around.tolist()):
            out.setdefault(around, []).append(i)
        return out


def in_order(places: TourStops, start: Floats, length_mm: float) -> tuple[Ints, Ints]:
    """The order of contours, and at which of its places each begins.

    First by the middles of the contours; then each begins where the way through them is shortest, which is exact for
    that order; then the order is looked for once more, by where they begin.
    """
    count = len(places.around)
    if not count:
        return np.empty(0, np.intp), np.empty(0, np.intp)
    order = _arranged(places, places.middles, places.middles, start, length_mm, FIRST_HASTE, {})
    chosen = _best_begins(places, order, start)
    every = np.arange(count)
    begins, ends = places.begins[every, chosen], places.ends[every, chosen]
    known = _families(places, order)
    order = _arranged(places, begins, ends, start, length_mm, 1.0, known)
    return order, chosen


def _families(places: TourStops, order: Ints) -> dict[int, list[int]]:
    """The inner contours of each family in the order found, of such families as stay as they are."""
    rank = np.empty(len(order), np.intp)
    rank[order] = np.arange(len(order))
    return {
        around: sorted(inner, key=lambda i: int(rank[i]))
        for around, inner in places.inside.items() if around >= 0 and len(inner) <= FEW
    }


def _arranged(
    places: TourStops, begins: Floats, ends: Floats, start: Floats, length_mm: float, time_share: float,
    known: dict[int, list[int]],
) -> Ints:
    """All contours in order: sections one behind the other, within each the shortest way, inner contours first."""
    families = {i: _family(places, i, begins, ends, time_share, known) for i in places.inside.get(-1, [])}
    out: list[int] = []
    for behind in (False, True):
        tops = np.array([i for i in families if places.last[i] == behind], dtype=np.intp)
        for section in _sections(tops, places.middles, length_mm):
            first = np.array([families[i][0] for i in section.tolist()], dtype=np.intp)
            at = ends[out[-1]] if out else start
            for k in tour(begins[first], ends[section], at, time_share=time_share).tolist():
                out += families[int(section[k])]
    return np.array(out, dtype=np.intp)


def _family(
    places: TourStops, top: int, begins: Floats, ends: Floats, time_share: float, known: dict[int, list[int]]
) -> list[int]:
    """A contour behind all that lie inside it."""
    inner = places.inside.get(top, [])
    if not inner:
        return [top]
    if top in known:
        order = known[top]
    elif len(inner) == 1:
        order = inner
    else:
        within = np.array(inner)
        nearest = int(np.hypot(*(begins[within] - begins[top]).T).argmax())
        way = tour(begins[within], ends[within], begins[within[nearest]], begins[top], time_share)
        order = within[way].tolist()
    return [j for i in order for j in _family(places, i, begins, ends, time_share, known)] + [top]


def _sections(tops: Ints, middles: Floats, length_mm: float) -> list[Ints]:
    """Contours by sections along the media, each short enough, and none with too many."""
    if not len(tops):
        return []
    many = -(-len(tops) // MOST_PLACES)
    count = max(int(np.ceil(length_mm / SECTION_MM)), many)
    if count <= 1:
        return [tops]
    along = middles[tops, 1]
    if many > 1:
        return [tops[part] for part in np.array_split(np.argsort(along, kind="stable"), count)]
    edges = np.linspace(along.min(), along.max(), count + 1)[1:-1]
    of = np.searchsorted(edges, along, side="right")
    return [tops[of == i] for i in range(count) if (of == i).any()]


def _best_begins(places: TourStops, order: Ints, start: Floats) -> Ints:
    """Where each contour begins best for an order: the shortest way through the choices, one behind the other."""
    begins, ends = places.begins[order], places.ends[order]
    count, choices = begins.shape[:2]
    came = np.zeros((count, choices), np.intp)
    cost = np.hypot(*(begins[0] - start).T)
    for i in range(1, count):
        step = begins[i][None, :, :] - ends[i - 1][:, None, :]
        total = cost[:, None] + np.hypot(step[..., 0], step[..., 1])
        came[i] = total.argmin(axis=0)
        cost = total[came[i], np.arange(choices)]
    chosen = np.empty(count, np.intp)
    at = int(cost.argmin())
    for i in range(count - 1, -1, -1):
        chosen[order[i]] = at
        at = int(came[i, at])
    return chosen
