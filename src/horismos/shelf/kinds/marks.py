"""Mark settings: registration marks under a name, for destinations whose cutters read these."""

from horismos.json_readers import Reader, object_schema
from horismos.sheet.marks import FIELDS, READ, MarkPlan
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, register

__all__ = ["marks_of"]


def marks_of(item: ShelfItem, shelf: Shelf) -> MarkPlan:
    """The marks that a thing is."""
    made: MarkPlan = READ(f"Mark setting “{item.title}”", item.data)
    return made


def _read(name: str, value: object) -> dict[str, object]:
    made: MarkPlan = READ(name, value)
    return made.to_json()


_BEGINS = MarkPlan().to_json()
register(ShelfKind(
    kind=Kind.MARKS, one="mark setting", many="mark settings",
    says="Registration marks under a name: which, how many, how large and how far from the art.",
    read=Reader(_read, object_schema(FIELDS, _BEGINS)), begins=_BEGINS, value=marks_of,
    ships=lambda: (
        ShelfItem(kind=Kind.MARKS, id="corner-brackets", title="Brackets at four corners", data=_BEGINS),
        ShelfItem(
            kind=Kind.MARKS, id="long-brackets", title="Brackets, every 500 mm",
            data=READ("", {**_BEGINS, "every_mm": 500}).to_json(),
        ),
    ),
))
