"""Spreads flat art under the cut that it ends on, as letters do that are cut on their own edge.

Right below a shape a rim round it is drawn in its own colour. Counters shrink alike. The rim takes in what lies
outside the cuts, and the sliver inside them that art which ends short leaves blank.
"""

import math
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
import pikepdf
import shapely
from pikepdf import Dictionary

from horismos.artwork.edit import Edit, edit_page, unused_names
from horismos.artwork.layering import grow_page
from horismos.artwork.model import Page, PathObject, TextObject
from horismos.artwork.notes import SPREAD, note
from horismos.artwork.pathdata import path_operators
from horismos.artwork.recolour import as_fill, colours_at
from horismos.checking import CheckInputs, CheckSheet
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import Finding
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.edge.extend_bleed import ring
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, Places, register
from horismos.mending.engine.settings import Setting, SettingKind, Value
from horismos.orders import Order
from horismos.paths import Contour, contour_from_points, flatten, union_bounds
from horismos.paths.contour import Floats
from horismos.paths.matrix import size_of
from horismos.units import MM_PER_POINT
from horismos.words import plural

DISTANCE = Setting("distance_mm", SettingKind.NUMBER, "How far under the cut", 0.5, "mm", 0.1, 2.0)
LEAST_MM, MOST_MM = 0.3, 0.6
"""[practice] so far lettering is spread under a cut on its own edge."""
GAP_MM = 0.3
"""[ours] art that ends so near to a cut, inside or outside, is meant to end on it."""
ACCURACY_MM = 0.05
SPARE_MM = 0.25
"""[ours] the area that a rim lies in reaches so much further than the rim."""
STEP_MM = 0.02
DEFAULT_MM = 0.5


@dataclass(frozen=True, eq=False)
class Spread:
    """What is drawn on a page: for shapes by index a rim over their edge, so wide in mm, inside ``area``."""

    page: Page
    shapes: Mapping[int, float]
    area: shapely.Geometry
    not_flat_mm: float


def _ends(before: MendContext, page: Page) -> tuple[list[Contour], Floats, Floats, Floats]:
    """The cuts; where art ends on them: places, shape (n, 2), how far short of them, and the length of each, in mm."""
    wanted = float(before.step["distance_mm"])
    context = Context(before.artwork, page, CheckInputs(Order(bleed_mm=wanted), before.destination, CheckSheet()))
    try:
        faces = context.faces()
        profiles = [p for p in (context.edges.colour if faces else ()) if len(p.points)]
    finally:
        context.close()
    points, gaps, lengths = [np.empty((0, 2))], [np.empty(0)], [np.empty(0)]
    for p in profiles:
        flags = np.where(p.coloured, p.outside < wanted - ACCURACY_MM, p.inside <= GAP_MM)
        points.append(p.points[flags])
        gaps.append(np.where(p.coloured, 0.0, p.inside)[flags])
        lengths.append(p.weight[flags])
    return faces, np.concatenate(points), np.concatenate(gaps), np.concatenate(lengths)


def _edges(page: Page, obj: PathObject) -> shapely.Geometry:
    rings = [flatten(contour, STEP_MM) for contour in page.contours(obj)]
    return shapely.multilinestrings([shapely.LineString(one) for one in rings if len(one) > 1])


def _is_flat(obj: PathObject) -> bool:
    """Whether a shape is of one opaque colour that a rim can have as well."""
    state = obj.state
    paint = state.stroke if obj.strokes else state.fill
    seen = state.visible and state.prints and not state.transparent
    return seen and "Pattern" not in paint.family and not paint.white


def _pen(obj: PathObject) -> float:
    """The width in mm of the stroke that a shape has itself."""
    return obj.state.line_width * size_of(obj.state.ctm) if obj.strokes else 0.0


def _find(before: MendContext, page: Page) -> Spread | None:
    faces, points, gaps, lengths = _ends(before, page)
    if not len(points):
        return None
    lines = {line.index for line in before.lines if line.page is page}
    tree = shapely.STRtree(shapely.points(points))
    covered = np.zeros(len(points), bool)
    shapes: dict[int, float] = {}
    for i, obj in enumerate(page.objects):
        if not isinstance(obj, PathObject) or i in lines or not _is_flat(obj):
            continue
        near = tree.query(_edges(page, obj), predicate="dwithin", distance=GAP_MM + _pen(obj) / 2)
        if len(near):
            covered[near] = True
            shapes[i] = _pen(obj) + 2 * (float(before.step["distance_mm"]) + float(gaps[near].max()))
    if not shapes:
        return None
    gap = float(gaps[covered].max())
    area = ring(faces, points[covered], float(before.step["distance_mm"]) + gap + SPARE_MM, gap + ACCURACY_MM)
    return Spread(page, shapes, area, float(lengths[~covered].sum()))


def _found(before: MendContext) -> list[Spread]:
    def find() -> list[Spread]:
        return [found for page in before.artwork.pages if (found := _find(before, page)) is not None]

    found: list[Spread] = before.cached("spread", find)
    if not found:
        text = any(isinstance(o, TextObject) for page in before.artwork.pages for o in page.objects)
        raise NothingToDo(
            "No shape of one flat colour ends on a cut.", "Outline the text first." if text else "Extend the bleed.",
        )
    return found


def _say(before: MendContext) -> MendSummary:
    found = _found(before)
    count = sum(len(one.shapes) for one in found)
    left = sum(one.not_flat_mm for one in found)
    other = f" Along {left:.0f} mm of the cut no flat colour ends; there nothing is changed." if left >= 1 else ""
    return MendSummary(
        f"Draws a rim round {plural(count, 'shape')} in {'its own colour' if count == 1 else 'their own colours'}, so "
        f"that colour runs {before.step['distance_mm']:g} mm under the cut; counters shrink alike. Inside the cut "
        f"nothing changes. As bleed that is taken as enough there.{other}",
        {"shapes": count}, lambda: _places(found),
    )


def _places(found: Iterable[Spread]) -> Places:
    return {one.page.number: [tuple(part.bounds) for part in shapely.get_parts(one.area)] for one in found}


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    for one in _found(before):
        _draw(before, pdf, one)
        page = pdf.pages[one.page.number - 1].obj
        note(page, SPREAD, round(float(before.step["distance_mm"]) / MM_PER_POINT / one.page.user_unit, 6))


def _draw(before: MendContext, pdf: pikepdf.Pdf, one: Spread) -> None:
    page = one.page
    _, colours = colours_at(pdf, page, list(one.shapes))
    names = unused_names(before.artwork.pages, "HzSpread")
    states: dict[bool, str] = {}
    resources: dict[tuple[str, str], Any] = {}
    edits: dict[int, list[Edit]] = {}
    bounds = []
    for i, width in one.shapes.items():
        obj = page.objects[i]
        assert isinstance(obj, PathObject)
        rim = _edges(page, obj).buffer(width / 2, quad_segs=12).intersection(one.area)
        if rim.is_empty:
            continue
        bounds.append(rim.bounds)
        over = obj.state.overprint_stroke if obj.strokes else obj.state.overprint_fill
        if over not in states:
            states[over] = next(names)
            resources[("/ExtGState", states[over])] = Dictionary(op=over, OP=over)
        colour = as_fill(colours[i][0]) if obj.strokes else colours[i][1]
        drawn = path_operators(_outline(rim), obj.state.ctm)
        text = b"\nq /" + states[over].encode() + b" gs " + colour + b"\n" + drawn + b" f* Q\n"
        edits.setdefault(obj.stream, []).append(Edit(obj.start, obj.start, text))
    edit_page(pdf, page, edits, resources)
    box = union_bounds(bounds)
    if box is not None:
        grow_page(pdf.pages[page.number - 1].obj, page, box)


def _outline(area: shapely.Geometry) -> list[Contour]:
    return [
        contour_from_points(np.asarray(rim.coords), True)
        for part in shapely.get_parts(area) if part.geom_type == "Polygon" for rim in (part.exterior, *part.interiors)
    ]


def _offer(mend: Mend, finding: Finding) -> Iterator[Mapping[str, Value]]:
    """Where art ends on the cut: by as much as a cut may land off, and a little more."""
    if finding.measured is None or finding.measured > LEAST_MM or finding.subject:
        return
    limit = finding.limit if finding.id == "edge.risk" else LEAST_MM
    wanted = math.ceil(max(limit, DEFAULT_MM) * 10) / 10
    if wanted <= MOST_MM:
        yield {"distance_mm": wanted}


register(Mend(
    id="spread", label="Spread the art {distance_mm:g} mm under the cut", answers=("edge.bleed", "edge.risk"),
    touches=frozenset([Facet.ART, Facet.LOOK, Facet.BOXES]), settings=(DISTANCE,), say=_say, do=_do, offer=_offer,
    safe=False, order=89
))
