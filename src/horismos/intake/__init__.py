"""Takes in what a customer sends: every kind of input becomes one PDF, the working form.

The original bytes are never changed. What cannot be known from the file is asked for.
"""

from horismos.intake.answers import Answers
from horismos.intake.kinds import KINDS, kind_of
from horismos.intake.take import Note, Taken, svg_render_difference, take_in

__all__ = [
    "KINDS",
    "Answers",
    "Note",
    "Taken",
    "kind_of",
    "svg_render_difference",
    "take_in",
]
