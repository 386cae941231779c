"""The code beside the marks: it names the sheet, so that the cutter fetches the right cut. A QR code, ISO/IEC 18004."""

import hashlib
from collections.abc import Iterable
from dataclasses import dataclass

from horismos.paths.box import Bounds

__all__ = ["CODE_MM", "Code", "code_at", "name_of"]

MODULE_MM = 0.5
"""[ours] of a module: three pixels at 150 ppi."""
QUIET_MODULES = 4
"""[standard] ISO/IEC 18004: the quiet zone of a QR code is four modules wide."""
ERROR_LEVEL = "m"
LETTERS = 10
VERSION = 1
CODE_MM = (17 + 4 * VERSION) * MODULE_MM
"""The side of a code of that version without its quiet zone."""


@dataclass(frozen=True)
class Code:
    """A code on a sheet: what it says, its lower left corner in mm without the quiet zone, dark modules row by row.

    ``rows`` go from the top down; 1 is dark.
    """

    text: str
    x_mm: float
    y_mm: float
    rows: tuple[tuple[int, ...], ...]

    @property
    def box(self) -> Bounds:
        """Its bounds without the quiet zone."""
        return self.x_mm, self.y_mm, self.x_mm + CODE_MM, self.y_mm + CODE_MM

    @property
    def runs(self) -> list[Bounds]:
        """Rectangles x, y, width, height of dark modules side by side."""
        out = []
        for number, row in enumerate(self.rows):
            y = self.y_mm + (len(self.rows) - 1 - number) * MODULE_MM
            line = [*row, 0]
            begun: int | None = None
            for i, dark in enumerate(line):
                if dark and begun is None:
                    begun = i
                elif not dark and begun is not None:
                    out.append((self.x_mm + begun * MODULE_MM, y, (i - begun) * MODULE_MM, MODULE_MM))
                    begun = None
        return out


def name_of(parts: Iterable[str], number: int) -> str:
    """The name of a sheet: the same of the same content, with its number, in letters that fit a small code.

    >>> name_of(["a"], 2)
    'S2-UVZSUBHUQM'
    """
    packed = hashlib.sha256("\n".join(parts).encode()).digest()
    letters = "".join(chr(65 + b % 26) for b in packed)[:LETTERS]
    return f"S{number}-{letters}"


def code_at(text: str, x_mm: float, y_mm: float) -> Code:
    """The code that says a text, with its lower left corner at a place.

    >>> len(code_at("S1-ABCDEFGHIJ", 0, 0).rows)
    21
    """
    import segno  # only who lays a sheet out needs it

    made = segno.make(text, error=ERROR_LEVEL, version=VERSION, boost_error=False, micro=False)
    return Code(text, x_mm, y_mm, tuple(tuple(int(v) for v in row) for row in made.matrix))
