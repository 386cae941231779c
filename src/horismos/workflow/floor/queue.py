"""The order of a queue: what is next, what is held, what was moved before what."""

from collections.abc import Sequence
from dataclasses import dataclass

from horismos.errors import NotFound

__all__ = ["Queued", "moved", "next_of"]


@dataclass(frozen=True)
class Queued:
    """Something in a queue; ``held`` things are passed over, and keep their place."""

    id: int
    held: bool = False
    ready: bool = True


def next_of(queue: Sequence[Queued]) -> Queued | None:
    """The first that is neither held nor waits for something else."""
    return next((one for one in queue if one.ready and not one.held), None)


def moved(ids: Sequence[int], id: int, before: int | None) -> list[int]:
    """The order with one moved before another, or to the end. Raises NotFound.

    >>> moved([1, 2, 3], 3, 1), moved([1, 2, 3], 1, None)
    ([3, 1, 2], [2, 3, 1])
    """
    if id not in ids or (before is not None and before not in ids):
        raise NotFound("It is not in the queue any more.", "Look at the queue again.")
    if before == id:
        return list(ids)
    rest = [one for one in ids if one != id]
    at = len(rest) if before is None else rest.index(before)
    return [*rest[:at], id, *rest[at:]]
