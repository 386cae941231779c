"""Turns the pages by quarters: art and lines together."""

import pikepdf

from horismos.artwork.boxes import inherited
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, Places, by_proposal, register
from horismos.mending.engine.settings import Setting, SettingKind

__all__ = ["EVERYTHING_MOVES", "everywhere"]

EVERYTHING_MOVES = frozenset([Facet.BOXES, Facet.GEOMETRY, Facet.ART, Facet.LOOK, Facet.PAINT, Facet.LAYERS])
"""What a mend touches that moves the whole page: nothing is named otherwise, and nothing is left out."""
DEGREES = Setting("degrees", SettingKind.CHOICE, "By how much, clockwise", "90", "°", options=("90", "180", "270"))


def everywhere(before: MendContext) -> Places:
    """All of every page."""
    return {page.number: [page.boxes.media] for page in before.artwork.pages}


def _say(before: MendContext) -> MendSummary:
    pages = before.artwork.pages
    if not pages:
        raise NothingToDo("There is no page.")
    w, h = pages[0].size_mm
    now = f"{h:.1f} × {w:.1f}" if before.step["degrees"] != "180" else f"{w:.1f} × {h:.1f}"
    words = f"Turns art and lines by {before.step['degrees']}° clockwise; the page is {now} mm then."
    return MendSummary(words, {"pages": len(pages)}, lambda: everywhere(before))


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    for page in pdf.pages:
        turned = inherited(page.obj, "/Rotate")
        page.obj.Rotate = (int(turned or 0) // 90 * 90 + int(before.step["degrees"])) % 360


register(Mend(
    id="turn", label="Turn by {degrees}°", answers=("page.size",), touches=EVERYTHING_MOVES, settings=(DEGREES,),
    say=_say, do=_do, offer=by_proposal, safe=False, order=5, repeats=True, reveals=True
))
