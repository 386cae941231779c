"""A shop's own words for its letters."""

from types import MappingProxyType
from typing import Any

from horismos.json_readers import Reader
from horismos.reporting.letter_texts import LetterTexts, letter_texts_schema
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, register

__all__ = ["texts_of"]


def texts_of(item: ShelfItem, shelf: Shelf) -> LetterTexts:
    """The texts that a thing is."""
    return LetterTexts.from_json(item.data)


def _read(name: str, value: object) -> dict[str, Any]:
    return LetterTexts.from_json(value, name).to_json()


register(ShelfKind(
    kind=Kind.LETTER, one="letter", many="letters",
    says="The shop's own words for letters to customers; the first goes for all whose customer has no other.",
    read=Reader(_read, letter_texts_schema()), begins=MappingProxyType({"texts": {}, "checks": {}}), value=texts_of,
))
