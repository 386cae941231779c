"""Takes lines from where they stand in the content and draws them over the page, outside of everything."""

import math
from collections.abc import Mapping, Sequence

import pikepdf
from pikepdf import Dictionary

from horismos.artwork.edit import edit_page
from horismos.artwork.layering import add_layers, line_layer, on_top
from horismos.artwork.lines import Line
from horismos.artwork.model import Page, PathObject
from horismos.artwork.parting import edits_without
from horismos.artwork.pathdata import path_operators
from horismos.checking.measuring.clipped import OUT_MM, clipped_away
from horismos.comparing.difference import Difference
from horismos.comparing.facets import Facet
from horismos.errors import CannotWrite
from horismos.mending.engine.registry import MendContext
from horismos.mending.lines.paint import InkNames, line_mend
from horismos.roles import LineRole

__all__ = ["lift", "role_layers", "stays"]

UNMOVED_MM = 0.001
Layers = Mapping[LineRole, pikepdf.Object]


def role_layers(before: MendContext, pdf: pikepdf.Pdf, lines: Sequence[Line]) -> Layers:
    """A new layer for each role among lines, with its processing step, shown and printing."""
    layers = {}
    for role in dict.fromkeys(line.role for line in lines if line.role):
        layer = line_layer(pdf, role, before.destination)
        del layer["/Usage"]
        layers[role] = layer
    add_layers(pdf, list(layers.values()), [])
    return layers


def lift(
    before: MendContext, pdf: pikepdf.Pdf, page: Page, lines: Sequence[Line], layers: Layers,
    begin: bytes = b"", end: bytes = b"", properties: Mapping[str, pikepdf.Object] | None = None,
) -> None:
    """Draw lines over their page with the paint that they have, each on the layer of its role where there is one.

    ``begin`` and ``end`` stand round what was there, ``properties`` are what they name.
    """
    names = InkNames(before, pdf)
    edit_page(pdf, page, edits_without(lines), {})
    known = {role: f"HzLayer{i}" for i, role in enumerate(layers)}
    parts = []
    for line in lines:
        drawn = _drawn(page, line, names)
        if line.role is not None and line.role in layers:
            drawn = f"/OC /{known[line.role]} BDC ".encode() + drawn + b" EMC"
        parts.append(drawn)
    resources = Dictionary()
    for (category, name), value in names.resources.items():
        resources[category] = resources.get(category, Dictionary())
        resources[category]["/" + name] = value
    named = {known[role]: layer for role, layer in layers.items()} | dict(properties or {})
    if named:
        resources.Properties = Dictionary({"/" + name: layer for name, layer in named.items()})
    on_top(pdf, page, b"\n".join(parts), resources, begin, end)


def _drawn(page: Page, line: Line, names: InkNames) -> bytes:
    """A line in default user space, with the width, dashes and tint that it has."""
    obj = line.object
    assert isinstance(obj, PathObject)
    a, b, c, d, _, _ = page.matrix
    per_mm = 1 / math.sqrt(abs(a * d - b * c))
    state = obj.state
    own = line.width_mm / state.line_width * per_mm if state.line_width else per_mm
    dash = " ".join(f"{v * own:.6f}" for v in state.dash[0])
    ink = names.of(line)
    head = (
        f"q /{names.overprint(True, True)} gs /{ink} CS /{ink} cs {line.tint:g} SCN {line.tint:g} scn "
        f"{line.width_mm * per_mm:.6f} w [{dash}] {state.dash[1] * own:.6f} d {state.line_cap} J {state.line_join} j\n"
    )
    even = b"*" if obj.operator.endswith("*") and line.fills else b""
    paint = b"B" if line.strokes and line.fills else b"f" if line.fills else b"S"
    return head.encode() + path_operators(line.contours, page.matrix) + b" " + paint + even + b" Q"


def _lift_out(before: MendContext, pdf: pikepdf.Pdf, found: list[Line]) -> None:
    layers = role_layers(before, pdf, [line for line in found if line.object.state.layers])
    for page in before.artwork.pages:
        own = [line for line in found if line.page is page]
        if own:
            lift(before, pdf, page, own, layers)


def stays(before: MendContext, difference: Difference) -> None:
    """Lines are written anew to a millionth of a unit: they may not have moved."""
    if difference.lines_moved_mm > UNMOVED_MM:
        raise CannotWrite(
            f"A line would move by {difference.lines_moved_mm:.3f} mm.",
            "Nothing was changed. Report this; it is a fault of the program.",
        )


TOUCHES = frozenset([Facet.PAINT, Facet.LAYERS, Facet.GEOMETRY])
line_mend(
    "lift-line", "Lift the {role} out of transparency", ("line.in-transparency", "line.outside"),
    lambda line: line.object.state.transparent or line.object.state.group >= 0 or clipped_away(line) > OUT_MM,
    "Draws {lines} over the page, outside of transparency groups, soft masks and clips. Shape and ink stay.",
    "No {role} lies in transparency, under a mask or in a clip.", _lift_out, 12, TOUCHES, stays,
)
line_mend(
    "show-line", "Show the {role}", ("line.hidden",),
    lambda line: not (line.object.state.visible and line.object.state.prints),
    "Draws {lines} on a layer that is shown and printed, named after the ink. Shape and ink stay.",
    "No {role} is hidden.", _lift_out, 13, TOUCHES, stays, reveals=True,
)
