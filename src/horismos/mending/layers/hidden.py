"""Drops art that is hidden or does not print, or shows it."""

import pikepdf
from pikepdf import Array, Name

from horismos.artwork.edit import edit_page
from horismos.artwork.extent import bounds_of
from horismos.artwork.model import Page, TextObject
from horismos.artwork.outline_text import outlined
from horismos.artwork.parting import leave_out
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.paths.box import Bounds
from horismos.words import plural


def _hidden(before: MendContext, page: Page) -> list[int]:
    """The objects of the art, by index, that are not shown or not printed."""
    lines = {line.index for line in before.lines if line.page is page}
    return [
        i for i, o in enumerate(page.objects) if i not in lines and not (o.state.visible and o.state.prints)
    ]


def _places(before: MendContext) -> dict[int, list[Bounds]]:
    return {page.number: [box for i in _hidden(before, page) if (box := bounds_of(page, page.objects[i]))]
            for page in before.artwork.pages}


def _said(before: MendContext, words: str) -> MendSummary:
    count = sum(len(_hidden(before, page)) for page in before.artwork.pages)
    if not count:
        raise NothingToDo("All of the art is shown and printed.")
    return MendSummary(
        words.format(objects=plural(count, "hidden object")), {"objects": count}, lambda: _places(before)
    )


def _drop(before: MendContext, pdf: pikepdf.Pdf) -> None:
    for page in before.artwork.pages:
        hidden = _hidden(before, page)
        texts: dict[int, tuple[()]] = {i: () for i in hidden if isinstance(page.objects[i], TextObject)}
        edits = outlined(pdf, page, texts) if texts else {}  # what stands behind a text stays where it is
        if hidden:
            edit_page(pdf, page, leave_out(page, (i for i in hidden if i not in texts), edits), {})


def _show(before: MendContext, pdf: pikepdf.Pdf) -> None:
    """Switch on the layers that hide art, on screen and on paper."""
    numbers = {i for page in before.artwork.pages for k in _hidden(before, page) for i in page.objects[k].state.layers}
    properties = pdf.Root.OCProperties
    names = {before.artwork.layers[i].name for i in numbers}
    chosen = [group for group in properties.OCGs if str(group.get("/Name", "unnamed")) in names]
    default = properties.D
    known = [group.objgen for group in chosen]
    default.OFF = Array([g for g in default.get("/OFF", []) if g.objgen not in known])
    if str(default.get("/BaseState", "/ON")) == "/OFF":
        default.ON = Array([*default.get("/ON", []), *chosen])
    for group in chosen:
        usage = group.get("/Usage")
        for event, key in (("/Print", "/PrintState"), ("/View", "/ViewState")):
            if usage is not None and event in usage and usage[event].get(key) == Name.OFF:
                usage[event][key] = Name.ON


TOUCHES = frozenset([Facet.ART, Facet.LAYERS, Facet.LOOK, Facet.NAMES])
register(Mend(
    id="drop-hidden", label="Drop hidden art", answers=("layer.hidden-art",), touches=TOUCHES, settings=(),
    say=lambda before: _said(before, "Takes {objects} out of the art. What is seen and printed stays as it is."),
    do=_drop, safe=False, order=72, removes=True
))
register(Mend(
    id="show-hidden", label="Show hidden art", answers=("layer.hidden-art",), touches=TOUCHES, settings=(),
    say=lambda before: _said(before, "Shows and prints {objects} of the art by switching their layers on."), do=_show,
    safe=False, order=71, reveals=True,
))
