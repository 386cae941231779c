"""What lies at a place of the page, the topmost first, and what can be done with just that."""

import contextlib
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np
import shapely

from horismos.artwork.extent import bounds_of
from horismos.artwork.lines import Line
from horismos.artwork.model import ImageObject, PaintedObject, PathObject
from horismos.artwork.paints import kind_of, paints_of
from horismos.checking.engine.findings import Candidate
from horismos.checking.inks.colours import colour_of
from horismos.errors import HorismosError
from horismos.formats.svg import svg_path
from horismos.mending import Step, step
from horismos.mending.art.take_out import rounded, with_box
from horismos.paths import Contour, bounds, flatten, length, signed_area
from horismos.paths.box import Bounds, grow
from horismos.roles import InkRole, LineRole
from horismos.words import plural
from horismos.workflow.case import Case
from horismos.workflow.showing.findings import MendShown, mend_shown

__all__ = ["ThingShown", "pointed_at"]

MOST_THINGS = 12
FINE_MM = 0.02
WHITE = InkRole.WHITE


@dataclass(frozen=True)
class ThingShown:
    """Something at a place: what it is, in words; its box and its outline in mm; and the mends that take it alone.

    ``kind`` is contour, path, text, image or shading; ``role`` that of a line. ``alike`` says what else is drawn so.
    """

    kind: str
    words: str
    alike: str
    role: str | None
    box: tuple[float, ...]
    outline: str
    mends: tuple[MendShown, ...]


def pointed_at(case: Case, at: tuple[float, float], within: float) -> tuple[ThingShown, ...]:
    """What lies at a place in mm; lines count from ``within`` mm on, and contours whose inside it is."""
    by, inside, around = _contours(case, at, within)
    return tuple([*by, *inside, *_objects(case, at, within), *around][:MOST_THINGS])


def _shown(steps: Iterable[Step]) -> tuple[MendShown, ...]:
    return tuple(mend_shown(one) for one in steps)


# -- contours of lines -----------------------------------------------------------------------------


def _contours(case: Case, at: tuple[float, float], within: float) -> list[list[ThingShown]]:
    """The contours that run by a place, the inner ones round it, and the others round it, the smallest first."""
    x, y = at
    found: list[list[tuple[float, ThingShown]]] = [[], [], []]
    every = [(line, k) for line in case.lines for k in line.contours if len(k.segments)]
    for line, contour in every:
        box = grow(bounds(contour), within)
        if not (box[0] <= x <= box[2] and box[1] <= y <= box[3]):
            continue
        drawn = shapely.LineString(flatten(contour, FINE_MM))
        far = float(drawn.distance(shapely.Point(at)))
        area = abs(signed_area(contour)) if contour.loops else 0.0
        around = contour.loops and shapely.Polygon(drawn.coords).contains(shapely.Point(at))
        if far <= within or around:
            same = [k for other, k in every if other.roles == line.roles and k is not contour and k.loops]
            inner = _inner(contour, same)
            which = 0 if far <= within else 1 if inner else 2
            found[which].append((far if which == 0 else area, _contour(case, line, contour, inner)))
    return [[thing for _, thing in sorted(some, key=lambda pair: pair[0])] for some in found]


def _inner(contour: Contour, others: list[Contour]) -> bool:
    """Whether a contour lies inside an odd number of others of its role."""
    if not contour.loops:
        return False
    point = shapely.Point(_inside(contour))
    return bool(sum(shapely.Polygon(flatten(k, FINE_MM)).contains(point) for k in others) % 2 == 1)


def _inside(contour: Contour) -> tuple[float, float]:
    """A point inside a closed contour, in mm."""
    point = shapely.make_valid(shapely.Polygon(flatten(contour, FINE_MM))).representative_point()
    return float(point.x), float(point.y)


def _contour(case: Case, line: Line, contour: Contour, inner: bool) -> ThingShown:
    role = line.role
    words = role.words if role else "line of unclear role"
    area = abs(signed_area(contour)) if contour.loops else 0.0
    size = f"{area:.1f} mm²" if contour.loops else "open"
    steps: list[Step] = []
    if role is not None:
        if contour.loops:
            point = [[round(v, 3) for v in _inside(contour)]]
            mend = "drop-inner" if inner else "drop-leftovers"
            more = {} if inner else {"below_mm2": max(round(area + 0.01, 2), 0.01)}
            steps += _possible([(mend, {"role": role.value, "at": point, **more})])
        steps += [step(name, role=role.value) for name in ("smooth", "round-corners")]
    if line.ink:
        names = [case.destination.name_of(other) for other in LineRole if other is not role]
        steps += _possible([("rename", {"ink": line.ink, "to": name}) for name in names])
    return ThingShown(
        "contour", f"{'Inner contour' if inner else 'Contour'} of the {words}: {size}, {length(contour):.1f} mm long",
        f"{plural(contour.node_count, 'node')}", role.value if role else None,
        tuple(round(v, 3) for v in bounds(contour)), svg_path([contour]), _shown(steps),
    )


# -- the art ---------------------------------------------------------------------------------------


def _objects(case: Case, at: tuple[float, float], within: float) -> Iterator[ThingShown]:
    taken = {line.index for line in case.lines if line.takes_all}
    for i in reversed(range(len(case.page.objects))):
        obj = case.page.objects[i]
        box = bounds_of(case.page, obj) if i not in taken and obj.state.visible else None
        if box is not None and _is_at(case, obj, box, at, within):
            yield _object(case, i, box, at, taken)


def _is_at(case: Case, obj: PaintedObject, box: Bounds, at: tuple[float, float], within: float) -> bool:
    x, y = at
    x0, y0, x1, y1 = grow(box, within if isinstance(obj, PathObject) and obj.strokes else 0.0)
    if not (x0 <= x <= x1 and y0 <= y <= y1):
        return False
    if not isinstance(obj, PathObject):
        return True
    contours = case.page.contours(obj)
    if sum(k.node_count for k in contours) > 20_000:
        return True
    point = shapely.Point(at)
    reach = max(within, obj.state.line_width * abs(np.linalg.det(np.reshape(obj.state.ctm[:4], (2, 2)))) ** 0.5 / 2)
    if obj.strokes and any(shapely.LineString(flatten(k, FINE_MM)).distance(point) <= reach for k in contours):
        return True
    rings = (shapely.Polygon(flatten(k, FINE_MM)) for k in contours if len(k.segments) > 1)
    inside = sum(ring.contains(point) for ring in rings)
    return bool(obj.fills and (inside % 2 == 1 if obj.operator.endswith("*") else inside > 0))


def _object(case: Case, i: int, box: Bounds, at: tuple[float, float], taken: set[int]) -> ThingShown:
    obj = case.page.objects[i]
    kind = kind_of(obj)
    paints = list(dict.fromkeys(paint for paint, _ in paints_of(obj)))
    colours = [c for paint in paints if (c := colour_of(paint)) is not None]
    layer = case.artwork.layers[obj.state.layers[-1]].name if obj.state.layers else ""
    alike = [_alike(case, one, taken) for one in colours] if not isinstance(obj, ImageObject) else []
    where = f", on the layer “{layer}”" if layer else ""
    family = paints[0].family.removeprefix("Device") if paints else ""
    said = " and ".join(one.words.removeprefix("the ") for one in colours) or family
    outline = svg_path(case.page.contours(obj)) if isinstance(obj, PathObject) else ""
    return ThingShown(
        kind, f"{_called(obj)} in {said}{where}", " · ".join(alike), None, tuple(round(v, 3) for v in box), outline,
        _shown([*_steps(case, obj, colours, layer, at), *_out(case, i)]),
    )


def _called(obj: PaintedObject) -> str:
    """What an object is; a path that only strokes is one."""
    return "Stroke" if isinstance(obj, PathObject) and obj.strokes and not obj.fills else WORDS[kind_of(obj)]


WORDS = {"path": "Shape", "text": "Text", "image": "Picture", "shading": "Shading"}


def _alike(case: Case, colour: Candidate, taken: set[int]) -> str:
    """How many objects are drawn in the same colour."""
    count = sum(
        any((found := colour_of(paint)) is not None and found.key == colour.key for paint, _ in paints_of(obj))
        for i, obj in enumerate(case.page.objects) if i not in taken
    )
    return f"{plural(count, 'object')} in {colour.words}"


def _steps(
    case: Case, obj: PaintedObject, colours: list[Candidate], layer: str, at: tuple[float, float]
) -> Iterator[Step]:
    """What can be done with an object: its colour or its layer made a line, drawn in another ink; white under it."""
    wanted = [role for role in case.order.roles or () if not any(line.role is role for line in case.lines)]
    roles = [*wanted, *(role for role in LineRole if role not in wanted)]
    made: list[tuple[str, dict[str, object]]] = []
    if isinstance(obj, PathObject):
        made += [("assign-role", {"role": role.value, one.by: one.value}) for one in colours[:1] for role in roles]
        made += [("assign-role", {"role": role.value, "layer": layer}) for role in roles if layer]
    if not isinstance(obj, ImageObject):
        white = case.destination.names.get(WHITE)
        made += [("recolour", {one.by: one.value, "to": white}) for one in colours[:1] if white]
        made += [("spot-to-process", {"ink": one.value}) for one in colours if one.by == "ink"]
    elif not obj.masked:
        made.append(("clear-ground", {}))
    made.append(("build-white", {"at": [[round(at[0], 3), round(at[1], 3)]]}))
    yield from _possible(made)


def _out(case: Case, i: int) -> Iterator[Step]:
    """The step that takes an object out of the art; none for one that is a line in part."""
    lines = {line.index for line in case.lines}
    box = bounds_of(case.page, case.page.objects[i])
    if i in lines or box is None:
        return
    x0, y0, x1, y1 = rounded(box)
    which = with_box(case.page, box, lines).index(i) + 1
    yield from _possible([("take-out", {"at": [[x0, y0], [x1, y1]], "which": which, "page": case.page.number})])


def _possible(made: Iterable[tuple[str, dict[str, object]]]) -> Iterator[Step]:
    """The steps whose settings lie in their ranges."""
    for name, settings in made:
        with contextlib.suppress(HorismosError):
            yield step(name, **settings)
