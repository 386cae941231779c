"""Takes a customer's file in: its working form, the artwork in it, and the order to begin with."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from horismos.artwork import Artwork, read_bytes
from horismos.artwork.kinds import Kind
from horismos.destinations import HOUSE, Destination
from horismos.errors import HorismosError
from horismos.intake import Answers, Taken, kind_of, take_in_within
from horismos.intake import take_in as take_in_here
from horismos.intake.suggest import Suggestion, suggest
from horismos.orders import Order
from horismos.workflow.case import Progress

__all__ = ["TakenIn", "take_in"]


@dataclass(frozen=True, eq=False)
class TakenIn:
    """The working form, read; what was noted on the way, and the order that the file and the customer suggest."""

    taken: Taken
    artwork: Artwork
    suggestion: Suggestion


def take_in(
    data: bytes, name: str = "", answers: Answers | None = None, order: Order | None = None,
    destination: Destination = HOUSE, last: Order | None = None,
    progress: Progress = lambda share, what: None, cancelled: Callable[[], bool] = lambda: False,
) -> TakenIn:
    """Take a file in. ``last`` is what the customer ordered before.

    Raises Asks where something has to be said first, CannotRead (or Locked, LimitExceeded) where the file
    cannot be taken in.
    """
    order = order or Order()
    within = take_in_here if kind_of(data, name) is Kind.PDF else take_in_within
    taken = within(data, name, answers, order, destination, lambda s, w: progress(s * 0.7, w), cancelled)
    progress(0.8, "reading the artwork")
    notes = tuple((note.severity, note.words) for note in taken.notes)
    artwork = replace(taken.artwork or read_bytes(taken.pdf), taken_in=notes, made_from=taken.kind)
    progress(0.9, "looking what it may be for")
    return TakenIn(taken, artwork, _suggestion(artwork, order, destination, last))


def _suggestion(artwork: Artwork, order: Order, destination: Destination, last: Order | None) -> Suggestion:
    """What the order may be; what cannot be told is left open, and said."""
    try:
        return suggest(artwork, artwork.pages[0], destination, order, last)
    except HorismosError as error:
        return Suggestion(order, (), (str(error),))
