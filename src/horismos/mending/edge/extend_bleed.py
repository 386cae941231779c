"""Lets colour run on outside the cut where it ends short of the bleed that is wanted.

What is there is made longer, ink by ink: the tints at the edge of the colour run on, or what lies inside is
mirrored outwards. It is drawn below the art, and clipped to the outside of the cut, so that nothing changes inside.
"""

import math
from collections.abc import Iterable, Mapping, Sequence

import numpy as np
import pikepdf
import scipy
import shapely
from numpy.typing import NDArray
from PIL import Image, ImageDraw

from horismos.artwork.layering import below, layer_of_art
from horismos.artwork.lines import Line
from horismos.artwork.model import Page
from horismos.artwork.parting import art_alone
from horismos.checking import CheckInputs, CheckSheet
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import Finding
from horismos.comparing.facets import Facet
from horismos.errors import CannotWrite, NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.engine.settings import Setting, SettingKind, Value
from horismos.mending.tints import tint_pictures
from horismos.orders import Order
from horismos.paths import Contour, contour_from_points, enclosing_counts, flatten
from horismos.paths.box import Bounds, around
from horismos.rendering.plates import plates
from horismos.units import MM_PER_INCH

DISTANCE = Setting("distance_mm", SettingKind.NUMBER, "The bleed that is wanted", 3.0, "mm", 0.1, 50.0)
HOW = Setting(
    "how", SettingKind.CHOICE, "How it goes on, else as joins best", options=("run-on", "mirror", "stretch"),
    optional=True,
    habit=True,
)
MOST_PIXELS = 9_000_000
FINE_PPI = 300.0
RIM_PX = 2
"""The rim of what is drawn is half of something else; tints are taken from so many pixels further in."""
ACCURACY_MM = 0.05
INK = 8
"""[ours] of 255: a place with less of every ink is blank."""
STRETCHED_MM = 1.0
FLAT = 1.5
"""[ours] of 255: tints that vary by no more are one."""
SMOOTH_MM = 0.3
"""[ours] what varies within less is texture."""
JOINT_MM = 1.5
"""[ours] so far round the joint of what was there and what was added a person looks."""
Mask = NDArray[np.bool_]


def _short(before: MendContext, page: Page) -> tuple[Page, list[Contour], NDArray[np.float64], float]:
    """The cuts of a page, the places along them where colour ends short, shape (n, 2), and how much is missing."""
    wanted = float(before.step["distance_mm"])
    context = Context(before.artwork, page, CheckInputs(Order(bleed_mm=wanted), before.destination, CheckSheet()))
    try:
        faces = context.faces()
        profiles = context.edges.colour if faces else ()
    finally:
        context.close()
    points, missing = [np.empty((0, 2))], 0.0
    for profile in profiles:
        flags = profile.coloured & (profile.outside < wanted - ACCURACY_MM)
        points.append(profile.points[flags])
        if flags.any():
            missing = max(missing, float(wanted - profile.outside[flags].min()))
    return page, faces, np.concatenate(points), missing


def _found(before: MendContext) -> list[tuple[Page, list[Contour], NDArray[np.float64], float]]:
    found = before.cached("short", lambda: [_short(before, page) for page in before.artwork.pages])
    if not any(len(points) for _, _, points, _ in found):
        raise NothingToDo(f"Colour runs {before.step['distance_mm']:g} mm over every cut that it goes to.")
    return [one for one in found if len(one[2])]


def ring(faces: list[Contour], points: NDArray[np.float64], wanted: float, within: float = 0.0) -> shapely.Geometry:
    """The area outside the cuts that is near those places, in mm, and so little within a piece."""
    pieces = shapely.union_all([shapely.make_valid(shapely.Polygon(flatten(c, 0.02))) for c in faces if c.loops])
    near = shapely.union_all(shapely.buffer(shapely.points(points), wanted + ACCURACY_MM * 2, quad_segs=12))
    holes = _holes(faces)
    solid = pieces if holes is None else pieces.difference(holes)
    return near.difference(solid.buffer(-within) if within else solid)


def _holes(faces: list[Contour]) -> shapely.Geometry | None:
    depths = enclosing_counts(faces)
    inner = [shapely.Polygon(flatten(c, 0.02)) for c, d in zip(faces, depths, strict=True) if d % 2 == 1]
    return shapely.union_all(inner) if inner else None


def _say(before: MendContext) -> MendSummary:
    found = _found(before)
    wanted = float(before.step["distance_mm"])
    missing = max(less for *_, less in found)
    count = sum(len(points) for _, _, points, _ in found)
    how = {
        "": "goes on (flat colour as it ends, texture mirrored, smooth changes stretched)",
        "run-on": "runs on as it ends", "mirror": "goes on mirrored", "stretch": "is stretched outwards",
    }
    return MendSummary(
        f"Colour {how[str(before.step['how'])]} to {wanted:g} mm outside the cut, where up to {missing:.1f} mm are "
        "missing, in the inks that are there. Inside the cut nothing changes.",
        {"places": count, "missing_mm": round(missing, 2)},
        lambda: {
            page.number: [tuple(part.bounds) for part in shapely.get_parts(ring(faces, points, wanted))]
            for page, faces, points, _ in found
        },
        lambda: {
            page.number: around(float(points[0][0]), float(points[0][1]), wanted + JOINT_MM)
            for page, _, points, _ in found
        },
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    for page, faces, points, _ in _found(before):
        lines = [line for line in before.lines if line.page is page]
        _extend(before, pdf, page, ring(faces, points, float(before.step["distance_mm"])), lines)


def _extend(before: MendContext, pdf: pikepdf.Pdf, page: Page, area: shapely.Geometry, lines: Sequence[Line]) -> None:
    x0, y0, x1, y1 = page.boxes.media
    ppi = min(FINE_PPI, math.sqrt(MOST_PIXELS / ((x1 - x0) * (y1 - y0))) * MM_PER_INCH)
    inks = set(page.ink_names) - {line.ink for line in lines}
    made = plates(art_alone(before.artwork, page, lines), ppi, None, inks=inks)
    stack = np.stack([plate.tint for plate in made], axis=2)
    per_mm = ppi / MM_PER_INCH
    left, low, right, high = area.bounds
    pad = float(before.step["distance_mm"]) + 2
    window = (left - pad, low - pad, right + pad, high + pad)
    stack, origin = _cut_out(stack, (x0, y1), per_mm, window)
    covered = scipy.ndimage.binary_erosion(stack.max(axis=2) > INK, iterations=RIM_PX, border_value=1)
    if not covered.any():
        raise CannotWrite("There is no colour near the cut to go on with.", "Nothing was changed.")
    wanted = _drawn(area, origin, per_mm, covered.shape)
    how = str(before.step["how"]) or _best(stack, covered & _near(wanted, per_mm), per_mm)
    filled = _filled(stack, covered, how, per_mm)
    filled[~wanted] = 0
    height, width = filled.shape[:2]
    box = (origin[0], origin[1] - height / per_mm, origin[0] + width / per_mm, origin[1])
    drawn, resources = tint_pictures(pdf, [p.ink for p in made], filled, box)
    outline = [
        contour_from_points(np.asarray(r.coords), True)
        for part in shapely.get_parts(area) if part.geom_type == "Polygon" for r in (part.exterior, *part.interiors)
    ]
    below(pdf, page, outline, drawn, resources, layer_of_art(page, lines))


def _near(wanted: Mask, per_mm: float) -> Mask:
    """What lies within a millimetre of the area to be filled."""
    out: Mask = scipy.ndimage.binary_dilation(wanted, iterations=max(1, round(STRETCHED_MM * per_mm)))
    return out


def _best(stack: NDArray[np.uint8], band: Mask, per_mm: float) -> str:
    """How what lies at the edge goes on so that no joint is seen.

    Flat colour runs on. Texture is mirrored: stretched it would smear. What changes smoothly is stretched: mirrored
    it would turn back at the joint.
    """
    if not band.any():
        return "run-on"
    tints = stack.astype(np.float32)
    if max(float(np.std(tints[..., i][band])) for i in range(tints.shape[2])) <= FLAT:
        return "run-on"
    fine = tints - scipy.ndimage.gaussian_filter(tints, (SMOOTH_MM * per_mm, SMOOTH_MM * per_mm, 0))
    inner = scipy.ndimage.binary_erosion(band, iterations=2)
    rough = float(np.abs(fine[inner]).mean()) if inner.any() else 0.0
    return "mirror" if rough > FLAT / 2 else "stretch"


def _drawn(area: shapely.Geometry, origin: tuple[float, float], per_mm: float, shape: tuple[int, ...]) -> Mask:
    """The pixels that the area to be filled touches, and a few round it: only these are kept."""
    picture = Image.new("1", (shape[1], shape[0]))
    pen = ImageDraw.Draw(picture)
    for part in shapely.get_parts(area):
        for rim, ink in ((part.exterior, 1), *((inner, 0) for inner in part.interiors)):
            corners = (np.asarray(rim.coords) - origin) * (per_mm, -per_mm)
            pen.polygon([(float(x), float(y)) for x, y in corners], fill=ink)
    out: Mask = scipy.ndimage.binary_dilation(np.asarray(picture, bool), iterations=4)
    return out


def _cut_out(
    stack: NDArray[np.uint8], origin: tuple[float, float], per_mm: float, window: Bounds
) -> tuple[NDArray[np.uint8], tuple[float, float]]:
    """The part of plates inside a window in mm, blank beyond the page; and its upper left corner."""
    c0, r0 = math.floor((window[0] - origin[0]) * per_mm), math.floor((origin[1] - window[3]) * per_mm)
    c1, r1 = math.ceil((window[2] - origin[0]) * per_mm), math.ceil((origin[1] - window[1]) * per_mm)
    out = np.zeros((r1 - r0, c1 - c0, stack.shape[2]), np.uint8)
    sr0, sc0, sr1, sc1 = max(r0, 0), max(c0, 0), min(r1, stack.shape[0]), min(c1, stack.shape[1])
    if sr1 > sr0 and sc1 > sc0:
        out[sr0 - r0 : sr1 - r0, sc0 - c0 : sc1 - c0] = stack[sr0:sr1, sc0:sc1]
    return out, (origin[0] + c0 / per_mm, origin[1] - r0 / per_mm)


def _filled(stack: NDArray[np.uint8], covered: Mask, how: str, per_mm: float) -> NDArray[np.uint8]:
    """The tints with those outside of what is covered taken from inside it."""
    nearest = scipy.ndimage.distance_transform_edt(~covered, return_distances=False, return_indices=True)
    rows, columns = np.indices(covered.shape)
    if how == "run-on":
        same: NDArray[np.uint8] = stack[nearest[0], nearest[1]]
        return same
    back = (nearest[0] - rows, nearest[1] - columns)
    if how == "stretch":
        far = np.hypot(*back)
        share = np.minimum(STRETCHED_MM * per_mm / np.maximum(far.max(), 1), 1.0)
        back = (np.round(back[0] * share).astype(int), np.round(back[1] * share).astype(int))
    row = np.clip(nearest[0] + back[0], 0, covered.shape[0] - 1)
    column = np.clip(nearest[1] + back[1], 0, covered.shape[1] - 1)
    there = covered[row, column]
    out: NDArray[np.uint8] = stack[np.where(there, row, nearest[0]), np.where(there, column, nearest[1])]
    return out


def _offer(mend: Mend, finding: Finding) -> Iterable[Mapping[str, Value]]:
    """As much as the check wanted."""
    if finding.id == "edge.bleed" and finding.limit > 0:
        yield {"distance_mm": finding.limit}


register(Mend(
    id="extend-bleed", label="Extend the bleed to {distance_mm:g} mm", answers=("edge.bleed",),
    touches=frozenset([Facet.ART, Facet.LOOK, Facet.NAMES, Facet.BOXES]), settings=(DISTANCE, HOW), say=_say, do=_do,
    offer=_offer, safe=False, order=90
))
