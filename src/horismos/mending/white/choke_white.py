"""Pulls white in under the colour where its edge lies too near to the edge of the colour."""

from collections.abc import Iterator

import numpy as np
import pikepdf
import shapely

from horismos.artwork.edit import Edit, edit_page
from horismos.artwork.model import Page, PathObject
from horismos.artwork.parting import clip_operator
from horismos.artwork.pathdata import path_operators
from horismos.artwork.sorting import inks_for, painted_in
from horismos.checking import CheckInputs, CheckSheet
from horismos.checking.engine.context import Context
from horismos.checking.measuring.choke import Margin, margins
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.mending.page.turn import everywhere
from horismos.orders import Order
from horismos.paths import Contour
from horismos.paths.areas import area_of, outlines_of
from horismos.paths.weld import without_overlaps
from horismos.roles import InkRole
from horismos.words import plural

CHOKE = Setting("choke_mm", SettingKind.NUMBER, "How far under the colour", 0.2, "mm", 0.02, 5.0)
"""[ours] the same as the limit of the check that is shipped."""
FINE_MM = 0.005
WITHIN_MM = 0.01
SPARE_MM = 0.05
"""[ours] a little more than is wanted, so that what is drawn by pixels is not measured as less."""
BESIDE = 3
"""[ours] samples on either side of a stretch that are moved with it, so that no corner stays at its ends."""
SPECK_MM2 = 0.05
New = dict[int, list[Contour]]


def _white(before: MendContext, page: Page) -> Iterator[tuple[int, PathObject]]:
    """The filled paths of a page in white alone, by index, that no clip cuts."""
    for i in painted_in(page, inks_for(page, InkRole.WHITE, before.destination)):
        obj = page.objects[i]
        if isinstance(obj, PathObject) and obj.fills and obj.state.prints and obj.state.clip < 0:
            yield i, obj


def _choked(before: MendContext, page: Page) -> New:
    """The contours that each path of white is to have, where its edge lies too near."""
    wanted = float(before.step["choke_mm"])
    out: New = {}
    white = list(_white(before, page))
    if not white:
        return out
    context = Context(before.artwork, page, CheckInputs(Order(white=True), before.destination, CheckSheet()))
    try:
        for i, obj in white:
            contours = without_overlaps(page.contours(obj), obj.operator.endswith("*"))
            taken = [
                part for edge in margins(context.view, contours, wanted) if edge.short.any()
                for part in _too_near(edge, wanted)
            ]
            if taken:
                area = area_of(contours)
                out[i] = outlines_of(area.difference(shapely.union_all(taken)), WITHIN_MM, SPECK_MM2)
    finally:
        context.close()
    return out


def _too_near(found: Margin, wanted: float) -> Iterator[shapely.Geometry]:
    """Round the edge of the colour, along the samples that are short, and from there outwards over the white.

    Short here is whatever comes to less than is wanted; the check only minds what is less beyond doubt.
    """
    profile = found.profile
    less = found.close & (found.margin < wanted)
    edge = profile.points + profile.normals * found.margin[:, None]
    beyond = profile.points + profile.normals * wanted
    corners = np.flatnonzero((profile.weight == 0) & less)  # directions at a corner, beside the samples in a row
    ways = shapely.linestrings(np.stack([edge[corners], beyond[corners]], axis=1))
    yield from shapely.buffer(ways, wanted + SPARE_MM)
    row = np.flatnonzero(profile.weight > 0)
    short = less[row]
    for run in np.split(np.arange(len(row)), np.flatnonzero(np.diff(short.astype(int))) + 1):
        if short[run[0]]:
            along = row[np.arange(run[0] - BESIDE, run[-1] + BESIDE + 1) % len(row)]
            yield shapely.LineString(edge[along]).buffer(wanted + SPARE_MM, quad_segs=16)
            outwards = np.concatenate([edge[along], beyond[along][::-1]])
            yield shapely.make_valid(shapely.Polygon(outwards)).buffer(FINE_MM)


def _found(before: MendContext) -> dict[int, New]:
    made = before.cached("choke", lambda: {page.number: _choked(before, page) for page in before.artwork.pages})
    if not any(made.values()):
        wanted = before.step["choke_mm"]
        raise NothingToDo(f"White lies {wanted:g} mm under the colour everywhere, or is no plain shape.")
    return made


def _say(before: MendContext) -> MendSummary:
    found = _found(before)
    count = sum(map(len, found.values()))
    return MendSummary(
        f"Pulls {plural(count, 'white shape')} in to {before.step['choke_mm']:g} mm under the edge of the colour, "
        "where the two lie nearer. The rest of the white stays.", {"shapes": count}, lambda: everywhere(before),
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    for page in before.artwork.pages:
        edits: dict[int, list[Edit]] = {}
        for i, contours in _found(before)[page.number].items():
            obj = page.objects[i]
            assert isinstance(obj, PathObject)
            data = page.streams[obj.stream].data
            text = b"\n" + path_operators(contours, obj.state.ctm) + b" f* " if contours else b" "
            clip = clip_operator(data[obj.path_end : obj.end])
            text += data[obj.start : obj.path_end] + clip + b" n " if clip else b""
            edits.setdefault(obj.stream, []).append(Edit(obj.start, obj.end, text))
        if edits:
            edit_page(pdf, page, edits, {})


register(Mend(
    id="choke-white", label="Pull the white in by {choke_mm:g} mm", answers=("white.choke",),
    touches=frozenset([Facet.ART, Facet.LOOK]), settings=(CHOKE,), say=_say, do=_do, safe=False, order=105
))
