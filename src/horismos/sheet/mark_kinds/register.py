"""The register of mark kinds. A kind is one file in this room: it registers what it is, and all else follows."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from enum import Enum
from functools import cache
from importlib import import_module
from pathlib import Path
from types import MappingProxyType

from horismos.errors import BadValue
from horismos.machines import MarkStyle
from horismos.paths import Contour
from horismos.paths.box import Bounds

__all__ = ["Arms", "Mark", "MarkKind", "Probe", "all_of_it", "kind_of", "register", "registered"]


class Arms(Enum):
    """By what a camera tells where a mark lies: its middle, or two arms from a corner, or two that cross."""

    NONE = "none"
    CORNER = "corner"
    CROSSED = "crossed"


@dataclass(frozen=True)
class Probe:
    """A place on a mark without arms, in pixels from its middle, and whether it is dark there."""

    right: float
    down: float
    dark: bool


@dataclass(frozen=True, kw_only=True)
class MarkKind:
    """What a mark looks like, what it takes, and how a camera finds it; the functions are given a mark, in mm.

    ``words`` name several of them, ``size_words`` what its size is of. ``opens`` says which way arms go: 1 towards
    the art, -1 away from it, 0 without any. ``stroked`` says whether it has a weight. ``reach`` gives how far beyond
    the art its place lies and its furthest ink, beside the distance that is wanted; its second argument says whether
    marks stand between the corners too. ``least_arm`` is the least size in weights. ``area`` is its ink in square
    pixels, of the largest part of it, by size and weight in pixels; ``probes`` are places that tell it from other
    shapes.
    """

    id: str
    words: str
    size_words: str
    strokes: Callable[["Mark"], tuple[Contour, ...]]
    fills: Callable[["Mark"], tuple[Contour, ...]]
    box: Callable[["Mark"], Bounds]
    inked: Callable[["Mark"], tuple[Bounds, ...]]
    reach: Callable[[MarkStyle, bool], tuple[float, float]]
    area: Callable[[float, float], float]
    arms: Arms = Arms.NONE
    opens: int = 0
    stroked: bool = True
    least_arm: float = 0.0
    probes: Callable[[float, float], tuple[Probe, ...]] = field(default=lambda arm, weight: ())

    def to_json(self) -> str:
        """A kind as JSON has it: by its id."""
        return self.id

    def __reduce__(self) -> tuple[Callable[[str], "MarkKind"], tuple[str]]:
        """Between processes a kind goes by its id."""
        return kind_of, (self.id,)


@dataclass(frozen=True)
class Mark:
    """A mark; mm on the sheet.

    Its place is its middle, or the corner where the outer edges of its arms meet; ``along_x`` and ``along_y`` say
    which way the arms go, 0 where there are none. ``arm_mm`` is its size, as its kind says.
    """

    number: int
    x_mm: float
    y_mm: float
    along_x: int
    along_y: int
    arm_mm: float
    weight_mm: float
    kind: MarkKind

    @property
    def strokes(self) -> tuple[Contour, ...]:
        """The middles of its strokes, ``weight_mm`` wide, butt caps and mitred joins; a filled shape has none."""
        return self.kind.strokes(self)

    @property
    def fills(self) -> tuple[Contour, ...]:
        """Its filled shapes."""
        return self.kind.fills(self)

    @property
    def box(self) -> Bounds:
        """The bounds of its ink."""
        return self.kind.box(self)

    @property
    def inked(self) -> tuple[Bounds, ...]:
        """Rectangles that hold its ink: its arms, or all of a filled shape."""
        return self.kind.inked(self)


def all_of_it(mark: Mark) -> Bounds:
    """The square round a mark's middle that its size is the side of."""
    r = mark.arm_mm / 2
    return mark.x_mm - r, mark.y_mm - r, mark.x_mm + r, mark.y_mm + r


_kinds: dict[str, MarkKind] = {}


def register(kind: MarkKind) -> MarkKind:
    """Take a kind into the register."""
    _kinds[kind.id] = kind
    return kind


@cache
def registered() -> Mapping[str, MarkKind]:
    """All kinds by their ids, in the order of these."""
    for path in sorted(Path(__file__).parent.glob("[a-z]*.py")):
        import_module(f"{__package__}.{path.stem}")
    return MappingProxyType(dict(sorted(_kinds.items())))


def kind_of(id: str) -> MarkKind:
    """The kind of an id. Raises BadValue."""
    if id not in registered():
        raise BadValue(f"There is no kind of mark “{id}”.", f"Known: {', '.join(registered())}.")
    return registered()[id]
