"""What a corrected file changed, as a list that a person reads: words, and where it is."""

from dataclasses import dataclass
from enum import StrEnum

from horismos.comparing.files import FilesApart
from horismos.comparing.line_moves import RoleMoves
from horismos.paths.box import Bounds
from horismos.roles import LineRole
from horismos.words import plural

__all__ = ["ChangeKind", "ChangeShown", "changes_shown"]

MOST_PLACES = 200


class ChangeKind(StrEnum):
    """What of a file is another."""

    SIZE = "size"
    PAGES = "pages"
    ART = "art"
    LINES = "lines"
    INKS = "inks"
    LAYERS = "layers"


@dataclass(frozen=True)
class ChangeShown:
    """One change in words; ``where`` are boxes in mm from the lower left of the trim, the largest first."""

    kind: ChangeKind
    words: str
    where: tuple[tuple[float, ...], ...] = ()


SAYS = {
    "added": "{count} new", "removed": "{count} gone", "moved": "{count} moved", "painted": "{count} drawn otherwise",
}


def changes_shown(apart: FilesApart) -> tuple[ChangeShown, ...]:
    """The changes of a file, in the order in which they weigh; none where there is none."""
    out = [*_shape(apart)]
    if apart.art.areas_mm:
        count = plural(len(apart.art.areas_mm), "place")
        out.append(ChangeShown(
            ChangeKind.ART, f"The art differs in {count}, by up to ΔE {apart.art.delta_e_max:.1f}",
            _boxes(apart.art.areas_mm),
        ))
    out += [_line(name, moves, apart) for name, moves in apart.lines.by_role.items()]
    for kind, names in ((ChangeKind.INKS, apart.inks), (ChangeKind.LAYERS, apart.layers)):
        one = "ink" if kind is ChangeKind.INKS else "layer"
        for words, listed in (("New", names.added), ("No longer there:", names.removed)):
            if listed:
                told = ", ".join(f"“{name}”" for name in listed)
                out.append(ChangeShown(kind, f"{words} {plural(len(listed), one).split(' ', 1)[1]} {told}"))
    return tuple(out)


def _shape(apart: FilesApart) -> list[ChangeShown]:
    (was_w, was_h), (w, h) = apart.sizes_mm
    out = []
    if max(abs(was_w - w), abs(was_h - h)) > 0.01:
        out.append(ChangeShown(ChangeKind.SIZE, f"{was_w:.2f} × {was_h:.2f} mm before, {w:.2f} × {h:.2f} mm now"))
    if apart.pages[0] != apart.pages[1]:
        before, now = apart.pages
        out.append(ChangeShown(
            ChangeKind.PAGES, f"{plural(before, 'page')} before, {now} now: nothing else can be compared"
        ))
    return out


def _line(name: str, moves: RoleMoves, apart: FilesApart) -> ChangeShown:
    told = [words.format(count=count) for what, words in SAYS.items() if (count := getattr(moves, what))]
    far = f", by up to {apart.lines.moved_mm:.2f} mm" if moves.moved else ""
    called = LineRole(name).words if name in set(LineRole) else f"line in “{name}”"
    boxes = _boxes([box for role, _, box in apart.lines.places if role == name])
    return ChangeShown(ChangeKind.LINES, f"{called[0].upper()}{called[1:]}: {', '.join(told)}{far}", boxes)


def _boxes(of: tuple[Bounds, ...] | list[Bounds]) -> tuple[tuple[float, ...], ...]:
    largest = sorted(of, key=lambda box: -(box[2] - box[0]) * (box[3] - box[1]))[:MOST_PLACES]
    return tuple(tuple(round(side, 3) for side in box) for box in largest)
