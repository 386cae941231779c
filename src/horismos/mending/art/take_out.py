"""Takes one object out of the art where somebody pointed at it; all others stay as they are."""

from collections.abc import Collection

import pikepdf

from horismos.artwork.edit import Edit, edit_page
from horismos.artwork.extent import bounds_of
from horismos.artwork.fontless import without_idle_fonts
from horismos.artwork.model import Page, PathObject, TextObject
from horismos.artwork.outline_text import outlined
from horismos.artwork.paints import kind_of
from horismos.artwork.parting import clip_operator
from horismos.comparing.difference import Difference
from horismos.comparing.facets import Facet, art_said
from horismos.errors import CannotWrite, NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.paths.box import Bounds
from horismos.paths.matrix import size_of

AT = Setting("at", SettingKind.POINTS, "Two corners of its box")
WHICH = Setting("which", SettingKind.NUMBER, "The how-manieth with such a box, from the top", 1.0, "", 1.0, 100_000.0)
PAGE = Setting("page", SettingKind.NUMBER, "The page", 1.0, "", 1.0, 10_000.0)
WORDS = {"path": "shape", "text": "text", "image": "picture", "shading": "shading"}


def with_box(page: Page, box: Bounds, lines: Collection[int]) -> list[int]:
    """The objects of the art with a box in mm, by index, the topmost first; ``lines`` are those that are none."""
    told = rounded(box)
    every = ((i, bounds_of(page, page.objects[i])) for i in reversed(range(len(page.objects))) if i not in lines)
    return [i for i, own in every if own is not None and rounded(own) == told]


def rounded(box: Bounds) -> Bounds:
    """A box as it is told: to a thousandth of a millimetre."""
    x0, y0, x1, y1 = (round(v, 3) for v in box)
    return x0, y0, x1, y1


def _found(before: MendContext) -> tuple[Page, int, Bounds]:
    """The page, the object by its index, and its box in mm. Raises NothingToDo where none has such a box."""
    def find() -> tuple[Page, int, Bounds] | None:
        points = before.step["at"]
        page = next((p for p in before.artwork.pages if p.number == int(before.step["page"])), None)
        if len(points) != 2 or page is None:
            return None
        (x0, y0), (x1, y1) = points
        corners = (min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1))
        lines = {line.index for line in before.lines if line.page is page}
        there = with_box(page, corners, lines)
        nth = int(before.step["which"]) - 1
        return (page, there[nth], corners) if nth < len(there) else None

    found = before.cached("take-out", find)
    if found is None:
        raise NothingToDo("No object of the art has such a box.", "Point at it again.")
    return found


def _say(before: MendContext) -> MendSummary:
    page, i, (x0, y0, x1, y1) = _found(before)
    obj = page.objects[i]
    more = obj.state.line_width * size_of(obj.state.ctm) if isinstance(obj, PathObject) and obj.strokes else 0.0
    return MendSummary(
        f"Takes this {WORDS[kind_of(obj)]} of {x1 - x0:.1f} × {y1 - y0:.1f} mm out of the art. All others stay as they "
        "are; what lay under it is seen.", {"objects": 1},
        lambda: {page.number: [(x0 - more, y0 - more, x1 + more, y1 + more)]},
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    page, i, _ = _found(before)
    obj = page.objects[i]
    if isinstance(obj, TextObject):
        edit_page(pdf, page, outlined(pdf, page, {i: ()}), {})
        without_idle_fonts(pdf)
        return
    text = b" "
    if isinstance(obj, PathObject):
        data = page.streams[obj.stream].data
        clip = clip_operator(data[obj.path_end : obj.end])
        text = data[obj.start : obj.path_end] + clip + b" n " if clip else b" "
    edit_page(pdf, page, {obj.stream: [Edit(obj.start, obj.end, text)]}, {})
    pdf.remove_unreferenced_resources()


def _prove(before: MendContext, difference: Difference) -> None:
    """Every other object of every page is what it was, in the same order."""
    own, i, _ = _found(before)
    for page, later in zip(before.artwork.pages, difference.later.pages, strict=True):
        was = art_said(page)
        if page is own:
            del was[i]
        if was != art_said(later):
            raise CannotWrite("Something else would change.", "Nothing was changed; ask for a file without it.")


register(Mend(
    id="take-out", label="Take it out", answers=(), touches=frozenset([Facet.ART, Facet.LOOK, Facet.NAMES]),
    settings=(AT, WHICH, PAGE), say=_say, do=_do, prove=_prove, safe=False, order=73, repeats=True, removes=True,
    reveals=True
))
