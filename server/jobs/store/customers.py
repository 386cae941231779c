"""Customers of the Shelf, by the names that jobs have: what goes for orders and files, and how to write to them."""

from typing import Any

from horismos.reporting.letter_texts import LetterTexts
from horismos.shelf import Kind, ShelfItem
from horismos.workflow.pile import CustomerHabits
from jobs.store.shelf import known_shelf

__all__ = ["customer_called", "customer_order", "habits_of", "note_of", "texts_for"]


def customer_called(name: str) -> ShelfItem | None:
    """The customer of a name, in capitals or not; None where the Shelf has none such."""
    wanted = name.strip().casefold()
    listed = known_shelf().offered(Kind.CUSTOMER) if wanted else ()
    return next((item for item in listed if item.title.casefold() == wanted), None)


def customer_order(name: str) -> dict[str, Any]:
    """What goes for all orders of a customer, as JSON."""
    found = customer_called(name)
    return dict(found.data["order"]) if found else {}


def habits_of(name: str) -> CustomerHabits:
    """What is always done to a customer's files."""
    known, found = known_shelf(), customer_called(name)
    if found is None:
        return CustomerHabits()
    recipes = [known.value(known.shelf[id]) for id in found.data.get("recipes", ()) if not known.shelf[id].retired]
    lines = known.shelf.get(found.data.get("lines") or "")
    return CustomerHabits(
        steps=tuple(step for recipe in recipes for step in recipe.steps),
        make=known.value(lines) if lines and not lines.retired else None,
    )


def note_of(name: str) -> str:
    """What everybody should know who works on a customer's jobs."""
    found = customer_called(name)
    return str(found.data["note"]) if found else ""


def texts_for(name: str) -> LetterTexts:
    """The words of letters to a customer: their own, else the shop's first, else those that ship."""
    known, found = known_shelf(), customer_called(name)
    own = known.shelf.get(found.data["letter"]) if found and found.data["letter"] else None
    letter = own or next(iter(known.offered(Kind.LETTER)), None)
    texts: LetterTexts = known.value(letter) if letter else LetterTexts()
    return texts
