"""Checks of what lines are called, and whether they are the ones that were ordered."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

from horismos.artwork.lines import Line, inks_of_page
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import Candidate, Hit
from horismos.checking.engine.rules import rule
from horismos.checking.inks.disguised import ANY_ROLE, candidates
from horismos.comparing.facets import Facet
from horismos.names import differences, recognise
from horismos.paths.box import Bounds
from horismos.roles import InkRole, LineRole

INSIDE_FIRST = (
    LineRole.KISS_CUT, LineRole.CREASE, LineRole.PERFORATION, LineRole.THROUGH_CUT, LineRole.BACK_CUT,
)
"""[practice] a through cut lies round a kiss cut, a back cut a little outside of both."""


@rule("ink.near-name", "stop", Facet.NAMES, unit="names")
def near_name(c: Context) -> Iterator[Hit]:
    """A name that only resembles the exact one that the destination wants."""
    by_ink: dict[str, list[Line]] = {}
    for line in c.lines:
        by_ink.setdefault(line.ink, []).append(line)
    numbered = _numbered(c, by_ink)
    for ink, lines in by_ink.items():
        roles = lines[0].roles
        wanted = [c.destination.name_of(role) for role in roles]
        if ink in wanted and len(wanted) == 1:
            continue
        hit = _near(c, ink, roles, wanted, lines)
        yield replace(hit, asks=True, detail=f"{hit.detail} {TWO_TOOLS}") if ink in numbered else hit
    for spot in inks_of_page(c.artwork, c.page, c.destination):
        if spot.kind == "spot" and isinstance(spot.role, InkRole):
            exact = c.destination.name_of(spot.role)
            if spot.name != exact:
                yield _near(c, spot.name, (spot.role,), [exact], [])


SAID = {
    "certain": "“{ink}” is not {names}.", "likely": "“{ink}” is not {names}, which it most likely means.",
    "a guess": "“{ink}” is a name of no table; {names} is a guess.",
}
"""By how sure it is what a name means."""
TWO_TOOLS = "Names with different numbers may be two tools of one role: say whether they are one line."


def _numbered(c: Context, by_ink: Mapping[str, Sequence[Line]]) -> set[str]:
    """The names that say one role with different numbers behind them."""
    by_role: dict[LineRole, set[str]] = {}
    for ink, lines in by_ink.items():
        found = recognise(ink, c.destination) if ink else None
        if found is not None and found.number and lines[0].role is not None:
            by_role.setdefault(lines[0].role, set()).add(ink)
    return {ink for inks in by_role.values() if len(inks) > 1 for ink in inks}


def _near(
    c: Context, ink: str, roles: tuple[LineRole | InkRole, ...], wanted: list[str],
    lines: list[Line],
) -> Hit:
    names = " or ".join(f"“{name}”" for name in wanted)
    found = recognise(ink, c.destination) if ink else None
    if len(wanted) > 1:
        words = " or ".join(role.words for role in roles)
        message = f"“{ink}” could be {words}: say which. {c.destination.title} wants {names}."
    elif not ink:
        message = (
            f"The {roles[0].words} is drawn in process colour; only its layer says what it is. "
            f"{c.destination.title} wants the ink {names}."
        )
    else:
        prints = isinstance(roles[0], InkRole)
        verb = "would not know it for what it is" if prints else "would print it instead of cutting it"
        said = SAID[found.sure if found else "certain"].format(ink=ink, names=names)
        message = f"{said} {c.destination.title} {verb}."
    apart = "; ".join(differences(ink, wanted[0])) if ink and len(wanted) == 1 else ""
    how = found.how.capitalize() if found else "Only the layer says the role"
    sure = f" That it means {names} is {found.sure}." if found and len(wanted) == 1 else ""
    detail = f"{how}{': ' + apart if apart else ''}.{sure}"
    role = lines[0].role if lines else None
    return Hit(
        message, measured=1, count=max(1, len(lines)), where=c.places(lines), detail=detail,
        subject=role.value if role else ink, inks=[ink] if ink else [], wanted=wanted
    )


@rule("ink.same-role", "look", Facet.NAMES, unit="names", limit=1)
def same_role(c: Context) -> Iterator[Hit]:
    """Two names for one role."""
    names: dict[LineRole | InkRole, dict[str, list[Line]]] = {}
    for line in c.lines:
        if line.role is not None and line.ink:
            names.setdefault(line.role, {}).setdefault(line.ink, []).append(line)
    for special, (inks, _) in c.special.items():
        names.setdefault(special, {}).update({ink: [] for ink in inks})
    for role, found in names.items():
        if len(found) > c.limit:
            listed = " and ".join(f"“{name}”" for name in found)
            exact = c.destination.name_of(role)
            lines = [line for name, members in found.items() if name != exact for line in members]
            several = len(_numbered(c, {name: members for name, members in found.items() if members})) > 1
            yield Hit(
                f"{listed} all mean {role.words}. {c.destination.title} takes one name for it: “{exact}”.",
                measured=len(found), count=len(found), where=c.places(lines), subject=role.value,
                inks=[name for name in found if name != exact], wanted=[exact], asks=several,
                detail=TWO_TOOLS if several else "",
            )


@rule("line.missing", "stop", Facet.NAMES, Facet.ART, Facet.LAYERS, unit="roles", scope="piece")
def missing(c: Context) -> Iterator[Hit]:
    """A role that the order wants and the file does not have."""
    possible = {role for line in c.lines for role in line.roles}
    lacking = [role for role in c.order.roles or () if role not in possible]
    for role in lacking:
        found = _likeliest_first([one for one in candidates(c) if role in one.roles], role, lacking)
        perhaps = f" It may be {found[0].words}: {', '.join(found[0].why)}." if found else ""
        others = f" Or {' or '.join(one.words for one in found[1:4])}." if len(found) > 1 else ""
        yield Hit(
            f"A {role.words} was ordered; the file has none.{perhaps}", measured=1, subject=role.value,
            candidates=found, detail=others.strip(), where=found[0].where if found else ()
        )


def _likeliest_first(found: list[Candidate], role: LineRole, lacking: Sequence[LineRole]) -> list[Candidate]:
    """Where several lines without a name stand for several roles: what lies inside is what is cut first."""
    untold = sorted((one for one in found if one.roles == ANY_ROLE), key=lambda one: _area(one.where[:1]))
    place = sorted(lacking, key=INSIDE_FIRST.index).index(role)
    if len(untold) < 2 or len(untold) < len(lacking):
        return found
    return [one for one in found if one not in untold] + untold[place:] + untold[:place]


def _area(boxes: Sequence[Bounds]) -> float:
    return sum((x1 - x0) * (y1 - y0) for x0, y0, x1, y1 in boxes)


@rule("line.none", "look", Facet.NAMES, Facet.ART, Facet.LAYERS, unit="lines", scope="piece")
def none(c: Context) -> Iterator[Hit]:
    """No line at all, and nobody has said that nothing is to be cut: an order with no roles says print only."""
    if c.lines or c.order.roles is not None:
        return
    found = candidates(c)
    perhaps = f" It may be {found[0].words}: {', '.join(found[0].why)}." if found else ""
    yield Hit(
        f"Nothing here will be cut. Print only, or which cut?{perhaps}", measured=0, count=1, subject="line",
        candidates=found, where=found[0].where if found else (), asks=True
    )


@rule("line.unordered", "look", Facet.NAMES, Facet.GEOMETRY, unit="roles", scope="piece")
def unordered(c: Context) -> Iterator[Hit]:
    """A role in the file that the order does not want."""
    if c.order.roles is None:
        return
    for role, lines in c.roles.items():
        if role not in c.order.roles:
            yield Hit(
                f"The file has a {role.words} that was not ordered.", measured=1, count=len(lines),
                where=c.places(lines), subject=role.value
            )
