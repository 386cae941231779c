"""The pile of files that come in a day: what a shop says of them, and each brought as far as no person is needed."""

from horismos.workflow.pile.shop import CustomerHabits, PileShop
from horismos.workflow.pile.sort import Did, Refused, Sorted, State, mended_by_itself, sort_file, wants_of

__all__ = [
    "CustomerHabits", "Did", "PileShop", "Refused", "Sorted", "State", "mended_by_itself", "sort_file", "wants_of",
]
