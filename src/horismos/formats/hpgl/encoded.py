"""HP-GL/2's encoded polylines (PE): differences in base 64 or 32, with flags for pen up, pen and absolute."""

from collections.abc import Iterator
from typing import NamedTuple

from horismos.errors import CannotRead

__all__ = ["EncodedStep", "encoded_moves"]


class EncodedStep(NamedTuple):
    """A move by or to a place, or the choice of a pen."""

    x: float = 0.0
    y: float = 0.0
    up: bool = False
    absolute: bool = False
    pen: int | None = None


def encoded_moves(text: str) -> Iterator[EncodedStep]:
    """The steps of an encoded polyline. Raises CannotRead where it is broken."""
    base, fraction = 64, 0
    up = absolute = False
    first: float | None = None
    pos = 0
    text = "".join(c for c in text if c > " ")
    while pos < len(text):
        flag = text[pos]
        if flag in "<=7:>":
            pos += 1
            if flag == "<":
                up = True
            elif flag == "=":
                absolute = True
            elif flag == "7":
                base = 32
            else:
                value, pos = _number(text, pos, base)
                if flag == ":":
                    yield EncodedStep(pen=value)
                else:
                    fraction = value
            continue
        value, pos = _number(text, pos, base)
        if first is None:
            first = value / 2**fraction
            continue
        yield EncodedStep(first, value / 2**fraction, up, absolute)
        up, absolute, first = False, False, None


def _number(text: str, pos: int, base: int) -> tuple[int, int]:
    """One number and the place behind it: low digits first, the sign in the last bit."""
    low, high = (63, 191) if base == 64 else (63, 95)
    value, weight = 0, 1
    while pos < len(text):
        code = ord(text[pos])
        pos += 1
        if low <= code < low + base:
            value += (code - low) * weight
            weight *= base
        elif high <= code < high + base:
            value += (code - high) * weight
            return (-(value >> 1) if value & 1 else value >> 1), pos
        else:
            raise CannotRead("An encoded polyline of the HP-GL file is broken.")
    raise CannotRead("An encoded polyline of the HP-GL file ends in the middle.")
