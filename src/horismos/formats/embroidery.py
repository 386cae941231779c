"""Stitch files: written and read by pyembroidery, from and to needle points, trims and stops.

Coordinates are tenths of a millimetre, the unit of every format here, x to the right and y up.
"""

import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
import pyembroidery as emb
from numpy.typing import NDArray

from horismos.errors import CannotWrite

__all__ = [
    "FORMATS", "UNIT_MM", "ColourStop", "Sewn", "StitchFormat", "StitchSuffix", "read_stitches", "worst_off",
    "write_stitches",
]

UNIT_MM = 0.1
Units = NDArray[np.int64]


class StitchSuffix(StrEnum):
    """The formats that stitches are written in, by the suffix of their files."""

    DST = "dst"
    EXP = "exp"
    PES = "pes"
    JEF = "jef"
    VP3 = "vp3"
    XXX = "xxx"


@dataclass(frozen=True)
class StitchFormat:
    """A format: its suffix and name, and the longest stitch of one record along each axis, in units."""

    suffix: StitchSuffix
    title: str
    longest: int


FORMATS: Mapping[StitchSuffix, StitchFormat] = {
    one.suffix: one
    for one in (
        # [memory] 121 units a record in DST, 124 in XXX, 127 in those of signed bytes; more where records are longer
        StitchFormat(StitchSuffix.DST, "DST", 121),
        StitchFormat(StitchSuffix.EXP, "EXP", 127),
        StitchFormat(StitchSuffix.PES, "PES", 2047),
        StitchFormat(StitchSuffix.JEF, "JEF", 127),
        StitchFormat(StitchSuffix.VP3, "VP3", 3200),
        StitchFormat(StitchSuffix.XXX, "XXX", 124),
    )
}
OPTIONS = {"trims": True, "date": "20000101000000"}
"""JEF has trims when it is told to; a date would make every file another."""


@dataclass(frozen=True, eq=False)
class Sewn:
    """Needle points without a jump between them, shape (n, 2) in units; the thread is cut behind them."""

    points: Units


@dataclass(frozen=True)
class ColourStop:
    """The machine stops, for fabric to be laid, and goes on with a thread of a colour, #rrggbb: another, or the same.

    Formats know a stop as a change of thread, and most of them nothing else.
    """

    colour: str


Record = Sewn | ColourStop


def write_stitches(records: Sequence[Record], first_colour: str, name: str, kind: StitchFormat) -> bytes:
    """A stitch file, its zero where the coordinates have it. Raises CannotWrite where a stitch is too long for it."""
    pattern = emb.EmbPattern()
    pattern.metadata("name", name.encode("ascii", "replace").decode()[:16])
    pattern.add_thread({"hex": first_colour})
    last = max((i for i, record in enumerate(records) if isinstance(record, Sewn)), default=-1)
    for i, record in enumerate(records):
        if isinstance(record, ColourStop):
            pattern.add_thread({"hex": record.colour})
            pattern.color_change()
            continue
        longest = int(np.abs(np.diff(record.points, axis=0)).max(initial=0))
        if longest > kind.longest:
            raise CannotWrite(f"A stitch is {longest / 10} mm long; {kind.title} holds {kind.longest / 10} mm.")
        points = record.points.tolist()
        pattern.add_stitch_absolute(emb.JUMP, points[0][0], -points[0][1])
        for x, y in points:
            pattern.add_stitch_absolute(emb.STITCH, x, -y)
        if i != last:
            pattern.trim()
    pattern.end()
    out = io.BytesIO()
    getattr(emb, f"write_{kind.suffix}")(pattern, out, dict(OPTIONS))
    return out.getvalue()


def read_stitches(data: bytes, kind: StitchFormat) -> list[Record]:
    """What a stitch file holds, as a reader of its own finds it; colours are empty where the format has none.

    Raises CannotWrite: it was we who wrote it.
    """
    try:
        pattern = getattr(emb, f"read_{kind.suffix}")(io.BytesIO(data), dict(OPTIONS))
    except (ValueError, IndexError, TypeError, KeyError) as error:
        raise CannotWrite(f"The {kind.title} file cannot be read back ({type(error).__name__}).") from None
    threads = iter(pattern.threadlist[1:])
    records: list[Record] = []
    points: list[tuple[float, float]] = []

    def ended() -> None:
        if points:
            records.append(Sewn(np.rint(np.array(points)).astype(np.int64)))
            points.clear()

    for x, y, command in pattern.stitches:
        what = command & emb.COMMAND_MASK
        if what == emb.STITCH:
            points.append((x, -y))
        elif what in (emb.COLOR_CHANGE, emb.STOP):
            ended()
            thread = next(threads, None)
            records.append(ColourStop(thread.hex_color() if thread is not None else ""))
        elif what in (emb.TRIM, emb.JUMP, emb.END):
            ended()
    ended()
    return records


def worst_off(meant: Sequence[Record], read: Sequence[Record]) -> float:
    """How far a needle point that was read lies from that which was meant, in mm, at most.

    Raises CannotWrite where stops, trims or needle points are others, in number or in order.
    """
    words = [[type(record).__name__ for record in records] for records in (meant, read)]
    if words[0] != words[1]:
        counts = [(len(w), w.count("ColourStop")) for w in words]
        raise CannotWrite(f"The stitch file has other pieces and stops than were meant: {counts[1]} for {counts[0]}.")
    worst = 0.0
    for one, other in zip(meant, read, strict=True):
        if isinstance(one, Sewn) and isinstance(other, Sewn):
            if len(one.points) != len(other.points):
                raise CannotWrite(f"The stitch file has {len(other.points)} needle points for {len(one.points)}.")
            worst = max(worst, float(np.hypot(*(one.points - other.points).T).max(initial=0.0)) * UNIT_MM)
    return worst
