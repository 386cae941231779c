"""The stitches of a stack: layer by layer from the bottom, kind by kind, ring by ring, with locks, trims and stops.

Needle points are planned in the unit that every stitch file has, 0.1 mm: what is shown is what is sewn.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray

from horismos.errors import BadValue
from horismos.formats.embroidery import UNIT_MM, ColourStop, Record, Sewn
from horismos.paths.contour import Floats
from horismos.stitching.columns import band_area, columns
from horismos.stitching.layers import LaidLayer
from horismos.stitching.runs import in_stitches, inside_edge, rolled
from horismos.stitching.stack import Sewing, StitchKind

__all__ = ["LEAST_UNITS", "LONGEST_UNITS", "Seam", "StitchPlan", "plan_stitches", "thread_of"]

LEAST_UNITS = 3
"""[ours] 0.3 mm: a shorter stitch lies in the hole of the one before."""
LONGEST_UNITS = 120
"""[memory] the shortest of the longest stitches that formats hold is 12.1 mm along each axis, in DST."""
MOST_STITCHES = 500_000
"""[ours] of a stack; a large patch has some ten thousand."""
LOCK_UNITS = 4
"""[ours] the small stitches that hold the thread at both ends of a seam: there and back, and there and back again."""
WIDE_MM = 9.0
"""[practice] a satin that is wider snags."""
THREADS = ("#1F4E5F", "#B5533C", "#D9A441", "#4F6B3A", "#5A4A78")
"""[ours] threads of layers for which none was chosen, from the top down."""

Units = NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class Seam:
    """Needle points without a jump, shape (n, 2) in units of 0.1 mm, locks at both ends included.

    ``kinds`` says from which point on it sews which kind. ``layer`` is its number from the top, from 0.
    """

    layer: int
    points: Units
    kinds: tuple[tuple[int, StitchKind], ...]
    colour: str
    stop: str = ""
    """What a person has to do before it, where the machine stops; empty: nothing."""
    lays: bool = False
    """Whether it is then that the layer is laid."""


@dataclass(frozen=True, eq=False)
class StitchPlan:
    """Seams in the order of sewing; ``middle_mm`` is the zero of the files, ``said`` what is to be known."""

    seams: tuple[Seam, ...]
    middle_mm: tuple[float, float]
    said: tuple[str, ...] = ()

    @property
    def records(self) -> list[Record]:
        """What a stitch file holds: seams, and stops between them."""
        out: list[Record] = []
        for i, seam in enumerate(self.seams):
            if i and seam.stop:
                out.append(ColourStop(seam.colour))
            out.append(Sewn(seam.points))
        return out

    @cached_property
    def lengths_mm(self) -> Floats:
        """The length of every stitch."""
        if not self.seams:
            return np.empty(0)
        steps = np.concatenate([np.diff(seam.points, axis=0) for seam in self.seams])
        lengths: Floats = np.hypot(*steps.T) * UNIT_MM
        return lengths

    @property
    def seams_mm(self) -> list[Floats]:
        """The needle points of every seam in mm about the middle, (n, 2) each."""
        return [np.asarray(seam.points * UNIT_MM, np.float64) for seam in self.seams]

    @property
    def count(self) -> int:
        """How often the needle goes down."""
        return sum(len(seam.points) for seam in self.seams)

    @property
    def jumps(self) -> int:
        """How often it moves without sewing, the way from the zero included."""
        return len(self.seams)

    @property
    def trims(self) -> int:
        """How often the thread is cut, but for the end."""
        return max(len(self.seams) - 1, 0)

    @property
    def stops(self) -> int:
        """How often the machine stops between its beginning and its end."""
        return sum(bool(seam.stop) for seam in self.seams[1:])

    @property
    def colours(self) -> int:
        """How many threads there are."""
        return len({seam.colour for seam in self.seams})

    @property
    def thread_mm(self) -> float:
        """The length of the upper thread as it lies on the fabric."""
        return float(self.lengths_mm.sum())

    @property
    def longest_mm(self) -> float:
        """The longest stitch."""
        return float(self.lengths_mm.max(initial=0.0))


def thread_of(laid: LaidLayer) -> str:
    """The colour of a layer's thread, #rrggbb."""
    return laid.layer.thread or THREADS[laid.number % len(THREADS)]


def plan_stitches(layers: Sequence[LaidLayer]) -> StitchPlan:
    """Plan the stitches of layers, which are given from the top down; the lowest is sewn first.

    Raises BadValue where they would be far too many: that is counted before any is made.
    """
    about = sum(_about(laid) for laid in layers)
    if about > MOST_STITCHES:
        raise BadValue(
            f"The stack would have about {about:,.0f} stitches; {MOST_STITCHES:,} are the most.",
            "Take a wider spacing, or narrower satins.",
        )
    x0, y0, x1, y1 = shapely.union_all([one.area for one in layers]).bounds
    middle = ((x0 + x1) / 2, (y0 + y1) / 2)
    said: dict[str, None] = {}
    seams: list[Seam] = []
    at = np.array(middle)
    for laid in reversed(layers):
        if not laid.layer.stitches:
            continue
        work = _Layer(laid, at, np.array(middle), said)
        seams += work.sewn()
        at = work.at
    return StitchPlan(tuple(seams), middle, tuple(said))


def _about(laid: LaidLayer) -> float:
    """About how many stitches a layer will have: along its edge, and across wide columns in parts."""
    along, longest = float(laid.area.length), LONGEST_UNITS * UNIT_MM
    return sum(
        along / sewing.spacing_mm * (1 if sewing.kind.runs else 2 * max(sewing.width_mm / longest, 1.0))
        for sewing in laid.layer.stitches
    )


class _Layer:
    """One layer while it is being sewn."""

    def __init__(self, laid: LaidLayer, at: Floats, middle: Floats, said: dict[str, None]) -> None:
        self.laid, self.at, self.middle, self.said = laid, at, middle, said
        self.colour = thread_of(laid)
        self.open: list[Floats] = []
        self.kinds: list[tuple[int, StitchKind]] = []
        self.seams: list[Seam] = []
        self.what = f"“{laid.layer.name}” ({laid.layer.cloth.title.lower()})"
        first = laid.layer.stitches[0].kind
        placed = first is StitchKind.PLACEMENT
        self.stop = f"The line for {self.what} comes first; lay nothing yet." if placed else f"Lay {self.what}."
        self.lays = not placed
        self.hides = _hidden(laid)
        shapely.prepare(self.hides)

    def sewn(self) -> list[Seam]:
        """The seams of all kinds, in the order in which these are given."""
        for sewing in self.laid.layer.stitches:
            if sewing.kind.runs:
                self._run(sewing)
            else:
                self._column(sewing)
            if sewing.kind is StitchKind.PLACEMENT:
                self._ended()
                if self.seams:
                    self.stop = f"Lay {self.what} on its line, over the stitches just sewn."
                    self.lays = True
        self._ended()
        return self.seams

    def _run(self, sewing: Sewing) -> None:
        rings, narrow = inside_edge(self.laid.area, sewing.inset_mm)
        if narrow:
            self.said[
                f"{self.laid.layer.name}: {narrow} of its pieces are narrower than twice {sewing.inset_mm:g} mm; the "
                f"{sewing.kind.value} line lies nearer to their edge."
            ] = None
        left = list(rings)
        while left:
            ends = [float(np.min(np.hypot(*(ring - self.at).T))) for ring in left]
            ring = rolled(left.pop(int(np.argmin(ends))), self.at)
            points = in_stitches(ring, sewing.spacing_mm)
            self._add(np.vstack([points, points[1:2]]), sewing.kind)

    def _column(self, sewing: Sewing) -> None:
        made = columns(self.laid.area, self.laid.layer, sewing)
        if sewing.width_mm > WIDE_MM:
            self.said[f"{self.laid.layer.name}: a {sewing.kind.value} of {sewing.width_mm:g} mm snags."] = None
        left = [(one, *one.begins()) for one in made]
        while left:
            near = [np.hypot(*(points - self.at).T) for _, _, points in left]
            chosen = int(np.argmin([float(d.min()) for d in near]))
            column, ways, _ = left.pop(chosen)
            self._add(column.points(float(ways[int(np.argmin(near[chosen]))])), sewing.kind)

    def _add(self, points: Floats, kind: StitchKind) -> None:
        """Sew on: from where the needle is, where the way is hidden later, else after a trim."""
        if self.open and not self._is_hidden(self.open[-1][-1], points[0]):
            self._ended()
        self.kinds.append((sum(map(len, self.open)), kind))
        self.open.append(points)
        self.at = points[-1]

    def _is_hidden(self, start: Floats, end: Floats) -> bool:
        return bool(shapely.covers(self.hides, shapely.LineString([start, end])))

    def _ended(self) -> None:
        """Close the seam that is open: needle points in units, none too near to the one before, none too far."""
        if not self.open:
            return
        points, kinds = np.concatenate(self.open), self.kinds
        units = np.rint((points - self.middle) / UNIT_MM).astype(np.int64)
        kept, index = _spread(units)
        self.open, self.kinds = [], []
        if len(kept) < 2:
            return
        parted, begins = _parted(kept)
        locked = _locked(parted)
        where = {int(i): int(b) for i, b in zip(index, begins, strict=True)}
        told = tuple((_from(where, begin), kind) for begin, kind in kinds)
        self.seams.append(Seam(self.laid.number, locked, told, self.colour, self.stop, bool(self.stop) and self.lays))
        self.stop = ""


def _hidden(laid: LaidLayer) -> shapely.Geometry:
    """Where a satin of a layer will lie: ways from one seam to the next are not seen there."""
    bands = [band_area(laid.area, laid.layer, s) for s in laid.layer.stitches if s.kind is StitchKind.SATIN]
    return shapely.buffer(shapely.union_all(bands), UNIT_MM) if bands else shapely.Polygon()


def _spread(units: Units) -> tuple[Units, Units]:
    """Needle points of which none lies too near to the one before it, and which of the given ones they are."""
    kept = [0]
    x, y = units[0].tolist()
    least = LEAST_UNITS**2
    for i, (a, b) in enumerate(units.tolist()):
        if i and (a - x) ** 2 + (b - y) ** 2 >= least:
            kept.append(i)
            x, y = a, b
    index = np.array(kept)
    return units[index], index


def _parted(units: Units) -> tuple[Units, Units]:
    """Stitches that are too long in even parts, and where each point that was given stands in them.

    Every second long stitch is parted half a part further on, so that holes do not lie in a row.
    """
    out: list[list[int]] = [units[0].tolist()]
    begins = [0]
    for k, (one, other) in enumerate(zip(units[:-1], units[1:], strict=True)):
        long = float(np.hypot(*(other - one)))
        parts = int(np.ceil(long / LONGEST_UNITS))
        if parts > 1:
            shares = (np.arange(parts + k % 2) + 1 - 0.5 * (k % 2)) / parts
            inner = one + (other - one) * shares[shares < 1 - 1e-9][:, None]
            out += np.rint(inner).astype(int).tolist()
        begins.append(len(out))
        out.append(other.tolist())
    return np.array(out, np.int64), np.array(begins)


def _locked(units: Units) -> Units:
    """A seam with small stitches there and back at both ends, along its own way."""
    begin, end = _step(units[0], units[1]), _step(units[-1], units[-2])
    return np.vstack([units[0], units[0] + begin, units, units[-1] + end, units[-1]])


def _step(start: Units, towards: Units) -> Units:
    way = (towards - start).astype(float)
    step: Units = np.rint(way * LOCK_UNITS / max(float(np.hypot(*way)), 1.0)).astype(np.int64)
    return step


def _from(where: dict[int, int], begin: int) -> int:
    """Where the point that was given, or the next that was kept, stands; two points of the lock are before it."""
    at = min((i for i in where if i >= begin), default=max(where))
    return where[at] + 2 if begin else 0
