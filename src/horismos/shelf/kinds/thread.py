"""Threads: the colours that a shop has on its cones."""

from collections.abc import Mapping
from types import MappingProxyType

from horismos.json_readers import COLOUR, Field, number, optional
from horismos.shelf.kind import Kind, ShelfItem, ShelfKind, by_table, register
from horismos.stitching.plan import THREADS

__all__: list[str] = []

FIELDS: Mapping[str, Field] = MappingProxyType({
    "colour": Field(COLOUR, "its colour as #rrggbb"),
    "tex": Field(optional(number(1, 1_000)), "how heavy it is, in grams a kilometre; null: nobody said", "tex"),
    "cone_m": Field(optional(number(1, 100_000)), "how much is on a cone; null: nobody said", "m"),
})
"""The unit tex [standard, ISO 1144]: the mass in grams of a thousand metres."""
BEGINS = MappingProxyType({"colour": THREADS[0], "tex": None, "cone_m": None})
NAMES = ("Petrol", "Brick", "Straw", "Moss", "Plum")
register(ShelfKind(
    kind=Kind.THREAD, one="thread", many="threads", says="A thread by its colour: chosen for the layers of a stack.",
    read=by_table(FIELDS, BEGINS, ("colour",)), begins=BEGINS,
    ships=lambda: [
        ShelfItem(kind=Kind.THREAD, id=f"thread-{name.lower()}", title=name, data={**BEGINS, "colour": colour})
        for name, colour in zip(NAMES, THREADS, strict=True)
    ],
))
