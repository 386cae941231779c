"""Makes the white: under all art, under chosen objects, or everywhere inside the cut, pulled in under the colour.

It is drawn last, overprinting, on a layer of its own: it takes nothing from the colour, and the plate says where
it is printed. Which of the two goes down first is the printer's order, not the file's.
"""

import math
from collections.abc import Collection, Iterable, Mapping

import numpy as np
import pikepdf
import scipy
import shapely
from pikepdf import Dictionary

from horismos.artwork.extent import bounds_of
from horismos.artwork.layering import WHITE_SHOWN, add_layers, ink_layer, on_top, separation
from horismos.artwork.model import Page
from horismos.artwork.pathdata import path_operators
from horismos.artwork.sorting import art_without, inks_for, painted_in
from horismos.checking import CheckInputs, CheckSheet
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import Finding
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.engine.settings import Setting, SettingKind, Value
from horismos.mending.lines.rename import pdf_name
from horismos.mending.page.turn import everywhere
from horismos.orders import Order
from horismos.paths import Contour, signed_area
from horismos.paths.areas import area_of, outlines_of, traced
from horismos.paths.matrix import inverse
from horismos.rendering.load import total
from horismos.rendering.plates import plates
from horismos.roles import InkRole
from horismos.units import MM_PER_INCH
from horismos.words import plural

UNDER_ART, INSIDE_CUT = "under the art", "inside the cut"
SETTINGS = (
    Setting(
        "where", SettingKind.CHOICE, "Where the white lies", UNDER_ART, options=(UNDER_ART, INSIDE_CUT), habit=True
    ),
    Setting("at", SettingKind.POINTS, "Under these objects only", optional=True),
    Setting("threshold", SettingKind.NUMBER, "The least ink that gets white", 2.0, "%", 0.0, 100.0, habit=True),
    Setting("choke_mm", SettingKind.NUMBER, "How far under the colour", 0.2, "mm", 0.0, 5.0, habit=True),
)
FINE_PPI, MOST_PIXELS = 600.0, 30_000_000
FINE_PX = 0.15
"""[ours] of a pixel: so far a traced edge may be straightened before it is worked on."""
WITHIN_MM = 0.02
SPARE_MM = 0.03
"""[ours] a little more than is wanted, so that what is drawn by pixels is not measured as less."""
SPECK_MM2 = 0.1
"""[ours] a smaller patch of white does not hold, a smaller hole fills in."""


def _pointed_at(page: Page, at: Collection[tuple[float, float]], others: Collection[int]) -> set[int]:
    """The topmost object of the art at each point, by index."""
    found = set()
    for x, y in at:
        for i in reversed(range(len(page.objects))):
            box = bounds_of(page, page.objects[i])
            if i not in others and box and box[0] <= x <= box[2] and box[1] <= y <= box[3]:
                found.add(i)
                break
    return found


def _covered(before: MendContext, page: Page) -> tuple[list[shapely.Geometry], float]:
    """Where inks print more than the threshold; of the chosen objects alone where there are some.

    A pixel that is touched counts as covered: how far further in, in mm, the edge lies, stands beside.
    """
    lines = [line for line in before.lines if line.page is page]
    special = {i for role in InkRole for i in painted_in(page, inks_for(page, role, before.destination))}
    at = before.step["at"]
    out = special
    if at:
        chosen = _pointed_at(page, at, special | {line.index for line in lines if line.takes_all})
        if not chosen:
            return [], 0.0
        out = set(range(len(page.objects))) - chosen
    x0, y0, x1, y1 = page.boxes.media
    ppi = min(FINE_PPI, math.sqrt(MOST_PIXELS / ((x1 - x0) * (y1 - y0))) * MM_PER_INCH)
    made = plates(art_without(before.artwork, page, lines, out), ppi, None, inks=page.ink_names)
    named = {name for role in InkRole for name in inks_for(page, role, before.destination)}
    load = total(made, named | {line.ink for line in lines})
    per_mm = load.shape[1] / (x1 - x0), load.shape[0] / (y1 - y0)
    threshold = float(before.step["threshold"])
    there = scipy.ndimage.gaussian_filter((load > max(threshold, 0.2)).astype(np.float32), 0.7)
    found = [part for part in traced(there, 0.5, (x0, y1), per_mm).geoms if part.area > SPECK_MM2]
    return list(shapely.simplify(np.array(found, dtype=object), FINE_PX / per_mm[0])), 0.5 / per_mm[0]


def _inside_cut(before: MendContext, page: Page) -> shapely.Geometry:
    context = Context(before.artwork, page, CheckInputs(Order(), before.destination, CheckSheet()))
    try:
        return area_of([contour for contour in context.faces() if contour.loops])
    finally:
        context.close()


def _made(before: MendContext, page: Page) -> list[Contour]:
    if before.step["where"] == INSIDE_CUT:
        parts, further = [_inside_cut(before, page)], 0.0
    else:
        parts, further = _covered(before, page)
    choke = float(before.step["choke_mm"])
    inwards = further + (choke + SPARE_MM if choke else 0.0)
    made = shapely.get_parts(shapely.buffer(np.array(parts, dtype=object), -inwards, quad_segs=8)) if parts else ()
    area = shapely.MultiPolygon([part for part in made if part.geom_type == "Polygon" and not part.is_empty])
    return outlines_of(area, WITHIN_MM, SPECK_MM2)


def _found(before: MendContext) -> dict[int, list[Contour]]:
    for page in before.artwork.pages:
        white = painted_in(page, inks_for(page, InkRole.WHITE, before.destination))
        if any(page.objects[i].state.prints for i in white):
            raise NothingToDo("There is white already; take it out before new white is made.")
    made = before.cached("white", lambda: {page.number: _made(before, page) for page in before.artwork.pages})
    if not any(made.values()):
        what = "is no cut to lie in" if before.step["where"] == INSIDE_CUT else "is no colour to lie under"
        raise NothingToDo(f"White was not made: there {what}.")
    return made


def _say(before: MendContext) -> MendSummary:
    found = _found(before)
    count = sum(map(len, found.values()))
    area = abs(sum(signed_area(contour) for contours in found.values() for contour in contours)) / 100
    where = str(before.step["where"])
    if where == UNDER_ART and before.step["at"]:
        where = "under the chosen objects"
    return MendSummary(
        f"Makes {area:.1f} cm² of “{before.destination.name_of(InkRole.WHITE)}” {where}, in "
        f"{plural(count, 'outline')}, {before.step['choke_mm']:g} mm inside its edge, overprinting, on a layer of "
        "its own. The colour stays.",
        {"outlines": count, "area_cm2": round(area, 2)}, lambda: everywhere(before),
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    name = before.destination.name_of(InkRole.WHITE)
    space = pdf.make_indirect(separation(pdf_name(name), WHITE_SHOWN))
    layer = ink_layer(pdf, InkRole.WHITE, name)
    add_layers(pdf, [layer], [])
    resources = Dictionary(
        ColorSpace=Dictionary(HzWhite=space), Properties=Dictionary(HzWhite=layer),
        ExtGState=Dictionary(HzWhite=Dictionary(OP=True, op=True, OPM=1)),
    )
    for page in before.artwork.pages:
        contours = _found(before)[page.number]
        if contours:
            to_user = " ".join(f"{v:.9f}" for v in inverse(page.matrix))
            path = path_operators(contours, (1, 0, 0, 1, 0, 0)).decode()
            drawn = f"/OC /HzWhite BDC q {to_user} cm /HzWhite gs /HzWhite cs 1 scn\n{path} f* Q EMC"
            on_top(pdf, page, drawn.encode(), resources)


def _offer(mend: Mend, finding: Finding) -> Iterable[Mapping[str, Value]]:
    """Under the art, or everywhere inside the cut: that is the customer's wish."""
    yield {"where": UNDER_ART}
    yield {"where": INSIDE_CUT}


register(Mend(
    id="build-white", label="Make white {where}", answers=("white.missing",),
    touches=frozenset([Facet.ART, Facet.NAMES, Facet.LOOK, Facet.LAYERS]), settings=SETTINGS, say=_say, do=_do,
    offer=_offer, safe=False, order=104, reveals=True
))
