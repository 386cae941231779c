"""Name patterns: what the names of files say about their orders."""

from collections.abc import Mapping
from types import MappingProxyType

from horismos.intake.file_names import NamePattern
from horismos.json_readers import Field, Reader, text
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, by_table, register

__all__ = ["pattern_of"]


def _pattern(name: str, value: object) -> str:
    return NamePattern(text(200, least=1)(name, value)).text


FIELDS: Mapping[str, Field] = MappingProxyType({
    "pattern": Field(
        Reader(_pattern, text(200, least=1).schema),
        "fields such as {customer}, {title}, {width_mm} and {copies}, and what stands between them",
    ),
})
EXAMPLE = "{customer}_{title}_{width_mm}x{height_mm}_{copies}x"
BEGINS = MappingProxyType({"pattern": EXAMPLE})


def pattern_of(item: ShelfItem, shelf: Shelf) -> NamePattern:
    """The pattern that a thing is."""
    return NamePattern(str(item.data["pattern"]))


register(ShelfKind(
    kind=Kind.FILE_NAMES, one="name pattern", many="name patterns",
    says="What files say by their names: customer, title, size, copies, material. The first that fits counts.",
    read=by_table(FIELDS, BEGINS), begins=BEGINS, value=pattern_of,
))
