"""States the page boxes, each inside the next: what is missing from the outer cut, or else from the page."""

import pikepdf
from pikepdf import Array

from horismos.artwork.lines import outer_cut
from horismos.artwork.model import Page
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.paths import union_bounds
from horismos.paths.box import Bounds, common, placed
from horismos.paths.matrix import inverse

BLEED = Setting("bleed_mm", SettingKind.NUMBER, "The bleed where none is stated", 3.0, "mm", 0.0, 100.0)
SAME_MM = 0.01


def _wanted(before: MendContext, page: Page) -> dict[str, Bounds]:
    """The trim and bleed box that the page is to have, in mm from its present trim box."""
    boxes = page.boxes
    cut = boxes.trim if "trim" in boxes.stated else outer_cut(page, before.lines)
    trim = (common(cut, boxes.media) if cut else None) or boxes.crop
    by = float(before.step["bleed_mm"])
    wide = (trim[0] - by, trim[1] - by, trim[2] + by, trim[3] + by)
    bleed = common(boxes.bleed if "bleed" in boxes.stated else wide, boxes.media) or trim
    around = union_bounds([bleed, trim])
    assert around is not None
    return {"trim": trim, "bleed": around}


def _off(page: Page, wanted: dict[str, Bounds]) -> bool:
    now = {"trim": page.boxes.trim, "bleed": page.boxes.bleed}
    unlike = any(abs(a - b) > SAME_MM for name in now for a, b in zip(now[name], wanted[name], strict=True))
    return unlike or not {"trim", "bleed"} <= page.boxes.stated


def _say(before: MendContext) -> MendSummary:
    found = [(page, wanted) for page in before.artwork.pages if _off(page, wanted := _wanted(before, page))]
    if not found:
        raise NothingToDo("Trim and bleed box are stated, and lie inside each other.")
    (x0, y0, x1, y1) = found[0][1]["trim"]
    return MendSummary(
        f"States trim and bleed box: the finished size is {x1 - x0:.1f} × {y1 - y0:.1f} mm. Art and lines stay.",
        {"pages": len(found)},
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    for page in before.artwork.pages:
        wanted = _wanted(before, page)
        if _off(page, wanted):
            for name, box in wanted.items():
                raw = placed(box, inverse(page.matrix))
                pdf.pages[page.number - 1].obj[f"/{name.title()}Box"] = Array([round(v, 6) for v in raw])


register(Mend(
    id="set-boxes", label="State trim and bleed box", answers=("page.boxes",),
    touches=frozenset([Facet.BOXES, Facet.GEOMETRY, Facet.ART, Facet.LOOK]), settings=(BLEED,), say=_say, do=_do,
    safe=False, order=3, reveals=True
))
