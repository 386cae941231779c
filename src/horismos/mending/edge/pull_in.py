"""Moves cuts inwards, as a margin for a cut that lands a little off: what is lost of the art is said."""

import numpy as np
import pikepdf
import shapely
from pikepdf import Dictionary, String

from horismos.artwork.boxes import PULLED_IN
from horismos.checking.measuring.outlines import Outline
from horismos.comparing.difference import Difference
from horismos.comparing.facets import Facet
from horismos.errors import CannotWrite, NothingToDo
from horismos.mending.engine.registry import Before, Mend, Said, register
from horismos.mending.engine.settings import ROLE, Kind, Setting
from horismos.mending.lines.redraw import redraw
from horismos.mending.lines.shape import SLACK_MM, Reshaping, pages_of, reshaped
from horismos.paths import Contour, enclosing_counts, flatten, signed_area
from horismos.paths.fit import fit_points
from horismos.units import MM_PER_POINT
from horismos.words import plural

DISTANCE = Setting("distance_mm", Kind.NUMBER, "How far inwards", 0.5, "mm", 0.05, 20.0)
ANY_DATE = "D:19700101000000Z"
"""[standard] ISO 32000-1, 14.5, asks for a date; always the same one, so that the same mend gives the same file."""
FINE_MM = 0.002
FIT_MM = 0.01
QUARTER = 32
"""Segments that a quarter of a circle is made of on the way."""


def _find(before: Before) -> Reshaping:
    distance = float(before.step["distance_mm"])
    made = Reshaping(moved_mm=None)
    lost = 0.0
    for shape, roles in pages_of(before):
        for role in roles:
            loops = [o for o in shape.outlines[role] if o.contour.loops]
            depths = enclosing_counts([o.contour for o in loops])
            for outline, depth in zip(loops, depths, strict=True):
                new = _moved(outline, distance if depth % 2 else -distance)
                if new is None:
                    made.count("left")
                    continue
                made.changes[outline] = [new]
                made.count("contours")
                lost += abs(abs(signed_area(outline.contour)) - abs(signed_area(new)))
    made.counts["lost_mm2"] = round(lost, 1)
    return made


def _moved(outline: Outline, by: float) -> Contour | None:
    """An outline so many mm further out, or further in where that is negative; None where it would fall apart."""
    area = shapely.make_valid(shapely.Polygon(flatten(outline.contour, FINE_MM)))
    area = area.buffer(by, quad_segs=QUARTER, join_style="mitre" if by < 0 else "round")
    if area.geom_type != "Polygon" or area.is_empty or len(area.interiors):
        return None
    new = fit_points(np.asarray(area.exterior.coords), True, True, FIT_MM)
    return new if signed_area(new) * signed_area(outline.contour) > 0 else new.reversed()


def _found(before: Before) -> Reshaping:
    made = before.once("pull-in", lambda: _find(before))
    if not made.changes:
        what = " without falling apart" if made.counts.get("left") else ""
        raise NothingToDo(f"No closed contour of the {before.step.role_words} can be moved inwards{what}.")
    return made


def _say(before: Before) -> Said:
    counts = _found(before).counts
    left = int(counts.get("left", 0))
    stays = f" Not moved, since it would fall apart: {plural(left, 'contour')}." if left else ""
    return Said(
        f"Moves {plural(int(counts['contours']), 'contour')} of the {before.step.role_words} inwards by "
        f"{before.step['distance_mm']:g} mm; {counts['lost_mm2'] / 100:.1f} cm² of the pieces are lost. The page keeps "
        f"its trim box, and its size is checked with the distance allowed for.{stays}", counts,
    )


def _do(before: Before, pdf: pikepdf.Pdf) -> None:
    redraw(before, pdf, reshaped(_found(before).changes))
    for page, own in zip(pdf.pages, before.artwork.pages, strict=True):
        whole = own.pulled_in_mm + float(before.step["distance_mm"])
        points = whole / MM_PER_POINT / own.user_unit
        note = Dictionary(LastModified=String(ANY_DATE), Private=Dictionary({PULLED_IN: round(points, 6)}))
        if "/PieceInfo" not in page.obj:
            page.obj.PieceInfo = Dictionary()
        page.obj.PieceInfo["/Horismos"] = note


def _prove(before: Before, difference: Difference) -> None:
    most = float(before.step["distance_mm"]) * MITRED + SLACK_MM + FIT_MM
    if difference.lines_moved_mm > most:
        raise CannotWrite(
            f"A line would move by {difference.lines_moved_mm:.2f} mm.",
            "Nothing was changed; ask for a new file.",
        )


MITRED = 6.0
"""[ours] a corner of a little less than 20° moves six times as far as its sides."""
register(Mend(
    "pull-in", "Move the {role} inwards by {distance_mm:g} mm", ("edge.bleed", "edge.risk"),
    frozenset([Facet.GEOMETRY]), (ROLE, DISTANCE), _say, _do, _prove, offer=lambda mend, finding: (), safe=False,
    order=95, repeats=True, reveals=True,
))
