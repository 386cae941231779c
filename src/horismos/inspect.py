"""The inspect document: what an artwork is, as plain values with a fixed shape."""

from collections import Counter
from typing import Any

from horismos.artwork.lines import inks_of_page, line_objects
from horismos.artwork.model import Artwork, ImageObject, Page, PathObject, TextObject
from horismos.artwork.paints import paints_of
from horismos.destinations import Destination
from horismos.paths import bounds, length, union_bounds

__all__ = ["inspect"]


def _mm(values: tuple[float, ...]) -> list[float]:
    return [round(v, 4) for v in values]


def inspect(artwork: Artwork, destination: Destination) -> dict[str, Any]:
    """What a file holds, page by page; lengths in mm to a ten-thousandth."""
    return {
        "format": artwork.format,
        "repairs": list(artwork.repairs),
        "pages": [_page(artwork, page, destination) for page in artwork.pages],
    }


def _page(artwork: Artwork, page: Page, destination: Destination) -> dict[str, Any]:
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
    return {
        "size_mm": _mm(page.size_mm),
        "media_box_mm": _mm(page.boxes.media),
        "bleed_box_mm": _mm(page.boxes.bleed),
        "trim_box_mm": _mm(page.boxes.trim),
        "rotate": page.rotate,
        "user_unit": page.user_unit,
        "inks": [
            {
                "name": ink.name, "kind": ink.kind, "role": ink.role.value if ink.role else None,
                "objects": uses[ink.name],
            }
            for ink in inks_of_page(artwork, page, destination)
        ],
        "layers": [
            {
                "name": layer.name,
                "visible": layer.visible,
                "prints": layer.prints,
                "role": layer.role.value if layer.role else None,
                "locked": layer.locked,
                "objects": on_layer[index],
            }
            for index, layer in enumerate(artwork.layers)
        ],
        "lines": _lines(artwork, page, destination),
        "fonts": [{"name": font.name, "embedded": font.embedded} for font in page.fonts],
        "images": [
            {
                "px": list(image.pixels),
                "ppi": [round(v, 2) for v in image.ppi],
                "space": image.space,
                "bits": image.bits,
            }
            for image in images
        ],
        "objects": {kind: counts[kind] for kind in ("paths", "texts", "images", "shadings")},
        "objects_on_no_layer": sum(not o.state.layers for o in page.objects),
        "annotations": page.annotations,
        "transparency": page.transparent,
    }


def _lines(artwork: Artwork, page: Page, destination: Destination) -> list[dict[str, Any]]:
    """The lines gathered by role, ink and layer."""
    groups: dict[tuple[str | None, str, str | None], list[Any]] = {}
    for line in line_objects(artwork, page, destination):
        layer = artwork.layers[line.layer].name if line.layer is not None else None
        role = line.role.value if line.role else None
        groups.setdefault((role, line.ink, layer), []).extend(line.contours)
    return [
        {
            "role": role,
            "ink": ink,
            "layer": layer,
            "contours": len(contours),
            "closed_contours": sum(contour.loops for contour in contours),
            "nodes": sum(contour.node_count for contour in contours),
            "length_mm": round(sum(length(contour) for contour in contours), 3),
            "bounds_mm": _mm(union_bounds(map(bounds, contours)) or ()),
        }
        for (role, ink, layer), contours in groups.items()
    ]
