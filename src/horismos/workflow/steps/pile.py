"""A file of the pile, sorted by a child; two files of a customer, compared."""

from dataclasses import asdict
from typing import Any

from horismos.comparing.files import files_apart
from horismos.comparing.likeness import likeness
from horismos.destinations import Destination
from horismos.workflow.pile import PileShop, sort_file
from horismos.workflow.pile.shop import PileFile
from horismos.workflow.showing.apart import changes_shown
from horismos.workflow.steps.stored import Content, artwork_of

__all__ = ["alike", "apart", "sorted_file"]


def sorted_file(content: Content, name: str, file: PileFile, shop: PileShop, tell: Any) -> dict[str, Any]:
    """How far a file came, as plain values. Raises CannotRead where it cannot be taken in."""
    found = sort_file(content.read(), name, file, shop, tell)
    return {**asdict(found), "state": found.state.value}


def apart(old: Content, new: Content, destination: Destination, tell: Any) -> list[dict[str, Any]]:
    """In what a corrected file differs from the one before, as a list of what to show."""
    tell(0.0, "comparing with the file before")
    return [asdict(one) for one in changes_shown(files_apart(artwork_of(old), artwork_of(new), destination))]


def alike(one: Content, other: Content, page: int, tell: Any) -> float:
    """How much two files look alike, from 0 to 1."""
    tell(0.0, "comparing with files of the customer")
    return likeness(artwork_of(one), artwork_of(other), page)
