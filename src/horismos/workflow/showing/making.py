"""Lines while they are made: what the stage and the docket show of them."""

from dataclasses import dataclass

from horismos.formats.svg import svg_path
from horismos.making import Made, MadeLine, Make
from horismos.paths import flatten, length, signed_area
from horismos.paths.polyline_parts import parts_along

__all__ = ["InnerShown", "MadeLineShown", "MakingShown", "making_shown"]

FLATTEN_MM = 0.02


@dataclass(frozen=True, kw_only=True)
class MadeLineShown:
    """One contour: which of the make's lines it is of, from 0; path data in mm; nodes with their handles for editing.

    ``nodes`` holds x, y, the handle that comes and the one that goes, and 1 where the line turns there. ``cut`` is
    the path of a perforation's cuts alone.
    """

    line: int
    role: str
    inner: bool
    closed: bool
    path: str
    cut: str
    nodes: tuple[tuple[float, ...], ...]
    node_count: int
    length_mm: float
    area_mm2: float
    cuts: int
    ties: int
    holding: float


@dataclass(frozen=True)
class InnerShown:
    """An inner contour that was found: a place in it, its area, its path, and whether it is cut."""

    at: tuple[float, ...]
    area_mm2: float
    kept: bool
    path: str


@dataclass(frozen=True)
class MakingShown:
    """What was made, without having been put into the file. ``refused`` says why there is nothing, else empty."""

    source: str
    why: str
    words: str
    lines: tuple[MadeLineShown, ...]
    inner: tuple[InnerShown, ...]
    outline: str
    deviation_mm: float
    notes: tuple[str, ...]
    refused: str = ""


def making_shown(made: Made, wanted: Make, with_nodes: bool) -> MakingShown:
    """What the screen shows of lines; nodes only where somebody edits them."""
    return MakingShown(
        made.source, made.why, wanted.words, tuple(_line(line, with_nodes) for line in made.lines),
        tuple(InnerShown(one.at, round(one.area_mm2, 2), one.kept, one.svg) for one in made.inner),
        svg_path(made.outline), round(made.deviation_mm, 4), made.notes,
    )


def _line(line: MadeLine, with_nodes: bool) -> MadeLineShown:
    contour, pattern = line.contour, line.pattern
    return MadeLineShown(
        line=line.wanted, role=line.role.value, inner=line.inner, closed=contour.closed, path=svg_path([contour]),
        cut=_cuts(line) if pattern else "", nodes=_nodes(line) if with_nodes else (), node_count=contour.node_count,
        length_mm=round(length(contour), 2), area_mm2=round(abs(signed_area(contour)), 2) if contour.closed else 0.0,
        cuts=pattern.cuts if pattern else 0, ties=pattern.ties if pattern else 0,
        holding=round(pattern.holding, 4) if pattern else 0.0
    )


def _cuts(line: MadeLine) -> str:
    assert line.pattern is not None
    parts = parts_along(flatten(line.contour, FLATTEN_MM), line.pattern.parts)
    return "".join("M" + "L".join(f"{x:.2f} {y:.2f}" for x, y in part.tolist()) for part in parts)


def _nodes(line: MadeLine) -> tuple[tuple[float, ...], ...]:
    """Each node with both its handles; at the ends of an open line the handle that is missing lies on the node."""
    segments, closed = line.contour.segments, line.contour.closed
    count = len(segments)
    out = []
    for i in range(count + (0 if closed else 1)):
        here = segments[i, 0] if i < count else segments[-1, 3]
        comes = segments[i - 1, 2] if i or closed else here
        goes = segments[i, 1] if i < count else here
        one, other = here - comes, goes - here
        cross = abs(float(one[0] * other[1] - one[1] * other[0]))
        turns = cross > 0.02 * max(float((one @ one) ** 0.5 * (other @ other) ** 0.5), 1e-12)
        out.append((*(round(float(v), 4) for v in (*here, *comes, *goes)), float(turns)))
    return tuple(out)
