"""Drops contours that lie on another one of their role: the blade would go over the same path twice."""

from collections.abc import Sequence

import numpy as np

from horismos.checking.measuring.outlines import LineShape, Outline
from horismos.mending.engine.registry import MendContext
from horismos.mending.lines.shape import Reshaping, pages_of, shape_mend
from horismos.paths import Contour, bounds, flatten, length
from horismos.paths.box import grow, holds
from horismos.paths.crossings import DOUBLED_WITHIN_MM
from horismos.paths.distance import farthest_from
from horismos.roles import LineRole
from horismos.words import plural

FINE_MM = 0.005
STEP_MM = 0.2


def _find(before: MendContext) -> Reshaping:
    made = Reshaping(moved_mm=DOUBLED_WITHIN_MM)
    for shape, roles in pages_of(before):
        for outline in _doubles(shape, roles):
            made.changes[outline] = []
            made.count("contours")
            made.count("length_mm", round(length(outline.contour), 3))
        for outline, rest in _trimmed(shape, roles, made):
            made.changes[outline] = [rest]
            made.count("stretches")
            made.count("length_mm", round(length(outline.contour) - length(rest), 3))
    return made


def _doubles(shape: LineShape, roles: Sequence[LineRole]) -> list[Outline]:
    """Outlines all of which lies on another one that stays; of two alike the later one goes."""
    every = shape.everything
    pairs = {frozenset((s.a, s.b)) for s in shape.doubled if s.a != s.b and every[s.a].role in roles}
    gone: set[int] = set()
    for pair in sorted(map(sorted, pairs)):
        one, other = sorted(pair, key=lambda i: (length(every[i].contour), -i))
        if gone.isdisjoint(pair) and _lies_on(every[one].contour, every[other].contour):
            gone.add(one)
    return [every[i] for i in sorted(gone)]


def _lies_on(one: Contour, other: Contour) -> bool:
    if not holds(grow(bounds(other), DOUBLED_WITHIN_MM), bounds(one)):
        return False
    return farthest_from([flatten(one, FINE_MM)], [flatten(other, FINE_MM)], STEP_MM) <= DOUBLED_WITHIN_MM


def _trimmed(
    shape: LineShape, roles: Sequence[LineRole], made: Reshaping
) -> list[tuple[Outline, Contour]]:
    """Open outlines with an end that runs along another one, and what is left of each without it."""
    every = shape.everything
    out: list[tuple[Outline, Contour]] = []
    for number, outline in enumerate(every):
        mates = {s.a if s.b == number else s.b for s in shape.doubled if number in (s.a, s.b)} - {number}
        mates = {i for i in mates if every[i] not in made.changes}
        if outline.role not in roles or outline in made.changes or outline.contour.loops or not mates:
            continue
        rest = _without_ends(outline.contour, [every[i].contour for i in mates])
        if rest is not None and not any(every[i] is o for i in mates for o, _ in out):
            out.append((outline, rest))
    return out


def _without_ends(contour: Contour, others: list[Contour]) -> Contour | None:
    """The contour without the whole segments at its ends that lie on others; None where there are none."""
    free = [
        not any(_lies_on(Contour(contour.segments[i : i + 1], contour.straight[i : i + 1], False), o) for o in others)
        for i in range(len(contour.segments))
    ]
    kept = np.flatnonzero(free)
    if len(kept) in (0, len(free)):
        return None
    part = slice(int(kept[0]), int(kept[-1]) + 1)
    return Contour(contour.segments[part], contour.straight[part], False)


def _words(before: MendContext, made: Reshaping) -> str:
    whole, ends = int(made.counts.get("contours", 0)), int(made.counts.get("stretches", 0))
    lie = "lies" if whole == 1 else "lie"
    parts = [f"{plural(whole, 'contour')} of the {before.step.role_words} that {lie} on another"] * bool(whole)
    parts = parts + [f"the doubled ends of {plural(ends, 'open line')}"] * bool(ends)
    return f"Drops {' and '.join(parts)}, {made.counts['length_mm']:.1f} mm in all. What is cut stays the same."


shape_mend(
    "drop-doubled", "Drop what is doubled in the {role}", ("line.doubled",), _find, _words,
    lambda before: f"No contour of the {before.step.role_words} lies wholly on another; what overlaps in part is "
                   "left to a person.",
    safe=True, order=31,
)
