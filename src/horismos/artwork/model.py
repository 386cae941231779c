"""What an artwork is made of. Values only; nothing here reads or writes."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property
from typing import Any, NamedTuple

from horismos.artwork.fonts import UsedFont
from horismos.artwork.kinds import FileKind
from horismos.artwork.pathdata import contours_of
from horismos.paths.box import Bounds
from horismos.paths.contour import Contour
from horismos.paths.matrix import Matrix, multiply
from horismos.roles import InkRole, LineRole
from horismos.units import MM_PER_INCH

__all__ = [
    "PROCESS_INKS",
    "Artwork",
    "Boxes",
    "Clip",
    "ContentStream",
    "Damage",
    "Font",
    "Group",
    "ImageObject",
    "Ink",
    "Layer",
    "Page",
    "Paint",
    "PaintState",
    "PaintedObject",
    "PathObject",
    "Repair",
    "ShadingObject",
    "TextObject",
]

PROCESS_INKS = ("Cyan", "Magenta", "Yellow", "Black")
"""[standard] ISO 32000-1, 8.6.6.4: the names of the process colorants of DeviceCMYK."""


class Damage(StrEnum):
    """What of a file had to be mended to read it."""

    STRUCTURE = "structure"
    PAGE = "page"
    CONTENT = "content"


class Repair(NamedTuple):
    """Something that was read leniently: what, where in the file, and whether part of the page is lost for it."""

    words: str
    damage: Damage
    lost: bool = False


class Paint(NamedTuple):
    """A colour as set: the family of its colour space, and its inks with tints from 0 to 1.

    ``additive`` is true for RGB, Lab and calibrated spaces, which name no inks; ``values`` then
    holds the components as the file gives them.
    """

    family: str
    inks: tuple[tuple[str, float], ...]
    additive: bool = False
    values: tuple[float, ...] = ()

    @property
    def white(self) -> bool:
        """Whether the colour lays nothing down that shows on white paper."""
        if self.additive:
            lab = self.family == "Lab"
            return bool(self.values) and (self.values[0] >= 100 if lab else min(self.values) >= 1)
        return bool(self.inks) and all(tint <= 0 for _, tint in self.inks)


BLACK = Paint("DeviceGray", (("Black", 1.0),))
NO_DASH: tuple[tuple[float, ...], float] = ((), 0.0)


class PaintState(NamedTuple):
    """The graphics state that a painted object was painted with (ISO 32000-1, 8.4).

    ``ctm`` maps to mm on the finished page. ``line_width`` and ``dash`` are in user space.
    ``clip`` is an index into the page's clips, or -1. ``layers`` are indices into the artwork's
    layers. ``grouped`` is true inside a group that is itself blended, masked or see-through;
    ``group`` is the index of the innermost transparency group, or -1. ``visible`` and ``prints``
    say what optional content makes of it on screen and on paper.
    """

    ctm: Matrix
    stroke: Paint = BLACK
    fill: Paint = BLACK
    line_width: float = 1.0
    dash: tuple[tuple[float, ...], float] = NO_DASH
    overprint_stroke: bool = False
    overprint_fill: bool = False
    overprint_mode: int = 0
    alpha_stroke: float = 1.0
    alpha_fill: float = 1.0
    blend: str = "Normal"
    soft_mask: bool = False
    clip: int = -1
    layers: tuple[int, ...] = ()
    grouped: bool = False
    group: int = -1
    visible: bool = True
    prints: bool = True
    line_cap: int = 0
    line_join: int = 0
    miter_limit: float = 10.0
    flatness: float = 0.0

    @property
    def transparent(self) -> bool:
        """Whether what is painted so shows what lies under it."""
        return (
            self.alpha_stroke < 1
            or self.alpha_fill < 1
            or self.blend not in ("Normal", "Compatible")
            or self.soft_mask
            or self.grouped
        )


class Clip(NamedTuple):
    """A clipping path inside another one (-1: none), kept as bytes of content.

    ``box`` is set instead, in the space of ``ctm``, where the clip is the BBox of a form.
    """

    outer: int
    stream: int
    start: int
    end: int
    even_odd: bool
    ctm: Matrix
    box: Bounds | None = None


class Group(NamedTuple):
    """A transparency group (ISO 32000-1, 11.6.6) inside another one (-1: none)."""

    outer: int
    isolated: bool
    knockout: bool
    alpha: float
    blend: str
    soft_mask: bool


class PathObject(NamedTuple):
    """A painted path: where it stands in its content stream, and how it is painted.

    ``start`` to ``path_end`` is its construction, ``end`` is behind the painting operator.
    """

    stream: int
    start: int
    path_end: int
    end: int
    operator: str
    state: PaintState

    @property
    def strokes(self) -> bool:
        """Whether the painting operator strokes (ISO 32000-1, table 60)."""
        return self.operator in ("S", "s", "B", "B*", "b", "b*")

    @property
    def fills(self) -> bool:
        """Whether the painting operator fills."""
        return self.operator in ("f", "F", "f*", "B", "B*", "b", "b*")

    @property
    def closes(self) -> bool:
        """Whether the painting operator closes the last subpath."""
        return self.operator in ("s", "b", "b*")


class TextObject(NamedTuple):
    """One showing operator, with the text state (ISO 32000-1, 9.3) that it shows with.

    ``operand`` holds the bytes of its operand as they stand in the content. ``text_matrix`` maps
    text space to user space. ``font_used`` is None where the font is missing.
    """

    stream: int
    start: int
    end: int
    state: PaintState
    font_used: UsedFont | None
    size: float
    text_matrix: Matrix
    char_space: float
    word_space: float
    scale: float
    rise: float
    rendering_mode: int
    operand: bytes

    @property
    def matrix(self) -> Matrix:
        """The matrix from text space to mm."""
        return multiply(self.text_matrix, self.state.ctm)

    @property
    def font(self) -> str:
        """The font's PostScript name as the file gives it."""
        return self.font_used.name if self.font_used else "missing"

    @property
    def font_title(self) -> str:
        """The same without the tag of a subset (ISO 32000-1, 9.6.4)."""
        tag, plus, name = self.font.partition("+")
        return name if plus and len(tag) == 6 and tag.isupper() else self.font

    @property
    def embedded(self) -> bool:
        """Whether the font comes with the file."""
        return self.font_used is not None and self.font_used.embedded

    @property
    def size_mm(self) -> float:
        """The font size in mm on the finished page, square to the line of text."""
        _, _, c, d, _, _ = self.matrix
        return float(abs(self.size) * (c * c + d * d) ** 0.5)


class ImageObject(NamedTuple):
    """An image as its dictionary tells it; no pixel was decoded.

    ``space`` is the colour-space family, ``stencil`` true for an image mask, ``masked`` true
    where a soft mask makes it transparent. The state's matrix places its unit square.
    """

    stream: int
    start: int
    end: int
    state: PaintState
    pixels: tuple[int, int]
    bits: int
    space: str
    additive: bool
    inks: tuple[str, ...]
    stencil: bool
    masked: bool

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height in mm along the image's own axes."""
        a, b, c, d, _, _ = self.state.ctm
        return (a * a + b * b) ** 0.5, (c * c + d * d) ** 0.5

    @property
    def ppi(self) -> tuple[float, float]:
        """Effective pixels per inch at finished size along the image's own axes."""
        w, h = self.size_mm
        return (
            MM_PER_INCH * self.pixels[0] / w if w else 0.0,
            MM_PER_INCH * self.pixels[1] / h if h else 0.0,
        )

    @property
    def bounds(self) -> Bounds:
        """The bounds in mm of the placed unit square."""
        a, b, c, d, e, f = self.state.ctm
        xs, ys = (e, e + a, e + c, e + a + c), (f, f + b, f + d, f + b + d)
        return min(xs), min(ys), max(xs), max(ys)


class ShadingObject(NamedTuple):
    """A shading painted by ``sh`` (ISO 32000-1, 8.7.4.2); ``box`` is its BBox in user space."""

    stream: int
    start: int
    end: int
    state: PaintState
    paint: Paint
    box: Bounds | None = None


PaintedObject = PathObject | TextObject | ImageObject | ShadingObject


@dataclass(frozen=True)
class ContentStream:
    """One run through a content stream: the page's own, or a form XObject each time it is drawn.

    ``form`` is the object number of the form, (0, 0) for the page's own content. ``parent`` is
    the index of the stream that drew it (-1 for the page) and ``place`` the bytes of that ``Do``
    there.
    """

    data: bytes
    form: tuple[int, int]
    parent: int
    place: tuple[int, int]


@dataclass(frozen=True)
class Layer:
    """An optional-content group. ``role`` comes from its ISO 19593-1 metadata, if it has any.

    ``visible`` and ``prints`` are its states in the default configuration.
    """

    name: str
    visible: bool
    prints: bool
    role: LineRole | InkRole | None
    step: tuple[str, str | None] | None
    locked: bool = False


@dataclass(frozen=True)
class Ink:
    """An ink on a page. ``kind`` is process, spot or line."""

    name: str
    kind: str
    role: LineRole | InkRole | None


@dataclass(frozen=True)
class Font:
    """A font in use; ``name`` is its PostScript name as the file gives it."""

    name: str
    embedded: bool


@dataclass(frozen=True)
class Boxes:
    """The page boxes in mm, as turned and scaled for viewing, trim at the origin.

    ``stated`` names the boxes that the file gives itself; the others fall back as ISO 32000
    says. ``raw`` holds the boxes in default user space, before turning and scaling.
    """

    media: Bounds
    crop: Bounds
    bleed: Bounds
    trim: Bounds
    stated: frozenset[str]
    raw: dict[str, Bounds]


@dataclass(frozen=True, eq=False, kw_only=True)
class Page:
    """One page: boxes, what is painted on it in order, and what it uses.

    ``matrix`` maps default user space to mm. ``repairs`` says what had to be read leniently.
    ``annotations`` counts the annotations that print; they are among the objects. ``unrestored`` counts the
    graphics states that the content saves and never restores. ``pulled_in_mm`` is how far a mend of ours moved the
    cuts inwards, ``spread_mm`` how far one spread flat art under them, ``made`` what lines of it were made of, as it
    was noted on the page. ``kept`` holds what was worked out of the page once and would come to the same again, such
    as its lines.
    """

    number: int
    boxes: Boxes
    rotate: int
    user_unit: float
    matrix: Matrix
    objects: tuple[PaintedObject, ...]
    streams: tuple[ContentStream, ...]
    clips: tuple[Clip, ...]
    ink_names: tuple[str, ...]
    fonts: tuple[Font, ...]
    layers_used: frozenset[int]
    repairs: tuple[Repair, ...]
    groups: tuple[Group, ...] = ()
    annotations: int = 0
    unrestored: int = 0
    pulled_in_mm: float = 0.0
    spread_mm: float = 0.0
    made: str = ""
    kept: dict[Any, Any] = field(default_factory=dict, repr=False)

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height of the trim box in mm."""
        x0, y0, x1, y1 = self.boxes.trim
        return x1 - x0, y1 - y0

    @cached_property
    def transparent(self) -> bool:
        """Whether anything on the page is painted with live transparency."""
        return any(
            o.state.transparent or (isinstance(o, ImageObject) and o.masked) for o in self.objects
        )

    def contours(self, path: PathObject) -> list[Contour]:
        """The contours of a painted path in mm, parsed now."""
        data = self.streams[path.stream].data[path.start : path.path_end]
        return contours_of(data, path.state.ctm, path.closes)


@dataclass(frozen=True, eq=False, kw_only=True)
class Artwork:
    """A file that was read. ``data`` are its bytes; what is derived stands beside them.

    ``taken_in`` holds what was said when the file was made into this form: severity and words. ``active``
    names what in the file does something instead of being printed, once for each. ``catalog`` are the keys of
    its catalog. ``made_from`` is the kind of file that the customer sent. ``kept`` holds what was worked
    out of the file once and would come to the same again.
    """

    data: bytes
    format: str
    pages: tuple[Page, ...]
    layers: tuple[Layer, ...]
    repairs: tuple[Repair, ...]
    encrypted: bool
    forbids_changes: bool
    password: str = ""
    taken_in: tuple[tuple[str, str], ...] = ()
    active: tuple[str, ...] = ()
    catalog: frozenset[str] = frozenset()
    made_from: FileKind = FileKind.PDF
    kept: dict[Any, Any] = field(default_factory=dict, repr=False)
