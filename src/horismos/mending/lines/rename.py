"""Gives an ink its exact name, wherever the file names it: only names change, no content."""

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name, Stream

from horismos.checking.engine.findings import Finding
from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.engine.settings import Setting, SettingKind, Value
from horismos.words import plural

__all__ = ["colour_arrays", "pdf_name"]


def pdf_name(ink: str) -> Name:
    """The name object of an ink."""
    return Name("/" + ink)


def colour_arrays(pdf: pikepdf.Pdf) -> Iterator[Array]:
    """Every Separation and DeviceN array of a file (ISO 32000-1, 8.6.6.4 and 8.6.6.5)."""
    for obj in pdf.objects:
        yield from _inside(obj, 0)


def _inside(obj: Any, depth: int) -> Iterator[Array]:
    """Colour arrays among the direct objects below one object of the file."""
    if depth > 12:
        return
    if isinstance(obj, Array):
        if len(obj) >= 4 and obj[0] in (Name.Separation, Name.DeviceN):
            yield obj
        children: list[Any] = list(obj)
    elif isinstance(obj, Dictionary | Stream):
        children = [obj.get(key) for key in obj.keys()]
    else:
        return
    for child in children:
        if isinstance(child, Array | Dictionary) and not child.is_indirect:
            yield from _inside(child, depth + 1)


def _say(before: MendContext) -> MendSummary:
    old, new = before.step["ink"], before.step["to"]
    named = any(old in page.ink_names for page in before.artwork.pages)
    if not named:
        raise NothingToDo(f"No ink is called “{old}”.")
    if old == new:
        raise NothingToDo(f"The ink is called “{new}” already.")
    count = sum(line.ink == old for line in before.lines)
    what = plural(count, "line") if count else "the art in this ink"
    words = f"Writes “{new}” for “{old}” wherever the file names that ink ({what}). Shapes and colours stay."
    return MendSummary(words, {"lines": count})


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    old, new = pdf_name(before.step["ink"]), pdf_name(before.step["to"])
    for array in colour_arrays(pdf):
        if array[0] == Name.Separation:
            if array[1] == old:
                array[1] = new
            continue
        for i, name in enumerate(array[1]):
            if name == old:
                array[1][i] = new
        attributes = array[4] if len(array) > 4 else None
        colorants = attributes.get("/Colorants") if isinstance(attributes, Dictionary) else None
        if colorants is not None and str(old) in colorants:
            colorants[str(new)] = colorants[str(old)]
            del colorants[str(old)]


def _offer(mend: Mend, finding: Finding) -> Iterable[Mapping[str, Value]]:
    return ({"ink": ink, "to": wanted} for ink in finding.inks for wanted in finding.wanted)


register(Mend(
    id="rename", label="Rename to {to}", answers=("ink.near-name", "ink.same-role"),
    touches=frozenset([Facet.NAMES, Facet.ART]),
    settings=(Setting("ink", SettingKind.NAME, "The ink's name"), Setting("to", SettingKind.NAME, "Its new name")),
    say=_say, do=_do, offer=_offer, order=10, reveals=True
))
