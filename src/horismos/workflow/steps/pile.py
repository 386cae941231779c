"""A file of the pile, sorted by a child."""

from dataclasses import asdict
from typing import Any

from horismos.workflow.pile import PileShop, sort_file
from horismos.workflow.pile.shop import PileFile
from horismos.workflow.steps.stored import Content

__all__ = ["sorted_file"]


def sorted_file(content: Content, name: str, file: PileFile, shop: PileShop, tell: Any) -> dict[str, Any]:
    """How far a file came, as plain values. Raises CannotRead where it cannot be taken in."""
    found = sort_file(content.read(), name, file, shop, tell)
    return {**asdict(found), "state": found.state.value}
