"""What every family of mends is made of."""

from collections.abc import Callable
from dataclasses import dataclass

import pikepdf

from horismos.artwork.lines import Line
from horismos.artwork.model import Artwork
from horismos.destinations import Destination
from horismos.steps import Step

__all__ = ["Family", "of_role"]


@dataclass(frozen=True)
class Family:
    """How a kind of step says what it will do, and does it to an open copy of the file.

    Both raise NothingToDo where there is nothing to change.
    """

    say: Callable[[Artwork, list[Line], Step], str]
    do: Callable[[pikepdf.Pdf, Artwork, list[Line], Step, Destination], None]


def of_role(lines: list[Line], step: Step) -> list[Line]:
    """The lines of the step's role."""
    return [line for line in lines if line.role is step.role]
