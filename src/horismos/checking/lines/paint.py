"""Checks of how lines are painted: a hairline stroke at 100 % of one ink, whole, overprinting, not transparent."""

from collections.abc import Callable, Iterator

from horismos.artwork.lines import FULL, Line
from horismos.artwork.model import ImageObject, PathObject, TextObject
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import Hit
from horismos.checking.engine.rules import rule
from horismos.comparing.facets import Facet
from horismos.roles import LineRole
from horismos.units import HAIRLINE_MM


def _by_role(c: Context, test: Callable[[Line], bool]) -> Iterator[tuple[str, LineRole | None, list[Line]]]:
    """The paths of each role that a test finds, with the role in words."""
    groups: dict[tuple[LineRole, ...], list[Line]] = {}
    for line in c.lines:
        if isinstance(line.object, PathObject) and test(line):
            groups.setdefault(line.roles, []).append(line)
    for roles, lines in groups.items():
        yield " or ".join(role.words for role in roles), lines[0].role, lines


def _of(role: LineRole | None) -> str:
    return role.value if role else ""


@rule("line.filled", "stop", Facet.NAMES, Facet.PAINT, Facet.GEOMETRY)
def filled(c: Context) -> Iterator[Hit]:
    """A line ink used to fill."""
    for words, role, lines in _by_role(c, lambda line: line.fills):
        yield Hit(
            f"The {words} is filled. A cutter follows strokes; a fill prints as a colour.",
            measured=len(lines), count=len(lines), where=c.places(lines),
            subject=_of(role),
        )


@rule("line.not-vector", "stop", Facet.NAMES, Facet.PAINT, Facet.GEOMETRY)
def not_vector(c: Context) -> Iterator[Hit]:
    """A line ink in an image, a shading or a pattern: nothing there can be followed."""
    found = [line for line in c.lines if not isinstance(line.object, PathObject | TextObject)]
    found += [
        line for line in c.lines
        if isinstance(line.object, PathObject) and "Pattern" in _families(line)
    ]
    if found:
        inks = ", ".join(sorted({f"“{line.ink}”" for line in found}))
        kind = "an image" if isinstance(found[0].object, ImageObject) else "a shading or pattern"
        yield Hit(
            f"{inks} is used in {kind}. A cutter needs a drawn line.",
            measured=len(found), count=len(found), where=c.places(found),
        )


def _families(line: Line) -> set[str]:
    state = line.object.state
    return ({state.stroke.family} if line.strokes else set()) | (
        {state.fill.family} if line.fills else set()
    )


@rule("line.text", "stop", Facet.NAMES, Facet.PAINT, Facet.GEOMETRY, unit="texts")
def text(c: Context) -> Iterator[Hit]:
    """Live text in a line ink."""
    found = [line for line in c.lines if isinstance(line.object, TextObject)]
    if found:
        yield Hit(
            f"Live text is set in “{found[0].ink}”. It has to be outlined before it can be cut.",
            measured=len(found), count=len(found), where=c.places(found),
        )


@rule("line.wide", "look", Facet.NAMES, Facet.PAINT, Facet.GEOMETRY, limit=round(HAIRLINE_MM, 4), unit="mm")
def wide(c: Context) -> Iterator[Hit]:
    """A stroke wider than a hairline."""
    for words, role, lines in _by_role(c, lambda line: round(line.width_mm, 2) > round(c.limit, 2)):
        worst = sorted(lines, key=lambda line: -line.width_mm)
        yield Hit(
            f"The {words} is drawn {worst[0].width_mm:.2f} mm wide; a hairline is wanted.",
            measured=worst[0].width_mm, count=len(lines), where=c.places(worst),
            subject=_of(role),
        )


@rule("line.tinted", "stop", Facet.NAMES, Facet.PAINT, Facet.GEOMETRY, limit=100, unit="%")
def tinted(c: Context) -> Iterator[Hit]:
    """Less than 100 % of the ink, or more than one ink."""
    for words, role, lines in _by_role(c, lambda line: line.tint < FULL or line.inks > 1):
        worst = sorted(lines, key=lambda line: line.tint)
        percent = worst[0].tint * 100
        what = (
            f"is drawn in {percent:.0f} % of its ink"
            if worst[0].tint < FULL
            else f"is drawn in {worst[0].inks} inks at once"
        )
        yield Hit(
            f"The {words} {what}; it must be 100 % of one ink.",
            measured=percent, count=len(lines), where=c.places(worst),
            subject=_of(role),
        )


@rule("line.knocks-out", "look", Facet.NAMES, Facet.PAINT, Facet.GEOMETRY)
def knocks_out(c: Context) -> Iterator[Hit]:
    """No overprint: the line leaves an unprinted hair in the art."""
    for words, role, lines in _by_role(c, lambda line: not line.overprints):
        yield Hit(
            f"The {words} does not overprint. It leaves an unprinted hair in the art below.",
            measured=len(lines), count=len(lines), where=c.places(lines),
            subject=_of(role),
        )


@rule("line.dashed", "look", Facet.NAMES, Facet.PAINT, Facet.GEOMETRY)
def dashed(c: Context) -> Iterator[Hit]:
    """A dash pattern drawn in the file: the cutter makes the perforation, not the drawing."""
    for words, role, lines in _by_role(c, lambda line: line.strokes and any(line.object.state.dash[0])):
        yield Hit(
            f"The {words} is drawn dashed. The cutter makes the perforation; it needs the whole line.",
            measured=len(lines), count=len(lines), where=c.places(lines), subject=_of(role),
        )


@rule("line.in-transparency", "stop", Facet.NAMES, Facet.PAINT, Facet.GEOMETRY)
def in_transparency(c: Context) -> Iterator[Hit]:
    """Inside a transparency group, under a soft mask, see-through or blended: a RIP that flattens loses it."""
    def touched(line: Line) -> bool:
        return line.object.state.transparent or line.object.state.group >= 0

    for words, role, lines in _by_role(c, touched):
        ways = sorted({_way(line) for line in lines})
        yield Hit(
            f"The {words} lies in transparency ({', '.join(ways)}). A RIP flattens that and loses the line.",
            measured=len(lines), count=len(lines), where=c.places(lines), subject=_of(role),
        )


def _way(line: Line) -> str:
    state = line.object.state
    if state.soft_mask:
        return "soft mask"
    if state.blend not in ("Normal", "Compatible"):
        return f"blended with {state.blend}"
    if (line.strokes and state.alpha_stroke < 1) or (line.fills and state.alpha_fill < 1):
        return "opacity"
    return "transparency group"
