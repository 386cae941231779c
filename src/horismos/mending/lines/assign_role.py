"""Makes what is drawn in an ordinary colour, in some ink or on some layer, the lines of a role."""

from collections.abc import Iterator, Mapping

import pikepdf

from horismos.artwork.edit import Edit, edit_page
from horismos.artwork.model import Page, Paint, PathObject
from horismos.artwork.parting import clip_operator
from horismos.checking.engine.findings import Candidate, Finding
from horismos.comparing.facets import Facet
from horismos.errors import BadValue, NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, Places, Step, register
from horismos.mending.engine.settings import Setting, SettingKind, Value
from horismos.mending.lines.paint import InkNames, units_per_mm
from horismos.paths import bounds, union_bounds
from horismos.paths.box import Bounds
from horismos.roles import LineRole
from horismos.units import HAIRLINE_MM
from horismos.words import plural

__all__ = ["in_colour", "to_remember"]

NEAR = 0.004
"""[ours] of 0 to 1: two values nearer than half a step of 8 bits are one colour."""
SETTINGS = (
    Setting("role", SettingKind.ROLE, "The line role"),
    Setting("ink", SettingKind.NAME, "The ink that the lines are drawn in", optional=True),
    Setting("colour", SettingKind.COLOUR, "The colour that the lines are drawn in", optional=True),
    Setting("layer", SettingKind.NAME, "The layer that the lines are on", optional=True),
)
Found = list[tuple[Page, PathObject, bool, bool]]
"""Paths, each with whether its stroke and whether its fill is meant."""


def _found(before: MendContext) -> Found:
    step = before.step
    said = [name for name in ("ink", "colour", "layer") if step[name]]
    if len(said) != 1:
        raise BadValue("It takes one of ink, colour and layer to tell the lines.", "Say just one of them.")
    taken = {(line.page.number, line.index) for line in before.lines if line.role is LineRole(step["role"])}
    found: Found = []
    for page in before.artwork.pages:
        for index, obj in enumerate(page.objects):
            if isinstance(obj, PathObject) and (page.number, index) not in taken:
                strokes, fills = _meant(before, obj)
                if strokes or fills:
                    found.append((page, obj, strokes, fills))
    if not found:
        what = f"in {step['ink'] or 'that colour'}" if not step["layer"] else f"on a layer “{step['layer']}”"
        raise NothingToDo(f"No path is drawn {what}, or all of them are the {_words(before)} already.")
    return found


def _words(before: MendContext) -> str:
    return LineRole(before.step["role"]).words


def _meant(before: MendContext, obj: PathObject) -> tuple[bool, bool]:
    """Whether the stroke and whether the fill of a path are what was pointed at; strokes go before fills."""
    step = before.step
    if step["layer"]:
        names = {before.artwork.layers[i].name for i in obj.state.layers}
        return (obj.strokes, obj.fills and not obj.strokes) if step["layer"] in names else (False, False)

    def is_it(paint: Paint) -> bool:
        return in_ink(paint, step["ink"]) if step["ink"] else in_colour(paint, step["colour"])

    return obj.strokes and is_it(obj.state.stroke), obj.fills and is_it(obj.state.fill)


def in_ink(paint: Paint, ink: str) -> bool:
    return [name for name, tint in paint.inks if tint > 0] == [ink]


def in_colour(paint: Paint, colour: tuple[float, ...]) -> bool:
    """Whether a paint is a flat colour, given as RGB or CMYK."""
    if len(colour) == 3:
        rgb = paint.additive and ("RGB" in paint.family or paint.family == "ICCBased")
        values: tuple[float, ...] = paint.values if rgb else ()
    else:
        tints = dict(paint.inks)
        process = not paint.additive and set(tints) <= {"Cyan", "Magenta", "Yellow", "Black"} and tints
        values = tuple(tints.get(n, 0.0) for n in ("Cyan", "Magenta", "Yellow", "Black")) if process else ()
    return len(values) == len(colour) and all(abs(a - b) <= NEAR for a, b in zip(values, colour, strict=True))


def _say(before: MendContext) -> MendSummary:
    found = _found(before)
    ink = before.destination.name_of(LineRole(before.step["role"]))
    filled = sum(fills and not strokes for _, _, strokes, fills in found)
    become = "becomes" if filled == 1 else "become"
    fills = f" {plural(filled, 'filled shape')} among them {become} a stroke." if filled else ""
    return MendSummary(
        f"Makes {plural(len(found), 'path')} the {_words(before)}: hairlines at 100 % of “{ink}”, overprinting.{fills} "
        "Shapes stay where they are.", {"paths": len(found), "filled": filled}, lambda: _places(found),
    )


def _places(found: Found) -> Places:
    out: dict[int, list[Bounds]] = {}
    for page, obj, _, _ in found:
        box = union_bounds(bounds(c) for c in page.contours(obj))
        if box:
            wide = obj.state.line_width * 2
            out.setdefault(page.number, []).append((box[0] - wide, box[1] - wide, box[2] + wide, box[3] + wide))
    return out


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    role = LineRole(before.step["role"])
    names = InkNames(before, pdf)
    ink = names.named(before.destination.name_of(role), role)
    over = names.overprint(True, True)
    edits: dict[int, dict[int, list[Edit]]] = {}
    for page, obj, strokes, fills in _found(before):
        data = page.streams[obj.stream].data
        path = data[obj.start : obj.path_end]
        width = HAIRLINE_MM * units_per_mm(obj)
        close = b" s" if obj.closes else b" S"
        line = f" q /{over} gs /{ink} CS 1 SCN {width:.6f} w [] 0 d ".encode() + path + close + b" Q "
        text = path + _art(obj, strokes, fills) + line
        clip = clip_operator(data[obj.path_end : obj.end])
        if clip:
            text += path + clip + b" n "
        edits.setdefault(page.number, {}).setdefault(obj.stream, []).append(Edit(obj.start, obj.end, text))
    for number, listed in edits.items():
        edit_page(pdf, before.artwork.pages[number - 1], listed, names.resources)


def _art(obj: PathObject, strokes: bool, fills: bool) -> bytes:
    """What of the path stays art, painted as it was."""
    if obj.fills and not fills:
        return (b" h" if obj.closes else b"") + (b" f* " if obj.operator.endswith("*") else b" f ")
    if obj.strokes and not strokes:
        return b" s " if obj.closes else b" S "
    return b" n "


def _offer(mend: Mend, finding: Finding) -> Iterator[Mapping[str, Value]]:
    """Each candidate in each role that it may have, or in any where there is no line; in the one that is missing."""
    for one in finding.candidates:
        others = [role for role in LineRole if role not in one.roles] if finding.id == "line.none" else []
        for role in (*one.roles, *others):
            if finding.id != "line.missing" or role == finding.subject:
                yield {"role": role.value, one.by: one.value}


def _settled(finding: Finding, step: Step) -> bool:
    return any(
        one.remembered and one.roles == (step.role,) and step[one.by] == one.value for one in finding.candidates
    )


def to_remember(step: Step) -> tuple[str, str] | None:
    """What a step says of a customer's files: the key of a candidate, and the role; None for another mend."""
    if step.mend != "assign-role":
        return None
    for by in ("ink", "colour", "layer"):
        if step[by]:
            return Candidate(by, step[by], ()).key, str(step["role"])
    return None


register(Mend(
    id="assign-role", label="Make {what} the {role}", answers=("line.missing", "line.none", "ink.unknown"),
    touches=frozenset([Facet.PAINT, Facet.NAMES, Facet.ART, Facet.GEOMETRY, Facet.LOOK]), settings=SETTINGS, say=_say,
    do=_do, offer=_offer, safe=False, order=8, reveals=True, settled=_settled
))
