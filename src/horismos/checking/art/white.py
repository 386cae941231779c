"""Checks of white ink: there where it is wanted, pulled in under the colour, not knocking out."""

from collections.abc import Iterator

import numpy as np

from horismos.artwork.model import PaintedObject, PathObject
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import MOST_PLACES, Hit, Severity
from horismos.checking.engine.rules import rule
from horismos.checking.measuring.choke import margins
from horismos.checking.measuring.whites import knocking_out
from horismos.comparing.facets import Facet
from horismos.materials import Ground
from horismos.paths.box import Bounds
from horismos.roles import InkRole
from horismos.words import are, plural


def _white(c: Context) -> list[PaintedObject]:
    _, members = c.special.get(InkRole.WHITE, ((), ()))
    return [c.page.objects[i] for i in members if c.page.objects[i].state.prints]


@rule("white.missing", "stop", Facet.ART, Facet.NAMES, unit="inks", scope="piece")
def missing(c: Context) -> Iterator[Hit]:
    """Clear or dark material without white ink where the order wants it."""
    ground = c.material.ground if c.material else Ground.WHITE
    wanted = c.order.white if c.order.white is not None else ground.wants_white
    if wanted and not _white(c):
        on = f"{c.material.title} is {ground}" if c.material and ground.wants_white else "White ink was ordered"
        yield Hit(
            f"{on}; the file has no white. The colours will look {'through' if ground is Ground.CLEAR else 'dull'} "
            f"without “{c.destination.name_of(InkRole.WHITE)}” under them.",
            measured=1, where=[c.page.boxes.trim],
        )


@rule("white.choke", "look", Facet.ART, Facet.NAMES, limit=0.2, unit="mm", scope="piece")
def choke(c: Context) -> Iterator[Hit]:
    """White not pulled in under the colour, so that it peeps out where the two do not meet exactly."""
    white = _white(c)
    drawn = [o for o in white if isinstance(o, PathObject) and o.fills and o.state.clip < 0]
    others = len(white) - len(drawn)
    if others:
        yield Hit(
            f"How far {plural(others, 'white object')} {are(others)} pulled in could not be measured: pictures, texts, "
            "strokes and what is clipped are left out. Look at the white alone.",
            measured=None, severity=Severity.LOOK, subject="unmeasured",
            where=[c.place(o) for o in white if o not in drawn][:MOST_PLACES],
        )
    contours = [contour for o in drawn for contour in c.page.contours(o)]
    if not contours:
        return
    worst, length, places = np.inf, 0.0, []
    for edge in margins(c.view, contours, c.limit):
        if edge.short.any():
            least = int(np.where(edge.short, edge.margin, np.inf).argmin())
            x, y = edge.profile.points[least]
            places.append((float(edge.margin[least]), (float(x) - 1, float(y) - 1, float(x) + 1, float(y) + 1)))
            worst = min(worst, float(edge.margin[least]))
            length += float(edge.profile.weight[edge.short].sum())
    if places:
        places.sort(key=lambda place: place[0])
        says = f"peeps out by {-worst:.2f} mm" if worst < 0 else f"is pulled in by only {worst:.2f} mm"
        yield Hit(
            f"The white {says} at the worst place; {c.limit:g} mm under the colour are wanted. "
            "Where the two do not meet exactly, a white edge shows.",
            measured=worst, count=len(places), where=[box for _, box in places[:MOST_PLACES]],
            detail=f"{length:.0f} mm of the white's edge is too near to the edge of the colour.",
        )


@rule("white.overprint", "stop", Facet.ART, Facet.NAMES)
def overprint(c: Context) -> Iterator[Hit]:
    """White knocks out colour, or colour knocks out white: what is painted later has to overprint."""
    _, members = c.special.get(InkRole.WHITE, ((), ()))
    if not members:
        return
    found: dict[str, list[Bounds]] = {}
    for i, box in knocking_out(c.page, members, {line.index for line in c.lines if line.takes_all}):
        found.setdefault("white knocks out" if i in members else "colour knocks out", []).append(box)
    for what, places in found.items():
        over, below = ("The white", "the colour") if what.startswith("white") else ("The colour", "the white")
        yield Hit(
            f"{over} does not overprint and knocks out {below} below it: only one of the two is printed there.",
            measured=len(places), count=len(places), where=places[:MOST_PLACES], subject=what,
        )

