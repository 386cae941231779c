"""The pile of files that come in a day: what a shop says of them, and each brought as far as no person is needed."""

from horismos.workflow.pile.shop import PileShop
from horismos.workflow.pile.sort import Did, Refused, Sorted, State, sort_file

__all__ = ["Did", "PileShop", "Refused", "Sorted", "State", "sort_file"]
