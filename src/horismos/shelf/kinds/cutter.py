"""Contour cutters."""

from horismos.errors import BadValue
from horismos.json_readers import plain
from horismos.machines import CUTTER_FIELDS, CUTTERS, READ_CUTTER, Cutter
from horismos.sheet.mark_kinds import registered as registered_marks
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, by_table, register

__all__ = ["cutter_of"]

NAMED = ("id", "title")
FIELDS = {key: one for key, one in CUTTER_FIELDS.items() if key not in NAMED}


def _data(cutter: Cutter) -> dict[str, object]:
    return {key: one for key, one in plain(cutter).items() if key not in NAMED}


def cutter_of(item: ShelfItem, shelf: Shelf) -> Cutter:
    """The cutter that a thing is. Raises BadValue for room or forces that contradict themselves."""
    name = f"Cutter “{item.title}”"
    made: Cutter = READ_CUTTER(name, {**item.data, "id": item.id, "title": item.title})
    strange = [one for one in made.dialect.marks if one not in registered_marks()]
    if strange:
        raise BadValue(f"{name} finds “{strange[0]}”, and there are no such marks.",
                       f"Known: {', '.join(registered_marks())}.")
    if made.least_gf > made.most_gf:
        raise BadValue(
            f"{name} gives at least {made.least_gf:g} gf and at most {made.most_gf:g} gf.", "Give the lower one first.",
        )
    if made.head_mm + made.feed_mm > made.trailer_mm + 1e-9:
        raise BadValue(
            f"{name} needs {made.head_mm:g} mm for its head and feeds {made.feed_mm:g} mm out, and its trailer is "
            f"{made.trailer_mm:g} mm.", "Give a longer trailer, which holds both.",
        )
    return made


def _ships() -> list[ShelfItem]:
    return [ShelfItem(kind=Kind.CUTTER, id=one.id, title=one.title, data=_data(one)) for one in CUTTERS.values()]


register(ShelfKind(
    kind=Kind.CUTTER, one="cutter", many="cutters",
    says="A contour cutter: the room that it needs, how it finds marks, how fast and hard it cuts, and its language.",
    read=by_table(FIELDS, _data(Cutter())), begins=_data(Cutter()), value=cutter_of, ships=_ships,
))
