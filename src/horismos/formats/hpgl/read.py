"""Reads HP-GL: our own cut files strictly, customers' plots as a plotter would."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

from horismos.errors import CannotRead, LimitExceeded
from horismos.formats.hpgl.dialect_words import in_plain_words
from horismos.formats.hpgl.interpret import PLAIN, PlotInterpreter
from horismos.formats.hpgl.plotter import PlotterStroke
from horismos.formats.hpgl.tokens import Instruction, instructions, looks_like_hpgl
from horismos.machines import Dialect

__all__ = ["Plot", "read_hpgl", "read_plot"]

MOVES = frozenset(["PU", "PD", "PA", "PR"])
MOST_STROKES = 200_000
"""[ours] of a customer's file."""


@dataclass(frozen=True, eq=False)
class Plot:
    """A plot as read. ``scaled`` says that the file scales without saying to what; ``left_out``
    counts instructions that draw and could not be followed.
    """

    strokes: list[PlotterStroke]
    scaled: bool
    left_out: dict[str, int] = field(default_factory=dict)


def read_hpgl(
    data: bytes, origin_mm: tuple[float, float] = (0.0, 0.0), dialect: Dialect = PLAIN
) -> list[PlotterStroke]:
    """The strokes of an HP-GL file, in order, as a cutter with this dialect takes it.

    Raises CannotRead for what is not HP-GL, naming the place. Instructions that neither move nor
    choose a tool are passed over.
    """
    return PlotInterpreter(origin_mm, dialect).run(instructions(in_plain_words(data, dialect), strict=True))


def read_plot(data: bytes) -> Plot:
    """A customer's plot file, escape sequences and labels passed over. Raises CannotRead or LimitExceeded."""
    if not looks_like_hpgl(data):
        raise CannotRead("This is not HP-GL.", "Ask for the lines as PDF, DXF or HP-GL.")
    if data.upper().count(b"PU") > MOST_STROKES:  # each stroke begins with the pen up
        raise LimitExceeded(f"The plot has more than {MOST_STROKES:,} strokes.", "Ask for the cut lines alone.")
    interpreter = PlotInterpreter()
    interpreter.plotter.most_strokes = MOST_STROKES
    strokes = interpreter.run(_in_pairs(instructions(data, strict=False)))
    return Plot(strokes, interpreter.scale_unsaid, interpreter.left_out)


def _in_pairs(found: Iterable[Instruction]) -> Iterator[Instruction]:
    """Instructions whose moves have a whole number of places: a lone coordinate at the end is dropped."""
    for instruction in found:
        if instruction.name in MOVES and len(instruction.numbers) % 2:
            instruction = instruction._replace(numbers=instruction.numbers[:-1])
        yield instruction
