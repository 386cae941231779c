"""The inspect document: what an artwork holds, as values with a fixed shape; lengths in mm to a ten-thousandth."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Any

from horismos.artwork.lines import Line, inks_of_page, line_objects
from horismos.artwork.model import Artwork, ImageObject, Page, PathObject, TextObject
from horismos.artwork.paints import paints_of
from horismos.destinations import Destination
from horismos.paths import bounds, length, union_bounds

__all__ = ["FontRow", "ImageRow", "InkRow", "LayerRow", "LineRow", "PageDocument", "inspect", "inspect_page"]


@dataclass(frozen=True)
class InkRow:
    """An ink, what it is for, and how many objects use it."""

    name: str
    kind: str
    role: str | None
    objects: int


@dataclass(frozen=True)
class LayerRow:
    """A layer and how many objects lie on it."""

    name: str
    visible: bool
    prints: bool
    role: str | None
    locked: bool
    objects: int


@dataclass(frozen=True)
class LineRow:
    """The lines of one role, ink and layer together; ``role`` is None where the name could be several."""

    role: str | None
    ink: str
    layer: str | None
    contours: int
    closed_contours: int
    nodes: int
    length_mm: float
    bounds_mm: tuple[float, ...]


@dataclass(frozen=True)
class FontRow:
    """A font in use."""

    name: str
    embedded: bool


@dataclass(frozen=True)
class ImageRow:
    """An image with its effective resolution along both axes."""

    px: tuple[int, int]
    ppi: tuple[float, float]
    space: str
    bits: int


@dataclass(frozen=True, kw_only=True)
class PageDocument:
    """What a page holds."""

    size_mm: tuple[float, ...]
    media_box_mm: tuple[float, ...]
    bleed_box_mm: tuple[float, ...]
    trim_box_mm: tuple[float, ...]
    rotate: int
    user_unit: float
    inks: tuple[InkRow, ...]
    layers: tuple[LayerRow, ...]
    lines: tuple[LineRow, ...]
    fonts: tuple[FontRow, ...]
    images: tuple[ImageRow, ...]
    objects: dict[str, int]
    objects_on_no_layer: int
    annotations: int
    transparency: bool


def inspect(artwork: Artwork, destination: Destination) -> dict[str, Any]:
    """What a file holds, page by page, as plain values."""
    return {
        "format": artwork.format,
        "repairs": [repair.words for repair in artwork.repairs],
        "pages": [asdict(inspect_page(artwork, page, destination)) for page in artwork.pages],
    }


def inspect_page(artwork: Artwork, page: Page, destination: Destination) -> PageDocument:
    """What one page holds."""
    counts = Counter(
        "paths" if isinstance(o, PathObject)
        else "texts" if isinstance(o, TextObject)
        else "images" if isinstance(o, ImageObject)
        else "shadings"
        for o in page.objects
    )
    uses = Counter(
        ink
        for o in page.objects
        for ink in {name for paint, _ in paints_of(o) for name, tint in paint.inks if tint > 0}
    )
    on_layer = Counter(layer for o in page.objects for layer in o.state.layers)
    images = [o for o in page.objects if isinstance(o, ImageObject)]
    return PageDocument(
        size_mm=mm(page.size_mm), media_box_mm=mm(page.boxes.media), bleed_box_mm=mm(page.boxes.bleed),
        trim_box_mm=mm(page.boxes.trim), rotate=page.rotate, user_unit=page.user_unit,
        inks=tuple(
            InkRow(ink.name, ink.kind, ink.role.value if ink.role else None, uses[ink.name])
            for ink in inks_of_page(artwork, page, destination)
        ),
        layers=tuple(
            LayerRow(
                layer.name, layer.visible, layer.prints, layer.role.value if layer.role else None, layer.locked,
                on_layer[index],
            )
            for index, layer in enumerate(artwork.layers)
        ),
        lines=_rows(artwork, line_objects(artwork, page, destination)),
        fonts=tuple(FontRow(font.name, font.embedded) for font in page.fonts),
        images=tuple(
            ImageRow(image.pixels, (round(image.ppi[0], 2), round(image.ppi[1], 2)), image.space, image.bits)
            for image in images
        ),
        objects={kind: counts[kind] for kind in ("paths", "texts", "images", "shadings")},
        objects_on_no_layer=sum(not o.state.layers for o in page.objects), annotations=page.annotations,
        transparency=page.transparent
    )


def mm(values: Sequence[float]) -> tuple[float, ...]:
    """Lengths to a ten-thousandth."""
    return tuple(round(v, 4) for v in values)


def _rows(artwork: Artwork, lines: Sequence[Line]) -> tuple[LineRow, ...]:
    """The lines gathered by role, ink and layer."""
    groups: dict[tuple[str | None, str, str | None], list[Any]] = {}
    for line in lines:
        layer = artwork.layers[line.layer].name if line.layer is not None else None
        role = line.role.value if line.role else None
        groups.setdefault((role, line.ink, layer), []).extend(line.contours)
    return tuple(
        LineRow(
            role, ink, layer, len(contours), sum(contour.loops for contour in contours),
            sum(contour.node_count for contour in contours), round(sum(length(contour) for contour in contours), 3),
            mm(union_bounds(map(bounds, contours)) or ()),
        )
        for (role, ink, layer), contours in groups.items()
    )
