"""Lines in disguise: what is drawn in an ordinary colour, or under a name in nobody's table, and yet is meant as a cut.

Nothing is taken for a line here: candidates are named, the surest first, with what speaks for each, and a person says.
"""

from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property
from typing import Any

import numpy as np
import shapely

from horismos.artwork.extent import bounds_of
from horismos.artwork.model import PROCESS_INKS, Paint, PaintedObject, PathObject
from horismos.artwork.paints import paints_of
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import MOST_PLACES, Candidate
from horismos.names import plain_words, recognise, roles_in_words
from horismos.paths import Contour, flatten, union_bounds
from horismos.paths.areas import area_of
from horismos.paths.box import Bounds
from horismos.paths.matrix import size_of
from horismos.roles import LineRole

__all__ = ["ANY_ROLE", "candidates"]

HAIRLINE_MM = 0.36
"""[ours] 1 pt: a stroke that is no wider was not drawn to be seen."""
MOST_OBJECTS, MOST_NODES = 400, 20_000
"""[ours] more in one colour are a drawing."""
COVERED = 0.9
"""[ours] of the art's area that lies inside what goes round it."""
HALF = 0.5
"""[ours] of the box of the art that it has to be as large as: art may run on far beyond a cut."""
ON_EDGE_MM = 0.1
"""[ours] so far beyond a line may the edge lie that it was drawn on."""
ENOUGH = 0.6
"""[ours] less speaks for a line than against it."""
WEIGHTS = {
    "words": 0.6, "common words": 0.4, "stroke": 0.1, "hairline": 0.15, "closed": 0.1, "round": 0.25, "alone": 0.15,
    "spot": 0.15, "again": 0.6, "remembered": 1.0,
}
"""[ours] how much each says."""
COMMON = frozenset(["outline", "contour", "kontur", "contorno", "obrys", "kontura", "score", "fold"])
"""[ours] words that draughtsmen use as well."""
WORDS_OF = {
    "stroke": "a stroke only", "hairline": "as thin as a hair", "closed": "closed",
    "round": "goes round the art or along its edge", "alone": "nothing else is in it",
    "again": "draws all of the art once more",
}
AGAIN = 0.97
"""[ours] of both areas that has to be common where one colour draws the art once more."""
ANY_ROLE = tuple(LineRole)
"""What nothing says the role of may be any."""


def candidates(c: Context) -> list[Candidate]:
    """What of a page may be a line in disguise, the surest first."""
    key = ("candidates", c.said_before)
    if key not in c.page.kept:
        c.page.kept[key] = _without_doubles(sorted(_judged(c), key=lambda one: -one.sure))
    found: list[Candidate] = c.page.kept[key]
    return found


def _without_doubles(found: Sequence[Candidate]) -> list[Candidate]:
    """Each place once: what is found by its ink is not said again by its layer."""
    out: list[Candidate] = []
    for one in found:
        same = (o for o in out if o.by != one.by and o.count == one.count and o.where[:20] == one.where[:20])
        if not any(same):
            out.append(one)
    return out


class _Drawn:
    """What a page paints beside its lines, by spot ink and flat colour, and by layers that are called like a line."""

    def __init__(self, c: Context) -> None:
        self.c = c
        taken = {line.index for line in c.lines}
        self.objects: dict[int, PaintedObject] = {i: o for i, o in enumerate(c.page.objects) if i not in taken}
        self.users: dict[tuple[str, Any], list[int]] = {}
        spots = {ink.name for ink in c.inks if ink.kind == "spot" and ink.role is None}
        named = {i: layer.name for i, layer in enumerate(c.artwork.layers) if _says_line(c, layer.name)}
        for i, obj in self.objects.items():
            keys = {key for paint, _ in paints_of(obj) if (key := _key(paint, spots)) is not None}
            for key in keys | {("layer", named[number]) for number in obj.state.layers if number in named}:
                self.users.setdefault(key, []).append(i)

    @cached_property
    def boxes(self) -> dict[int, Bounds]:
        """Where each object lies, in mm."""
        return {i: box for i, o in self.objects.items() if (box := bounds_of(self.c.page, o)) is not None}


    def covered(self, indices: Sequence[int]) -> shapely.Geometry:
        """What objects cover, as areas; by their boxes where they are no paths, or have very many nodes."""
        areas, nodes = [], 0
        for i in indices:
            obj = self.objects[i]
            contours = self.c.page.contours(obj) if isinstance(obj, PathObject) else []
            nodes += sum(k.node_count for k in contours)
            if contours and nodes <= MOST_NODES:
                areas.append(shapely.make_valid(area_of([k for k in contours if len(k.segments) > 1], 0.05)))
            elif i in self.boxes:
                areas.append(shapely.box(*self.boxes[i]))
        return shapely.union_all(areas)


def _judged(c: Context) -> Iterator[Candidate]:
    drawn = _Drawn(c)
    for (by, value), users in drawn.users.items():
        made = _judge(drawn, by, value, users)
        if made is not None:
            yield made


def _says_line(c: Context, name: str) -> bool:
    return bool(roles_in_words(name)) or _by_name(c, name) != ()


def _by_name(c: Context, name: str) -> tuple[LineRole, ...]:
    """The roles that a name says in the trade's English, which a layer may say as well as an ink."""
    found = recognise(name, c.destination)
    roles = tuple(role for role in found.roles if isinstance(role, LineRole)) if found else ()
    return roles if found and found.how not in ("typing error", "look-alike letters") else ()


def _key(paint: Paint, spots: set[str]) -> tuple[str, Any] | None:
    used = [(ink, tint) for ink, tint in paint.inks if tint > 0]
    if len(used) == 1 and used[0][0] in spots:
        return "ink", used[0][0]
    if paint.family == "Pattern" or paint.white:
        return None
    if paint.additive:
        return ("colour", tuple(round(v, 4) for v in paint.values)) if len(paint.values) == 3 else None
    tints = dict(paint.inks)
    if used and set(tints) <= set(PROCESS_INKS):
        return "colour", tuple(round(tints.get(ink, 0.0), 4) for ink in PROCESS_INKS)
    return None


def _judge(drawn: _Drawn, by: str, value: Any, users: Sequence[int]) -> Candidate | None:
    """One group with what speaks for it; None where too little does."""
    c = drawn.c
    paths = [o for i in users if isinstance(o := drawn.objects[i], PathObject)]
    name = value if isinstance(value, str) else ""
    roles = roles_in_words(name) or (_by_name(c, name) if by == "layer" else ()) if name else ()
    said: dict[str, str] = {}
    if roles:
        common = set(plain_words(name).split()) & COMMON
        said["common words" if common else "words"] = f"“{name}” is a word of the trade"
    if paths and all(o.strokes and not o.fills for o in paths):
        said["stroke"] = WORDS_OF["stroke"]
        if all(_width(o) <= HAIRLINE_MM for o in paths):
            said["hairline"] = WORDS_OF["hairline"]
    if by != "layer" and len(paths) == len(users):
        said["alone"] = WORDS_OF["alone"]
    remembered = dict(c.said_before).get(Candidate(by, value, ()).key)
    if remembered:
        roles, said["remembered"] = (LineRole(remembered),), "this customer's lines were drawn so before"
    again = not roles and by == "colour" and len(paths) == len(users) and _draws_again(drawn, users)
    if again:
        said["again"] = WORDS_OF["again"]
    drawn_as_line = {"stroke", "alone"} <= set(said) and (by == "ink" or "hairline" in said)
    if not paths or not (roles or drawn_as_line or again):
        return None
    contours = [] if len(paths) > MOST_OBJECTS else [k for o in paths for k in c.page.contours(o)]
    if contours and sum(k.node_count for k in contours) <= MOST_NODES:
        if all(k.loops for k in contours):
            said["closed"] = WORDS_OF["closed"]
        if _goes_round(contours, {i: box for i, box in drawn.boxes.items() if i not in set(users)}, drawn):
            said["round"] = WORDS_OF["round"]
    sure = sum(WEIGHTS[one] for one in said) + (WEIGHTS["spot"] if by == "ink" else 0)
    if sure < ENOUGH or not (roles or again or {"closed", "round"} <= set(said)):
        return None
    boxes = [drawn.boxes[i] for i in users if i in drawn.boxes]
    where = tuple(sorted(boxes, key=lambda b: -(b[2] - b[0]) * (b[3] - b[1]))[:MOST_PLACES])
    return Candidate(
        by, value, roles or ANY_ROLE, tuple(said.values()), min(sure, 1.0), len(paths),
        where, bool(remembered),
    )


def _draws_again(drawn: _Drawn, users: Sequence[int]) -> bool:
    """Whether some filled paths cover just what all the other art covers, as a silhouette that was copied does."""
    own = set(users)
    others = [
        i for i, o in drawn.objects.items()
        if i not in own and o.state.visible and (not isinstance(o, PathObject) or o.fills)
    ]
    if not others or len(users) + len(others) > MOST_OBJECTS:
        return False
    if not all(isinstance(o := drawn.objects[i], PathObject) and o.fills for i in users):
        return False
    box, rest = (union_bounds(drawn.boxes[i] for i in of if i in drawn.boxes) for of in (users, others))
    if box is None or rest is None or max(abs(a - b) for a, b in zip(box, rest, strict=True)) > ON_EDGE_MM:
        return False
    mine, theirs = drawn.covered(users), drawn.covered(others)
    both = shapely.intersection(mine, theirs).area
    return bool(both > 0 and both >= AGAIN * max(mine.area, theirs.area))


def _holds(area: shapely.Geometry, c: Context, obj: PaintedObject) -> bool:
    """Whether all of what a path draws lies in an area, or on its edge."""
    contours = c.page.contours(obj) if isinstance(obj, PathObject) else []
    if not contours or sum(k.node_count for k in contours) > MOST_NODES:
        return False
    points = np.concatenate([flatten(k, 0.1) for k in contours])
    return bool(shapely.contains_xy(shapely.buffer(area, ON_EDGE_MM), points[:, 0], points[:, 1]).all())


def _width(obj: PathObject) -> float:
    return obj.state.line_width * size_of(obj.state.ctm)


def _goes_round(contours: Sequence[Contour], others: Mapping[int, Bounds], drawn: _Drawn) -> bool:
    """Whether the area inside the contours holds nearly all of the art, by the middles of its objects' boxes.

    The middle of a word lies between its letters: what is drawn of paths is held where all its points are.
    """
    rings = [shapely.Polygon(flatten(k, 0.1)) for k in contours if k.loops and len(k.segments)]
    if not rings or not others:
        return False
    area = shapely.union_all(shapely.make_valid(np.array(rings, dtype=object)))
    boxes = np.array(list(others.values()))
    size = np.maximum((boxes[:, 2] - boxes[:, 0]) * (boxes[:, 3] - boxes[:, 1]), 1e-6)
    shapely.prepare(area)
    inside = shapely.contains_xy(area, (boxes[:, 0] + boxes[:, 2]) / 2, (boxes[:, 1] + boxes[:, 3]) / 2)
    for k, i in enumerate(others):
        if not inside[k] and size[k] > size.sum() * (1 - COVERED):
            inside[k] = _holds(area, drawn.c, drawn.objects[i])
    x0, y0, x1, y1 = area.bounds
    art = boxes[:, 0].min(), boxes[:, 1].min(), boxes[:, 2].max(), boxes[:, 3].max()
    wide = (x1 - x0) * (y1 - y0) >= (art[2] - art[0]) * (art[3] - art[1]) * HALF
    return bool(wide and size[inside].sum() >= COVERED * size.sum())
