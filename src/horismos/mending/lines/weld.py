"""Joins contours of a role that cross or overlap, so that one clean outline goes round each piece."""

import shapely

from horismos.checking.measuring.outlines import Outline
from horismos.mending.engine.registry import Before
from horismos.mending.lines.shape import Reshaping, pages_of, shape_mend
from horismos.paths.weld import welded
from horismos.words import plural


def _groups(crossed: list[tuple[Outline, Outline]]) -> list[list[Outline]]:
    """Outlines that hang together by their crossings."""
    groups: dict[Outline, list[Outline]] = {}
    for a, b in crossed:
        one, other = groups.setdefault(a, [a]), groups.setdefault(b, [b])
        if one is not other:
            one += other
            for member in other:
                groups[member] = one
    return list({id(group): group for group in groups.values()}.values())


def _find(before: Before) -> Reshaping:
    made = Reshaping()
    for shape, roles in pages_of(before):
        every = shape.everything
        crossed = [
            (every[c.a], every[c.b]) for c in shape.crossings
            if every[c.a].role in roles and every[c.a].contour.loops and every[c.b].contour.loops
        ]
        for group in _groups(crossed):
            area = shapely.union_all([o.polygon for o in group if o.polygon is not None])
            new = welded([o.contour for o in group])
            if not new or area.is_empty:
                continue
            made.changes |= {o: new if i == 0 else [] for i, o in enumerate(group)}
            made.count("contours_before", len(group))
            made.count("contours_after", len(new))
            made.count("crossings", sum(a in group for a, _ in crossed))
    return made


def _words(before: Before, made: Reshaping) -> str:
    counts = {name: int(value) for name, value in made.counts.items()}
    return (
        f"Welds {plural(counts['contours_before'], 'contour')} of the {before.step.role_words} that cross at "
        f"{plural(counts['crossings'], 'place')} into {plural(counts['contours_after'], 'outline')} round all that "
        "they go round. The rest stays as it is."
    )


shape_mend(
    "weld", "Weld the {role}", ("line.crosses",), _find, _words,
    lambda before: f"No closed contour of the {before.step.role_words} crosses itself or another.", order=32,
)
