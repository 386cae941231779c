"""The simulated sewing machine: reads a stitch file and sews it, needle point by needle point.

It knows the file and nothing of how it came about.
"""

from dataclasses import dataclass

import numpy as np

from horismos.errors import CannotWrite
from horismos.formats.embroidery import UNIT_MM, Sewn, StitchFormat, Stop, read_stitches
from horismos.machines import SewingMachine
from horismos.paths.contour import Floats

__all__ = ["Halt", "SewnOut", "sew", "stitch_seconds"]


def stitch_seconds(length_mm: Floats, machine: SewingMachine) -> Floats:
    """How long stitches take, in s, by their lengths in mm.

    >>> stitch_seconds(np.array([2.0, 8.0]), SewingMachine()).tolist()
    [0.075, 0.15]
    """
    taken: Floats = 60 / machine.stitches_min * np.maximum(1.0, length_mm / machine.full_speed_mm)
    return taken


@dataclass(frozen=True)
class Halt:
    """A stop of the machine at a time in s, before a seam; ``colour`` of the thread that is wanted then, if it says."""

    at_s: float
    before: int
    colour: str


@dataclass(frozen=True, eq=False)
class SewnOut:
    """A whole run. ``seams`` are needle points in mm, each (n, 2); ``at_s`` when the needle was down in each.

    ``refused`` says why the machine takes the file not at all; then nothing was sewn.
    """

    seams: tuple[Floats, ...]
    at_s: tuple[Floats, ...]
    halts: tuple[Halt, ...]
    total_s: float
    thread_mm: float
    trims: int
    refused: str = ""

    @property
    def count(self) -> int:
        """How often the needle went down."""
        return sum(map(len, self.seams))


def sew(data: bytes, kind: StitchFormat, machine: SewingMachine) -> SewnOut:
    """Sew a file; its zero is the middle of the hoop.

    A stop takes no time here: it lasts until a person has done what it is for.
    """
    try:
        records = read_stitches(data, kind)
    except CannotWrite as error:
        return SewnOut((), (), (), 0.0, 0.0, 0, str(error))
    sewn = [record for record in records if isinstance(record, Sewn)]
    refused = _refused(sewn, machine)
    if refused:
        return SewnOut((), (), (), 0.0, 0.0, 0, refused)
    seams: list[Floats] = []
    times: list[Floats] = []
    halts: list[Halt] = []
    now, thread, trims = 0.0, 0.0, 0
    at = np.zeros(2)
    for record in records:
        if isinstance(record, Stop):
            halts.append(Halt(now, len(seams), record.colour))
            continue
        points: Floats = np.asarray(record.points * UNIT_MM, np.float64)
        if seams:
            trims += 1
            now += machine.trim_s
        now += float(np.hypot(*(points[0] - at))) / machine.jump_mm_s
        lengths = np.hypot(*np.diff(points, axis=0).T)
        taken = np.concatenate([[0.0], np.cumsum(stitch_seconds(lengths, machine))])
        seams.append(points)
        times.append(now + taken)
        now, at = now + float(taken[-1]), points[-1]
        thread += float(lengths.sum())
    return SewnOut(tuple(seams), tuple(times), tuple(halts), now, thread, trims)


def _refused(sewn: list[Sewn], machine: SewingMachine) -> str:
    if not sewn:
        return "The file has no stitch."
    points = np.concatenate([record.points for record in sewn]) * UNIT_MM
    wide, high = (2 * np.abs(points).max(axis=0)).tolist()
    if wide > machine.hoop_mm[0] or high > machine.hoop_mm[1]:
        return (
            f"It is {wide:.0f} × {high:.0f} mm about its middle; the hoop holds {machine.hoop_mm[0]:g} × "
            f"{machine.hoop_mm[1]:g} mm."
        )
    return ""
