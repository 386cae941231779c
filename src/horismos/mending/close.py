"""Closes contours that should close: pieces that all but meet are joined, open ends bridged."""

import pikepdf

from horismos.artwork.edit import Edit, edit_page
from horismos.artwork.lines import Line, unclosed
from horismos.artwork.model import Artwork, PathObject
from horismos.artwork.parting import clip_operator
from horismos.artwork.pathdata import path_operators
from horismos.destinations import Destination
from horismos.errors import NothingToDo
from horismos.mending.family import Family, of_role
from horismos.paths import Contour, closed
from horismos.steps import Step
from horismos.words import plural

__all__ = ["CLOSE"]


def _open(lines: list[Line], step: Step) -> list[Line]:
    found = of_role(lines, step)
    if not unclosed(found):
        raise NothingToDo(f"Every {step.role} closes already.")
    return found


def _say(artwork: Artwork, lines: list[Line], step: Step) -> str:
    found = [unclosed(page) for page in _by_page(_open(lines, step)).values()]
    chains = [joined for listed in found for joined, _ in listed]
    pieces = sum(len(joined.members) for joined in chains)
    widest = max(joined.gap_mm for joined in chains)
    joins = f", joining {plural(pieces, 'piece')}" if pieces > len(chains) else ""
    return (
        f"Closes {plural(len(chains), 'contour')}{joins}, with straight bridges of at most "
        f"{widest:.2f} mm. The rest of each contour stays where it is."
    )


def _by_page(lines: list[Line]) -> dict[int, list[Line]]:
    pages: dict[int, list[Line]] = {}
    for line in lines:
        pages.setdefault(line.page.number, []).append(line)
    return pages


def _do(
    pdf: pikepdf.Pdf, artwork: Artwork, lines: list[Line], step: Step, destination: Destination
) -> None:
    for number, listed in _by_page(_open(lines, step)).items():
        changed: dict[int, list[Contour | None]] = {}
        by_index = {line.index: line for line in listed}
        for joined, pieces in unclosed(listed):
            whole = closed(joined.contour)
            for place, (line, i) in enumerate(pieces):
                contours = changed.setdefault(line.index, list(line.contours))
                contours[i] = whole if place == 0 else None
        edits: dict[int, list[Edit]] = {}
        for index, contours in changed.items():
            line = by_index[index]
            obj = line.object
            assert isinstance(obj, PathObject)
            kept = [contour for contour in contours if contour is not None]
            edit = _redrawn(line, obj, kept)
            edits.setdefault(obj.stream, []).append(edit)
        edit_page(pdf, artwork.pages[number - 1], edits, {})


def _redrawn(line: Line, obj: PathObject, contours: list[Contour]) -> Edit:
    data = line.page.streams[obj.stream].data
    path = path_operators(contours, obj.state.ctm)
    operator = obj.operator.encode().replace(b"s", b"S").replace(b"b", b"B")
    text = b"\n" + path + b" " + operator + b" " if contours else b" "
    clip = clip_operator(data[obj.path_end : obj.end])
    if clip:
        text += data[obj.start : obj.path_end] + clip + b" n "
    return Edit(obj.start, obj.end, text)


CLOSE = Family(_say, _do)
