"""Takes a customer's file in: its working form, the artwork in it, and the order to begin with."""

from dataclasses import dataclass, field, replace

from horismos.artwork import Artwork, read_bytes
from horismos.destinations import DEFAULT, Destination
from horismos.errors import HorismosError
from horismos.intake import Answers, Taken, svg_render_difference
from horismos.intake import take_in as take_in_file
from horismos.intake.suggest import Suggestion, suggest
from horismos.orders import Order
from horismos.workflow.case import Progress

__all__ = ["Arrival", "TakenIn", "second_opinion", "take_in"]


@dataclass(frozen=True, eq=False)
class TakenIn:
    """The working form, read; what was noted on the way, and the order that the file and the customer suggest."""

    taken: Taken
    artwork: Artwork
    suggestion: Suggestion


@dataclass(frozen=True)
class Arrival:
    """A customer's file with all that is known of it; ``last`` is what the customer ordered before.

    ``render_difference`` is the share of an SVG in which two renderers differ, 0 where that is still to be heard; None:
    it is measured while the file is taken in.
    """

    data: bytes
    name: str = ""
    answers: Answers = field(default_factory=Answers)
    order: Order = field(default_factory=Order)
    destination: Destination = DEFAULT
    last: Order | None = None
    render_difference: float | None = None


def take_in(file: Arrival, progress: Progress = lambda share, what: None) -> TakenIn:
    """Take a file in.

    Raises Asks where something has to be said first, CannotRead (or Locked, LimitExceeded) where the file
    cannot be taken in.
    """
    taken = take_in_file(
        file.data, file.name, file.answers, file.order, file.destination,
        lambda share, what: progress(share * 0.7, what), file.render_difference,
    )
    progress(0.8, "reading the artwork")
    notes = tuple((note.severity, note.words) for note in taken.notes)
    artwork = replace(taken.artwork or read_bytes(taken.pdf), taken_in=notes, made_from=taken.kind)
    progress(0.9, "looking what it may be for")
    return TakenIn(taken, artwork, _suggestion(artwork, file))


def second_opinion(file: Arrival) -> float:
    """The share of an SVG's art, 0 to 1, in which two renderers visibly differ. Raises CannotRead or LimitExceeded."""
    return svg_render_difference(file.data, file.answers, file.order, file.destination)


def _suggestion(artwork: Artwork, file: Arrival) -> Suggestion:
    """What the order may be; what cannot be told is left open, and said."""
    try:
        return suggest(artwork, artwork.pages[0], file.destination, file.order, file.last)
    except HorismosError as error:
        return Suggestion(file.order, (), (str(error),))
