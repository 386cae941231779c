"""Sorts into layers: the art on one, each role on its own with the processing step of ISO 19593-1."""

import pikepdf

from horismos.artwork.layering import add_layers, plain_layer
from horismos.artwork.lines import Line
from horismos.artwork.model import Page, PathObject
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.lines.lift import lift, role_layers, stays
from horismos.words import plural

ART = "Art"


def _lines(before: MendContext) -> list[Line]:
    return [line for line in before.lines if line.role is not None and isinstance(line.object, PathObject)]


def _sorted_already(before: MendContext, page: Page) -> bool:
    """Whether each role has a layer of its own that says what it is, and the art one without any line."""
    layers = before.artwork.layers
    own: dict[object, set[int | None]] = {}
    lines = [line for line in _lines(before) if line.page is page]
    for line in lines:
        own.setdefault(line.role, set()).add(line.object.state.layers[-1] if line.object.state.layers else None)
    for role, found in own.items():
        (layer,) = found if len(found) == 1 else (None,)
        if layer is None or layers[layer].role is not role:
            return False
    of_lines = {layer for found in own.values() for layer in found}
    taken = {line.index for line in lines if line.takes_all}
    art = [o for i, o in enumerate(page.objects) if i not in taken]
    return all(o.state.layers and o.state.layers[-1] not in of_lines for o in art)


def _say(before: MendContext) -> MendSummary:
    pages = [page for page in before.artwork.pages if not _sorted_already(before, page)]
    lines = [line for line in _lines(before) if line.page in pages]
    if not pages or not lines:
        raise NothingToDo("Art and lines are sorted into layers already." if not pages else "There is no line to sort.")
    roles = {line.role for line in lines}
    return MendSummary(
        f"Puts the art on a layer “{ART}” and {plural(len(lines), 'line')} on {plural(len(roles), 'layer')} of "
        f"{'its' if len(lines) == 1 else 'their'} own, named after the ink, with the standard's processing step. "
        "Nothing moves.", {"lines": len(lines), "layers": len(roles) + 1},
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    lines = _lines(before)
    art = plain_layer(pdf, ART)
    add_layers(pdf, [art], [])
    layers = role_layers(before, pdf, lines)
    for page in before.artwork.pages:
        if not _sorted_already(before, page):
            own = [line for line in lines if line.page is page]
            lift(before, pdf, page, own, layers, b"/OC /HzArt BDC", b"EMC", {"HzArt": art})


register(Mend(
    id="sort-layers", label="Sort into layers", answers=("layer.mixed",),
    touches=frozenset([Facet.LAYERS, Facet.PAINT, Facet.GEOMETRY]), settings=(), say=_say, do=_do, prove=stays,
    order=70
))
