"""Writes line layers: a role's lines as a form of their own, on a layer with its standard metadata.

Not for reading layers (``layers``) nor for changing what a page paints (``edit``).
"""

from collections import Counter
from collections.abc import Mapping, Sequence
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name

from horismos.artwork.boxes import inherited
from horismos.artwork.lines import Line
from horismos.artwork.model import Page
from horismos.artwork.pathdata import path_operators
from horismos.destinations import Destination
from horismos.paths import Contour, bounds, union_bounds
from horismos.paths.box import Bounds, placed
from horismos.paths.matrix import inverse
from horismos.roles import InkRole, LineRole
from horismos.units import HAIRLINE_MM, MM_PER_POINT

__all__ = [
    "WHITE_SHOWN", "add_layers", "below", "grow_page", "ink_layer", "layer_of_art", "line_form", "line_layer", "on_top",
    "plain_layer", "put_lines", "separation", "take_layers",
]

WHITE_SHOWN = (0.12, 0.0, 0.02, 0.0)
"""[ours] how white ink looks on a screen that is white itself, in CMYK."""


def separation(name: Name, shown: Sequence[float]) -> Array:
    """The Separation space of an ink under an exact name, shown as CMYK where there is no such ink."""
    tint = Dictionary(FunctionType=2, Domain=[0, 1], C0=[0, 0, 0, 0], C1=list(shown), N=1)
    return Array([Name.Separation, name, Name.DeviceCMYK, tint])


def line_form(
    pdf: pikepdf.Pdf, role: LineRole, contours: Sequence[Contour], destination: Destination
) -> Any:
    """The lines of one role and one piece, in mm: hairlines at 100 %, overprinting."""
    space = separation(Name("/" + destination.name_of(role)), role.facts.screen_cmyk)
    path = path_operators(contours, (1, 0, 0, 1, 0, 0)).decode()
    width = HAIRLINE_MM
    form = pdf.make_stream(f"/Over gs /Ink CS 1 SCN {width:.6f} w\n{path}\nS".encode())
    boxes = [c.segments.reshape(-1, 2) for c in contours]
    low = min(float(b.min()) for b in boxes) - 10
    high = max(float(b.max()) for b in boxes) + 10
    form.Type, form.Subtype = Name.XObject, Name.Form
    form.BBox = [low, low, high, high]
    form.Resources = Dictionary(
        ColorSpace=Dictionary(Ink=space), ExtGState=Dictionary(Over=Dictionary(OP=True, op=True, OPM=1))
    )
    return form


def on_top(pdf: pikepdf.Pdf, page: Page, drawn: bytes, resources: Any, begin: bytes = b"", end: bytes = b"") -> None:
    """Draw content over a page in its default user space, whatever state its own content leaves.

    ``resources`` is a dictionary of categories with what ``drawn`` names; ``begin`` and ``end`` stand round the
    content that is there.
    """
    target = pdf.pages[page.number - 1].obj
    _add_resources(target, resources)
    before = target.get("/Contents", Array())
    listed = list(before) if isinstance(before, Array) else [before]
    restored = b"\n" + b"Q " * (1 + page.unrestored) + end + b"\n"
    target.Contents = Array([
        pdf.make_stream(begin + b" q\n"), *listed, pdf.make_stream(restored + drawn)
    ])


def layer_of_art(page: Page, lines: Sequence[Line]) -> int | None:
    """The layer that most of a page's art is on, by its number; None where some art is on no layer."""
    taken = {line.index for line in lines if line.page is page and line.takes_all}
    shown = [
        o.state.layers for i, o in enumerate(page.objects) if i not in taken and o.state.visible and o.state.prints
    ]
    if not shown or not all(shown):
        return None
    return Counter(layers[-1] for layers in shown).most_common(1)[0][0]


def below(
    pdf: pikepdf.Pdf, page: Page, outline: Sequence[Contour], drawn: bytes, resources: Any, layer: int | None = None
) -> None:
    """Draw content under all of a page, in mm, inside an outline; the page grows where that goes beyond it.

    ``resources`` is a dictionary of categories with what ``drawn`` names. With a ``layer``, by its number, it is on it.
    """
    if layer is not None:
        resources.Properties = Dictionary(HzOnLayer=pdf.Root.OCProperties.OCGs[layer])
        drawn = b"/OC /HzOnLayer BDC\n" + drawn + b"\nEMC"
    target = pdf.pages[page.number - 1].obj
    _add_resources(target, resources)
    a, b, c, d, e, f = inverse(page.matrix)
    to_mm = f"{a:.9f} {b:.9f} {c:.9f} {d:.9f} {e:.9f} {f:.9f} cm"
    clip = path_operators(outline, (1, 0, 0, 1, 0, 0)).decode()
    before = target.get("/Contents", Array())
    listed = list(before) if isinstance(before, Array) else [before]
    head = f"q {to_mm}\n{clip} W* n\n".encode() + drawn + b"\nQ\n"
    target.Contents = Array([pdf.make_stream(head), *listed])
    box = union_bounds(bounds(contour) for contour in outline)
    if box is not None:
        grow_page(target, page, box)


def grow_page(target: Any, page: Page, box: Bounds) -> None:
    """Make an open page large enough for a box in mm."""
    media = page.boxes.media
    whole = union_bounds([box, media])
    assert whole is not None
    grown = placed(whole, inverse(page.matrix))
    for key in ("/MediaBox", "/CropBox"):
        old = inherited(target, key)
        if old is not None and whole != media:
            x0, y0, x1, y1 = (float(v) for v in old)
            target[key] = Array([min(x0, grown[0]), min(y0, grown[1]), max(x1, grown[2]), max(y1, grown[3])])


def _add_resources(target: Any, resources: Any) -> None:
    own = inherited(target, "/Resources")
    merged: Any = Dictionary(own) if own is not None else Dictionary()
    for category in resources.keys():
        inner: Any = merged.get(category)
        merged[category] = Dictionary(inner) if inner is not None else Dictionary()
        for name in resources[category].keys():
            merged[category][name] = resources[category][name]
    target.Resources = merged


def plain_layer(pdf: pikepdf.Pdf, name: str) -> Any:
    """A layer with nothing but a name."""
    return pdf.make_indirect(Dictionary(Type=Name.OCG, Name=pikepdf.String(name)))


def line_layer(pdf: pikepdf.Pdf, role: LineRole, destination: Destination) -> Any:
    """A layer for one line role: named after its ink, with its processing step, not printing."""
    group, kind = role.facts.step
    layer = plain_layer(pdf, destination.name_of(role))
    layer.GTS_Metadata = Dictionary(
        GTS_ProcStepsGroup=Name("/" + group), GTS_ProcStepsType=Name(f"/{kind}")
    )
    layer.Usage = Dictionary(
        Print=Dictionary(Subtype=Name.Print, PrintState=Name.OFF),
        View=Dictionary(ViewState=Name.ON),
    )
    return layer


def ink_layer(pdf: pikepdf.Pdf, role: InkRole, name: str) -> Any:
    """A layer for white or varnish, with its processing step; it prints."""
    layer = plain_layer(pdf, name)
    layer.GTS_Metadata = Dictionary(GTS_ProcStepsGroup=Name("/" + role.facts.step[0]))
    return layer


def add_layers(pdf: pikepdf.Pdf, groups: list[Any], not_printing: list[Any]) -> None:
    """Add layers to those that the art has; print states take effect on printing (8.11.4.5)."""
    properties = pdf.Root.get("/OCProperties")
    if properties is None:
        properties = pdf.Root.OCProperties = Dictionary(OCGs=Array(), D=Dictionary())
    default = properties.D
    properties.OCGs = Array([*properties.get("/OCGs", []), *groups])
    if str(default.get("/BaseState", "/ON")) == "/OFF":
        default.ON = Array([*default.get("/ON", []), *groups])
    default.Order = Array([*default.get("/Order", []), *groups])
    if not_printing:
        event = Dictionary(Event=Name.Print, Category=Array([Name.Print]), OCGs=Array(not_printing))
        default.AS = Array([*default.get("/AS", []), event])


def take_layers(pdf: pikepdf.Pdf, source: pikepdf.Pdf) -> None:
    """Take over the layers of another file with the states that they have there; its content is copied apart."""
    own = source.Root.get("/OCProperties")
    if own is None:
        return
    taken = pdf.copy_foreign(source.make_indirect(own))
    groups, default = list(taken.get("/OCGs", [])), taken.get("/D", Dictionary())
    by_base = str(default.get("/BaseState", "/ON")) == "/OFF"
    shown, hidden = list(default.get("/ON", [])), list(default.get("/OFF", []))
    on = [g for g in groups if (g in shown if by_base else g not in hidden)]
    add_layers(pdf, groups, [])
    target = pdf.Root.OCProperties.D
    target.OFF = Array([*target.get("/OFF", []), *(g for g in groups if g not in on)])
    if str(target.get("/BaseState", "/ON")) == "/OFF":
        target.ON = Array([g for g in target.get("/ON", []) if g not in groups or g in on])
    target.AS = Array([*target.get("/AS", []), *default.get("/AS", [])])


def put_lines(
    pdf: pikepdf.Pdf, page: Any, lines: Mapping[LineRole, Sequence[Contour]], destination: Destination
) -> None:
    """Draw lines, in mm from the lower left of the media box, over a page that is not turned.

    Each role comes on a layer of its own, in the destination's ink. The layers are shown and printed: the name of the
    ink is what tells a RIP, and what does not print a RIP would leave out, the line with it.
    """
    from horismos.artwork.boxes import boxes_of

    boxes, _, user_unit, _, _ = boxes_of(page)
    k = MM_PER_POINT * user_unit
    x0, y0, _, _ = boxes.raw["media"]
    own = page.get("/Resources")
    resources: Any = Dictionary(own) if own is not None else Dictionary()
    page.Resources = resources
    for category in ("/XObject", "/Properties"):
        inner = resources.get(category)
        resources[category] = Dictionary(inner) if inner is not None else Dictionary()
    parts, layers = [], []
    for role, contours in lines.items():
        key = role.value.replace("-", "")
        layer = line_layer(pdf, role, destination)
        del layer["/Usage"]
        resources.Properties["/" + key] = layer
        resources.XObject["/" + key] = line_form(pdf, role, contours, destination)
        parts.append(f"/OC /{key} BDC q {1 / k:.8f} 0 0 {1 / k:.8f} {x0:.6f} {y0:.6f} cm /{key} Do Q EMC")
        layers.append(layer)
    before = page.get("/Contents", Array())
    listed = list(before) if isinstance(before, Array) else [before]
    page.Contents = Array([
        pdf.make_stream(b"q"), *listed, pdf.make_stream(("\nQ\n" + "\n".join(parts)).encode())
    ])
    add_layers(pdf, layers, [])
