"""Gives an ink its exact name, wherever the file names it: only names change, no content."""

from collections.abc import Iterator
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name, Stream

from horismos.artwork.lines import Line
from horismos.artwork.model import Artwork
from horismos.destinations import Destination
from horismos.errors import NothingToDo
from horismos.mending.family import Family
from horismos.steps import Step
from horismos.words import plural

__all__ = ["RENAME", "colour_arrays", "pdf_name"]


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


def _say(artwork: Artwork, lines: list[Line], step: Step) -> str:
    named = any(step.ink in page.ink_names for page in artwork.pages)
    if not named or step.ink == step.to:
        raise NothingToDo(f"No ink is called “{step.ink}”.")
    count = sum(line.ink == step.ink for line in lines)
    what = plural(count, "line") if count else "the art in this ink"
    return (
        f"Writes “{step.to}” for “{step.ink}” wherever the file names that ink "
        f"({what}). Shapes and colours stay as they are."
    )


def _do(
    pdf: pikepdf.Pdf, artwork: Artwork, lines: list[Line], step: Step, destination: Destination
) -> None:
    old, new = pdf_name(step.ink), pdf_name(step.to)
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


RENAME = Family(_say, _do)
