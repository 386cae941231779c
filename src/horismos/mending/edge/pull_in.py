"""Moves cuts inwards, as a margin for a cut that lands a little off: what is lost of the art is said."""

import math
from collections.abc import Iterator, Mapping

import pikepdf

from horismos.artwork.notes import PULLED_IN, note
from horismos.checking.engine.findings import Finding
from horismos.comparing.difference import Difference
from horismos.comparing.facets import Facet
from horismos.errors import CannotWrite, NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.engine.settings import ROLE, Setting, SettingKind, Value
from horismos.mending.lines.redraw import redraw
from horismos.mending.lines.shape import SLACK_MM, Reshaping, pages_of, reshaped
from horismos.paths import enclosing_counts, signed_area
from horismos.paths.offset import offset
from horismos.units import MM_PER_POINT
from horismos.words import plural

DISTANCE = Setting("distance_mm", SettingKind.NUMBER, "How far inwards", 0.5, "mm", 0.05, 20.0)


def _find(before: MendContext) -> Reshaping:
    distance = float(before.step["distance_mm"])
    made = Reshaping(moved_mm=None)
    lost = 0.0
    for shape, roles in pages_of(before):
        for role in roles:
            loops = [o for o in shape.outlines[role] if o.contour.loops]
            depths = enclosing_counts([o.contour for o in loops])
            for outline, depth in zip(loops, depths, strict=True):
                by, join = (distance, "round") if depth % 2 else (-distance, "mitre")
                new = offset(outline.contour, by, join=join)
                if new is None:
                    made.count("left")
                    continue
                made.changes[outline] = [new]
                made.count("contours")
                lost += abs(abs(signed_area(outline.contour)) - abs(signed_area(new)))
    made.counts["lost_mm2"] = round(lost, 1)
    return made


def _found(before: MendContext) -> Reshaping:
    made = before.cached("pull-in", lambda: _find(before))
    if not made.changes:
        what = " without falling apart" if made.counts.get("left") else ""
        raise NothingToDo(f"No closed contour of the {before.step.role_words} can be moved inwards{what}.")
    return made


def _say(before: MendContext) -> MendSummary:
    counts = _found(before).counts
    left = int(counts.get("left", 0))
    stays = f" Not moved, since it would fall apart: {plural(left, 'contour')}." if left else ""
    return MendSummary(
        f"Moves {plural(int(counts['contours']), 'contour')} of the {before.step.role_words} inwards by "
        f"{before.step['distance_mm']:g} mm; {counts['lost_mm2'] / 100:.1f} cm² of the pieces are lost. The page keeps "
        f"its trim box, and its size is checked with the distance allowed for.{stays}", counts,
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    redraw(before, pdf, reshaped(_found(before).changes))
    for page, own in zip(pdf.pages, before.artwork.pages, strict=True):
        whole = own.pulled_in_mm + float(before.step["distance_mm"])
        points = whole / MM_PER_POINT / own.user_unit
        note(page.obj, PULLED_IN, round(points, 6))


def _prove(before: MendContext, difference: Difference) -> None:
    most = float(before.step["distance_mm"]) * MITRED + 2 * SLACK_MM
    if difference.lines_moved_mm > most:
        raise CannotWrite(
            f"A line would move by {difference.lines_moved_mm:.2f} mm.",
            "Nothing was changed; ask for a new file.",
        )


SPARE_MM = 0.05
"""[ours] a little more than is missing, so that what is measured on pixels is not measured as less."""


def _offer(mend: Mend, finding: Finding) -> Iterator[Mapping[str, Value]]:
    """As much as is missing, in tenths, where colour ends outside the cut: beside making the colour longer."""
    if finding.measured is None or (finding.id == "edge.risk" and "bare media" not in finding.message):
        return
    missing = math.ceil((finding.limit - finding.measured + SPARE_MM) * 10) / 10
    if DISTANCE.least <= missing <= MOST_OFFERED_MM:
        yield {"distance_mm": missing}


MOST_OFFERED_MM = 5.0
"""[ours] a piece that would become smaller by more is another piece."""
MITRED = 6.0
"""[ours] a corner of a little less than 20° moves six times as far as its sides."""
register(Mend(
    id="pull-in", label="Move the {role} inwards by {distance_mm:g} mm", answers=("edge.bleed", "edge.risk"),
    touches=frozenset([Facet.GEOMETRY]), settings=(ROLE, DISTANCE), say=_say, do=_do, prove=_prove, offer=_offer,
    safe=False, order=95, repeats=True, reveals=True
))
