"""Fits the page to what is on it: the trim box to the outer cut or the art, with room for art and lines beyond."""

from collections.abc import Mapping
from typing import Any

import pikepdf
from pikepdf import Array

from horismos.artwork.boxes import KEYS, inherited
from horismos.artwork.extent import art_box, art_boxes
from horismos.artwork.lines import outer_cut
from horismos.artwork.model import Page
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, by_proposal, register
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.mending.page.turn import EVERYTHING_MOVES
from horismos.paths import bounds, union_bounds
from horismos.paths.box import Bounds, placed
from horismos.paths.matrix import inverse

TO = Setting("to", SettingKind.CHOICE, "The finished size is that of", "auto", options=("auto", "cut", "art", "all"))
"""Left to itself: the outer cut, where there is one, else the art; all is the art with what lies beyond the page."""
SAME_MM = 0.01


def _wanted(before: MendContext, page: Page) -> dict[str, Bounds]:
    """The boxes that the page is to have, in mm from its present trim box. Raises NothingToDo."""
    to = str(before.step["to"])
    own = [line for line in before.lines if line.page is page]
    cut, art = outer_cut(page, before.lines), art_box(page, own)
    if to == "all":
        art = union_bounds(art_boxes(page, own))
    trim = cut if to == "cut" else art if to in ("art", "all") else cut or art
    if trim is None:
        none = {"cut": "no line that bounds a piece", "art": "no art", "all": "no art"}
        what = none.get(to, "neither art nor a line")
        raise NothingToDo(f"There is {what} on the page.", "Fit it to something else.")
    lines = union_bounds(bounds(c) for line in own for c in line.contours)
    bleed = union_bounds(box for box in (trim, art, lines) if box)
    assert bleed is not None
    return {"trim": trim, "bleed": bleed, "media": bleed, "crop": bleed}


def _off(page: Page, wanted: dict[str, Bounds]) -> bool:
    now = {"trim": page.boxes.trim, "bleed": page.boxes.bleed, "media": page.boxes.media}
    return any(abs(a - b) > SAME_MM for name in now for a, b in zip(now[name], wanted[name], strict=True))


def _say(before: MendContext) -> MendSummary:
    found = [(page, wanted) for page in before.artwork.pages if _off(page, wanted := _wanted(before, page))]
    if not found:
        raise NothingToDo("The page fits what is on it.")
    page, wanted = found[0]
    (x0, y0, x1, y1), (w, h) = wanted["trim"], page.size_mm
    return MendSummary(
        f"The page is {x1 - x0:.1f} × {y1 - y0:.1f} mm then, instead of {w:.1f} × {h:.1f}. Art and lines keep their "
        "size and what lies beyond stays as bleed.",
        {"pages": len(found)}, lambda: {page.number: [page.boxes.media] for page in before.artwork.pages},
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    for page in before.artwork.pages:
        wanted = _wanted(before, page)
        target = pdf.pages[page.number - 1].obj
        for name, box in wanted.items():
            if name != "crop" or inherited(target, KEYS["crop"]) is not None:
                target[KEYS[name]] = Array([round(v, 6) for v in placed(box, inverse(page.matrix))])


def _label(values: Mapping[str, Any]) -> str:
    return "Fit the page to all that is drawn" if values["to"] == "all" else "Fit the page to the art and lines"


register(Mend(
    id="fit-page", label=_label, answers=("page.size", "page.beyond"), touches=EVERYTHING_MOVES, settings=(TO,),
    say=_say, do=_do, offer=by_proposal, safe=False, order=3, reveals=True
))
