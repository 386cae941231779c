"""The page on the stage: its boxes, inks, layers, and each line as path data in mm with its role."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from horismos.artwork.extent import art_box
from horismos.artwork.inspect import InkRow, LayerRow, inspect_page, mm
from horismos.artwork.lines import outer_cut
from horismos.artwork.model import PaintedObject, PathObject
from horismos.formats.svg import svg_path
from horismos.making.note import lines_made, note_on
from horismos.names import Run, recognise, spelling
from horismos.paths import Contour, bounds, signed_area
from horismos.paths.box import Bounds
from horismos.workflow.case import Case

__all__ = ["DrawnLine", "InkSeen", "LayerSeen", "LinesSeen", "Measured", "PageSeen", "page_seen"]

UNCLEAR = "unclear"
"""The role of a line whose name could be several."""


@dataclass(frozen=True)
class InkSeen:
    """An ink beside the exact name that is wanted for it, letter by letter."""

    name: str
    kind: str
    role: str | None
    objects: int
    wanted: str
    spelling: tuple[Run, ...]


@dataclass(frozen=True)
class LinesSeen:
    """The lines of one role, ink and layer together."""

    role: str | None
    ink: str
    layer: str | None
    contours: int
    closed_contours: int
    nodes: int
    length_mm: float


@dataclass(frozen=True)
class LayerSeen(LayerRow):
    """A layer with what it does: so many objects that are art, so many paths among them, and lines of these roles."""

    art: int = 0
    paths: int = 0
    cuts: tuple[str, ...] = ()


@dataclass(frozen=True)
class DrawnLine:
    """Lines of one role and ink as path data in mm, y upwards; ``hidden`` where their layer is off.

    ``made`` says that they were made here, and are replaced when they are made anew.
    """

    role: str
    path: str
    ink: str = ""
    hidden: bool = False
    made: bool = False


@dataclass(frozen=True)
class Measured:
    """Something on the page that has a size: the outer cut, or the art; its box in mm."""

    what: str
    box_mm: tuple[float, ...]


@dataclass(frozen=True, kw_only=True)
class PageSeen:
    """What the stage shows of a page; lengths in mm, boxes as x0, y0, x1, y1 from the trim's lower left.

    ``made`` is what lines of it were made of, None where none were. ``rectangles`` are those that are drawn: marks may
    stand on one.
    """

    size_mm: tuple[float, ...]
    media_box_mm: tuple[float, ...]
    crop_box_mm: tuple[float, ...]
    bleed_box_mm: tuple[float, ...]
    trim_box_mm: tuple[float, ...]
    pages: int
    inks: tuple[InkSeen, ...]
    lines: tuple[LinesSeen, ...]
    drawn: tuple[DrawnLine, ...]
    layers: tuple[LayerSeen, ...] = ()
    objects_on_no_layer: int = 0
    annotations: int = 0
    made: dict[str, Any] | None = None
    measured: tuple[Measured, ...] = ()
    rectangles: tuple[tuple[float, ...], ...] = ()


def page_seen(case: Case) -> PageSeen:
    """What the stage shows of the page of a case."""
    held = inspect_page(case.artwork, case.page, case.destination)
    paths: dict[tuple[str, str, bool, bool], list[str]] = {}
    made = lines_made(case.page, case.lines)
    for line in case.lines:
        key = (line.role.value if line.role else UNCLEAR, line.ink, not line.object.state.visible, line in made)
        paths.setdefault(key, []).append(svg_path(line.contours))
    return PageSeen(
        size_mm=held.size_mm, media_box_mm=held.media_box_mm, crop_box_mm=mm(case.page.boxes.crop),
        bleed_box_mm=held.bleed_box_mm, trim_box_mm=held.trim_box_mm, pages=len(case.artwork.pages),
        inks=tuple(_ink(case, ink) for ink in held.inks),
        lines=tuple(
            LinesSeen(r.role, r.ink, r.layer, r.contours, r.closed_contours, r.nodes, r.length_mm) for r in held.lines
        ),
        drawn=tuple(DrawnLine(role, "".join(of), ink, *whether) for (role, ink, *whether), of in paths.items()),
        layers=_layers(case, held.layers), objects_on_no_layer=held.objects_on_no_layer, annotations=held.annotations,
        made=_made(case), measured=_measured(case), rectangles=_rectangles(case)
    )


def _layers(case: Case, rows: Sequence[LayerRow]) -> tuple[LayerSeen, ...]:
    """The layers of the page, each with what of it is art and what is cut."""
    lines = {line.index for line in case.lines if line.takes_all}
    art: list[list[PaintedObject]] = [[] for _ in rows]
    cuts: list[dict[str, None]] = [{} for _ in rows]
    for i, obj in enumerate(case.page.objects):
        for layer in () if i in lines else obj.state.layers:
            art[layer].append(obj)
    for line in case.lines:
        for layer in line.object.state.layers:
            cuts[layer][line.role.value if line.role else UNCLEAR] = None
    return tuple(
        LayerSeen(
            **vars(row), art=len(art[i]), paths=sum(isinstance(obj, PathObject) for obj in art[i]), cuts=tuple(cuts[i])
        )
        for i, row in enumerate(rows)
    )


def _measured(case: Case) -> tuple[Measured, ...]:
    """What has a size, the outer cut first."""
    boxes = (("outer cut", outer_cut(case.page, case.lines)), ("art", art_box(case.page, case.lines)))
    return tuple(Measured(what, mm(box)) for what, box in boxes if box is not None)


LEAST_RECTANGLE_MM, MOST_RECTANGLES = 30.0, 12
"""[ours] marks stand on no smaller one; more are a pattern."""
MOST_OBJECTS, MOST_BYTES, FLAT = 5_000, 400, 1e-4
"""[ours] so many objects are looked at; a rectangle is told in so few bytes, and fills its box but for such a share."""


def _rectangles(case: Case) -> tuple[tuple[float, ...], ...]:
    """The boxes of the upright rectangles that are drawn, the largest first; a frame for marks is one."""
    found: dict[tuple[float, ...], None] = {}
    for obj in case.page.objects[:MOST_OBJECTS]:
        if isinstance(obj, PathObject) and obj.path_end - obj.start <= MOST_BYTES:
            found.update(dict.fromkeys(mm(box) for box in map(_upright, case.page.contours(obj)) if box))
    return tuple(sorted(found, key=lambda b: (b[0] - b[2]) * (b[3] - b[1]))[:MOST_RECTANGLES])


def _upright(contour: Contour) -> Bounds | None:
    """The box of a contour that is an upright rectangle: it fills its box; None for others, and small ones."""
    if not contour.loops or not 4 <= contour.node_count <= 5:
        return None
    box = bounds(contour)
    wide, high = box[2] - box[0], box[3] - box[1]
    fills = abs(abs(signed_area(contour)) - wide * high) < FLAT * wide * high
    return box if fills and min(wide, high) >= LEAST_RECTANGLE_MM else None


def _made(case: Case) -> dict[str, Any] | None:
    """What the page's lines were made of, as ``Make.to_json`` gives it."""
    make = note_on(case.page).make
    return dict(make) if make else None


def _ink(case: Case, ink: InkRow) -> InkSeen:
    found = recognise(ink.name, case.destination) if ink.role else None
    wanted = case.destination.name_of(found.role) if found and found.role else ink.name
    return InkSeen(ink.name, ink.kind, ink.role, ink.objects, wanted, spelling(ink.name, wanted))
