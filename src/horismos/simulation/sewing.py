"""The simulated sewing machine: reads a stitch file and sews it, needle point by needle point.

It knows the file and nothing of how it came about.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from horismos.errors import CannotWrite
from horismos.formats.embroidery import UNIT_MM, ColourStop, Sewn, StitchFormat, read_stitches
from horismos.machines import SewingMachine
from horismos.paths.contour import Floats

__all__ = ["Halt", "SewnOut", "needle_times", "sew", "stitch_seconds", "too_large"]


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
    seams = [np.asarray(record.points * UNIT_MM, np.float64) for record in sewn]
    refused = too_large(seams, machine) if seams else "The file has no stitch."
    if refused:
        return SewnOut((), (), (), 0.0, 0.0, 0, refused)
    at_s = needle_times(seams, machine)
    halts, before = [], 0
    for record in records:
        if isinstance(record, ColourStop):
            halts.append(Halt(float(at_s[before - 1][-1]) if before else 0.0, before, record.colour))
        else:
            before += 1
    thread = sum(float(np.hypot(*np.diff(seam, axis=0).T).sum()) for seam in seams)
    return SewnOut(tuple(seams), tuple(at_s), tuple(halts), float(at_s[-1][-1]), thread, len(seams) - 1)


def needle_times(seams: Sequence[Floats], machine: SewingMachine) -> list[Floats]:
    """When the needle is down in each point of seams in mm, (n, 2) each, in s from the beginning.

    Before a further seam the thread is cut; the frame moves from the middle of the hoop, and from seam to seam.
    """
    out: list[Floats] = []
    now, at = 0.0, np.zeros(2)
    for seam in seams:
        now += (machine.trim_s if out else 0.0) + float(np.hypot(*(seam[0] - at))) / machine.jump_mm_s
        lengths = np.hypot(*np.diff(seam, axis=0).T)
        out.append(now + np.concatenate([[0.0], np.cumsum(stitch_seconds(lengths, machine))]))
        now, at = float(out[-1][-1]), seam[-1]
    return out


def too_large(seams: Sequence[Floats], machine: SewingMachine) -> str:
    """Why the hoop does not hold seams in mm about its middle; empty where it does."""
    wide, high = (2 * np.abs(np.concatenate(seams)).max(axis=0)).tolist()
    across, up = machine.hoop_mm
    if wide <= across and high <= up:
        return ""
    return f"The stitches are {wide:.0f} × {high:.0f} mm about their middle; the hoop holds {across:g} × {up:g} mm."
