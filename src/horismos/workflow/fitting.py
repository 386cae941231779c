"""What would make jobs fit that fit nowhere as they are laid out: one change each, tried on one copy of each."""

import contextlib
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

from horismos.destinations import Destination
from horismos.errors import HorismosError
from horismos.materials import Material
from horismos.media import PAGE_SIZES, Media
from horismos.paths.box import Bounds, grow
from horismos.sheet import Layout, MarksRound, lay_out
from horismos.sheet.layout import How
from horismos.sheet.placing import media_for
from horismos.sheet.room import usable_box
from horismos.workflow.case import Case
from horismos.workflow.plan import SheetJob, item_of_case, seen_from

__all__ = ["Fit", "Shop", "fitting", "fitting_together"]

MOST = 4
"""[ours] so many are offered: more are no help."""


@dataclass(frozen=True)
class Shop:
    """What a shop could lay a job out on otherwise: other destinations, materials by id, and media of its material."""

    destinations: tuple[Destination, ...] = ()
    materials: tuple[tuple[str, Material], ...] = ()
    media: tuple[Media, ...] = ()


@dataclass(frozen=True)
class Fit:
    """A change of a job or a shared sheet, as the keys that it sets, by which it fits; what a button for it says."""

    words: str
    change: Mapping[str, Any]


@dataclass(frozen=True)
class _Laid:
    """What is laid out, and how: of one job or of several."""

    cases: Sequence[Case]
    layout: Layout
    goes: Destination
    on: Material


@dataclass(frozen=True)
class _Try:
    words: str
    change: Mapping[str, Any]
    layout: Layout
    destination: Destination
    material: Material
    kind: str = ""
    """What it changes, of which the first that does is enough: a larger sheet, media of the Shelf, a wider material."""


def fitting(case: Case, shop: Shop) -> tuple[Fit, ...]:
    """The changes by which one copy of a job would fit, the smallest first."""
    return fitting_together([case], case.layout, case.destination, case.media, shop)


def fitting_together(
    cases: Sequence[Case], layout: Layout, destination: Destination, material: Material, shop: Shop
) -> tuple[Fit, ...]:
    """The changes by which a copy of each of several jobs would fit on some sheet, the smallest first."""
    found: list[Fit] = []
    kinds: set[str] = set()
    for one in _tries(_Laid(cases, layout, destination, material), shop):
        if len(found) == MOST:
            break
        if one.kind not in kinds and _fits(cases, one):
            found.append(Fit(one.words, one.change))
            kinds.update({one.kind} - {""})
    return tuple(found)


def _fits(cases: Sequence[Case], one: _Try) -> bool:
    with contextlib.suppress(HorismosError):
        there = [replace(case, destination=one.destination, layout=one.layout) for case in cases]
        layout = replace(seen_from(there, one.layout), how=How.ROWS if not one.layout.placed else one.layout.how)
        items = [item_of_case(SheetJob(case, 1), one.destination, layout.makes.prints) for case in there]
        filled = lay_out(items, one.material, one.destination, layout)
        return bool(filled.sheets) and not any(filled.left)
    return False


def _tries(laid: _Laid, shop: Shop) -> Iterator[_Try]:
    """What is worth trying: of the layout first, then what is loaded, then where it goes and on which material."""
    layout, goes, on = laid.layout, laid.goes, laid.on
    plain = replace(layout, placed=(), placed_of="", how=How.ROWS) if layout.placed else layout

    def tried(
        words: str, change: Mapping[str, Any], made: Layout, kind: str = "", to: Destination = goes, of: Material = on
    ) -> _Try:
        return _Try(words, change, made, to, of, kind)

    if layout.placed:
        yield tried("Back to rows and columns", {"columns": None, "gap_mm": None, "turned": None}, plain)
    if layout.columns is not None:
        yield tried("As many columns as fit", {"columns": None}, replace(plain, columns=None))
    if layout.turned is not None:
        yield tried("Turn it whichever way it fits", {"turned": None}, replace(plain, turned=None))
    yield from _by_marks(plain, laid, tried)
    yield from _by_media(plain.media, plain, tried)
    known = media_for(on, plain)
    wider = [(name, other) for name, other in shop.materials if other.width_mm > known.width_mm]
    for other in shop.destinations:
        if other.id != goes.id:
            yield tried(f"Send it to {other.title}", {"destination": other.id}, plain, to=other)
    for media in sorted(shop.media, key=lambda media: media.width_mm):
        yield from _loaded(media, plain, tried, f"Load “{media.title}”", "media of the Shelf")
    if plain.media is not None:
        yield tried("Load the material as it usually comes", {"media": None}, replace(plain, media=None))
    for name, material in sorted(wider, key=lambda one: one[1].width_mm):
        yield tried(
            f"Take {material.title}", {"material": name, "media": None}, replace(plain, media=None),
            "a wider material", of=material,
        )


Tried = Callable[..., _Try]


def _by_marks(layout: Layout, laid: _Laid, tried: Tried) -> Iterator[_Try]:
    """Other places for the marks: a rectangle inside what can be used, round the art; and no code."""
    around = layout.marks.around
    if isinstance(around, tuple):
        inside = _inside(around, layout, laid)
        if inside is not None:
            said = {**layout.marks.to_json(), "around": list(inside)}
            moved = replace(layout, marks=replace(layout.marks, around=inside))
            yield tried("Bring the rectangle of the marks inside", {"marks": said}, moved)
    if around is not MarksRound.ART:
        said = {**layout.marks.to_json(), "around": MarksRound.ART.value}
        round_art = replace(layout, marks=replace(layout.marks, around=MarksRound.ART))
        yield tried("Set the marks round the art", {"marks": said}, round_art)
    if layout.code and layout.has_marks:
        yield tried("Leave the code out", {"code": False}, replace(layout, code=False))


def _inside(rectangle: Bounds, layout: Layout, laid: _Laid) -> Bounds | None:
    """A rectangle for marks brought within what the machine can use, with their ink; None where that is too small."""
    cutter = laid.goes.room
    place, far = layout.marks.offsets(cutter.marks)
    x0, y0, x1, y1 = grow(usable_box(media_for(laid.on, layout), cutter), -(far - place))
    brought = max(rectangle[0], x0), max(rectangle[1], y0), min(rectangle[2], x1), min(rectangle[3], y1)
    return brought if brought[2] > brought[0] and brought[3] > brought[1] else None


def _by_media(media: Media | None, layout: Layout, tried: Tried) -> Iterator[_Try]:
    """The sheet loaded the other way, and larger sheets either way."""
    if media is None or media.roll or media.length_mm is None:
        return
    turned = replace(media, turned=not media.turned)
    edge = "long" if (media.length_mm >= media.width_mm) == turned.turned else "short"
    yield from _loads([(f"Load it {edge} edge first", turned)], layout, tried, "")
    area = media.width_mm * media.length_mm
    larger = sorted((w * h, name, w, h) for name, (w, h) in PAGE_SIZES.items() if w * h > area and name[0] == "A")
    for _, name, wide, long in larger:
        yield from _loaded(Media(name, wide, long, roll=False), layout, tried, f"Take {name}", "a larger sheet")


def _loaded(media: Media, layout: Layout, tried: Tried, words: str, kind: str) -> Iterator[_Try]:
    ways = [(words, media)]
    if not media.roll and media.length_mm is not None:
        edge = "long" if media.length_mm >= media.width_mm else "short"
        ways.append((f"{words}, {edge} edge first", replace(media, turned=True)))
    yield from _loads(ways, layout, tried, kind)


def _loads(ways: Iterable[tuple[str, Media]], layout: Layout, tried: Tried, kind: str) -> Iterator[_Try]:
    for words, media in ways:
        yield tried(words, {"media": asdict(media)}, replace(layout, media=media), kind)
