"""Checks of what lies inside the cut: nothing fine too near to it."""

import math
from collections.abc import Iterator
from typing import Any

import numpy as np
import shapely

from horismos.artwork.extent import bounds_of
from horismos.artwork.glyphs import text_box
from horismos.artwork.model import PathObject
from horismos.artwork.pathdata import hull_boxes
from horismos.checking.art.content import texts
from horismos.checking.edge.bleed import EDGE
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import MOST_PLACES, Hit
from horismos.checking.engine.rules import rule
from horismos.checking.measuring.edge_map import ACCURACY_MM
from horismos.paths import flatten
from horismos.paths.batch_measures import flatten_all
from horismos.paths.box import Bounds

DETAIL_MM = 6.0
"""[ours] a shape smaller than this both ways is a detail."""


@rule("edge.safe", "look", *EDGE, limit=3.0, unit="mm", scope="piece")
def safe(c: Context) -> Iterator[Hit]:
    """Live text or fine detail too near the cut.

    Details count where colour runs over the cut; where a border stays blank they are the edge itself.
    """
    if not c.faces():
        return
    faces = c.faces()
    flatten_all(faces, 0.02)
    rings = [flatten(contour, 0.02) for contour in faces]
    cut = shapely.multilinestrings([shapely.LineString(ring) for ring in rings if len(ring) > 1])
    shapely.prepare(cut)
    words = [text_box(o) for o in texts(c)]
    details = _details(c, cut) if any(p.coloured.any() for p in c.edges.colour) else []
    if not words and not details:
        return
    inside = shapely.union_all(shapely.make_valid([shapely.Polygon(ring) for ring in rings if len(ring) > 3]))
    shapely.prepare(inside)
    boxes = np.array([*words, *details]).reshape(-1, 4)
    shapes = shapely.box(*boxes.T)
    is_text = np.arange(len(boxes)) < len(words)
    near = shapely.dwithin(cut, shapes, c.limit - ACCURACY_MM)
    near &= np.where(is_text, shapely.intersects(inside, shapes), shapely.contains(inside, shapes))
    index = np.flatnonzero(near)
    apart = shapely.distance(cut, shapes[index])
    found = [
        (float(distance), words[i] if i < len(words) else details[i - len(words)], bool(is_text[i]))
        for distance, i in zip(apart, index, strict=True)
    ]
    if found:
        found.sort(key=lambda item: item[0])
        what = "Text" if found[0][2] else "Fine detail"
        count = len(found)
        yield Hit(
            f"{what} lies {found[0][0]:.1f} mm from the cut; {c.limit:g} mm are safe. "
            "A cut that lands off makes it look crooked, or takes some of it away.",
            measured=found[0][0], count=count, where=[box for _, box, _ in found[:MOST_PLACES]],
        )


def _details(c: Context, cut: Any) -> list[Bounds]:
    """The boxes of small shapes near the cut, by all their points; what is clipped away is left out.

    A small shape near the cut begins near it, so that no other path needs to be looked at.
    """
    drawn = [o for o in c.printed if isinstance(o, PathObject) and not _white_only(o)]
    starts = np.array([_start(c, o) for o in drawn]).reshape(-1, 2)
    close = shapely.dwithin(cut, shapely.points(starts), c.limit + DETAIL_MM * math.sqrt(2))
    drawn = [o for o, is_close in zip(drawn, close, strict=True) if is_close]
    boxes = hull_boxes([(c.page.streams[o.stream].data[o.start : o.path_end], o.state.ctm) for o in drawn])
    small = (boxes[:, 2] - boxes[:, 0] < DETAIL_MM) & (boxes[:, 3] - boxes[:, 1] < DETAIL_MM)
    out = []
    for i in np.flatnonzero(small):
        seen = bounds_of(c.page, drawn[i]) if drawn[i].state.clip >= 0 else tuple(boxes[i].tolist())
        if seen is not None:
            out.append(seen)
    return out


def _start(c: Context, obj: PathObject) -> tuple[float, float]:
    """The first point of a path in mm; far away where there is none."""
    data = c.page.streams[obj.stream].data[obj.start : min(obj.path_end, obj.start + 80)].split(None, 2)
    try:
        x, y = float(data[0]), float(data[1])
    except (ValueError, IndexError):
        return math.inf, math.inf
    a, b, k, d, e, f = obj.state.ctm
    return a * x + k * y + e, b * x + d * y + f


def _white_only(obj: PathObject) -> bool:
    return (not obj.strokes or obj.state.stroke.white) and (not obj.fills or obj.state.fill.white)

