"""What can be asked of a person about a file. Values only."""

from dataclasses import dataclass

__all__ = ["Choice", "Question"]


@dataclass(frozen=True)
class Choice:
    """One thing that can be answered, or one layer, pen or colour to be bound.

    ``said`` is what stands for it now: the customer's own binding of before, or what its name says.
    ``sample`` shows it: a colour, or path data within 100 × 100, y upwards.
    """

    key: str
    words: str
    said: str = ""
    sample: str = ""


@dataclass(frozen=True)
class Question:
    """Something that only a person can say. ``id`` names the field of the answers that takes it.

    ``extent`` is the width and height of what is asked about, as the file has them: ``extent_in`` px or units.
    """

    id: str
    words: str
    choices: tuple[Choice, ...] = ()
    extent: tuple[float, ...] = ()
    extent_in: str = ""
