"""The bench: a released sheet on the simulated cutter's bed, looked at, aligned, and cut as it then lands."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from horismos.alignment import Fit
from horismos.destinations import destination_of
from horismos.materials import material_of
from horismos.paths.contour import Floats
from horismos.simulation import Playback, play
from horismos.simulation.bed import Bed, Laying, MarkSeen, Side, code_anywhere, code_at, fit_of, laid, scan, trouble_of
from horismos.simulation.camera import GLARE, Camera
from horismos.simulation.printer import Back, Print, printed

__all__ = [
    "EYE_GLARE", "POINTER_OFF_MM", "Aligned", "BedState", "Scanned", "aligned_on", "bed_of", "camera_of", "cross_at",
    "played", "pointer_at", "scanned", "stored_seen",
]

POINTER_OFF_MM = (0.31, -0.18)
"""[ours] so far from where its maker says does the pointer of the simulated cutter truly shine."""
EYE_GLARE = 0.35
"""[ours] a person looks from the side: less of the lamp's mirror image than the camera has."""
Tell = Callable[[float, str], None]


@dataclass(frozen=True, eq=False)
class BedState:
    """A sheet on the bed: its ticket, how it was laid in, how much longer it was printed, and what is known of it.

    ``front`` is how it lay, and what was seen of it, when its front was cut; of a sheet that lies face down. ``code``
    is what was read where its code should lie, None while nobody has looked.
    """

    ticket: Mapping[str, Any]
    laying: Laying
    printed_longer: float = 0.0
    seen: tuple[MarkSeen, ...] = ()
    front: "BedState | None" = None
    code: str | None = None


@dataclass(frozen=True, eq=False)
class Scanned:
    """What the camera has found, and what the code of the sheet says; None where the sheet has none."""

    seen: tuple[MarkSeen, ...]
    code: str | None


@dataclass(frozen=True, eq=False)
class Aligned:
    """What the marks come to: the fit, None while it is not known, and why the sheet is not to be cut yet."""

    bed: Bed
    fit: Fit | None
    trouble: str


def bed_of(before: BedState) -> Bed:
    """The sheet on the bed. Raises DoesNotFit where it cannot be held, CannotRead."""
    return laid(before.ticket, before.laying, before.printed_longer)


def aligned_on(before: BedState) -> Aligned:
    """What the marks come to that were seen."""
    bed = bed_of(before)
    trouble = trouble_of(bed, before.seen) or _wrong_code(before)
    return Aligned(bed, fit_of(bed, before.seen), trouble)


def _wrong_code(before: BedState) -> str:
    """What the code of the sheet says against cutting it; empty where nothing."""
    meant = before.ticket.get("code")
    if before.code is None or meant is None or before.code == meant:
        return ""
    if before.code:
        return f"The code on this sheet is {before.code}; this job is {meant}. Fetch the job of the sheet."
    return "There is no code where it should be: the sheet lies the other way round, or it is another one."


def camera_of(before: BedState, pdf: bytes, glare: float = GLARE) -> Camera:
    """The camera over the sheet, which sees the print, or face down the liner with what was cut through it."""
    bed = bed_of(before)
    side: Print | Back
    if before.laying.side is Side.BACK:
        side = _back(before, bed)
    else:
        material = material_of(before.ticket)
        side = printed(pdf, destination_of(before.ticket), material)
    return Camera(side, bed.load, glare=glare)


def _back(before: BedState, bed: Bed) -> Back:
    corners = np.array(before.ticket["aligning"], float).reshape(-1, 3)
    lie = corners[:, :2]
    if before.front is not None:
        lie = _landed(before.front, lie)
    wide = bed.size_mm[0]
    turned = np.column_stack([wide - lie[:, 0], lie[:, 1]])
    return Back(bed.size_mm, turned, np.tile([-1.0, 1.0], (len(turned), 1)), corners[:, 2])


def scanned(before: BedState, pdf: bytes, first: tuple[float, float] | None, tell: Tell) -> Scanned:
    """Let the camera look for the marks, and read the code where the sheet has one."""
    bed, camera = bed_of(before), camera_of(before, pdf)
    random = np.random.default_rng(before.laying.seed)
    seen = scan(bed, camera, random, first, lambda share, what: tell(0.1 + share * 0.8, what))
    found, box = fit_of(bed, seen), before.ticket.get("code_box")
    reads = destination_of(before.ticket).cutter.dialect.reads_code
    if not box or not reads or before.laying.side is Side.BACK:
        return Scanned(tuple(seen), None)
    tell(0.95, "reading the code")
    read = code_at(camera, found, box, random) if found else ""
    return Scanned(tuple(seen), read or code_anywhere(camera, bed, random))


def pointer_at(before: BedState, carriage: tuple[float, float]) -> tuple[float, float]:
    """Where the pointer shines while the blade is over a place: by what its maker says, and by what is wrong of it."""
    x, y = bed_of(before).cutter.pointer_mm
    return carriage[0] + x + POINTER_OFF_MM[0], carriage[1] + y + POINTER_OFF_MM[1]


def played(
    before: BedState | None, ticket: Mapping[str, Any], hpgl: bytes, shifts: Mapping[int, tuple[float, float]],
    back: bool = False,
) -> Playback:
    """The run of a cut file, its strokes where they land on the sheet; without a sheet on the bed as they are meant.

    ``shifts`` are origins that were set anew between two operations: by how much, in mm, for each operation from
    there on. Raises CannotRead for what is not HP-GL.
    """
    run = play(hpgl, ticket, back)
    if before is None:
        return run
    ends = np.cumsum([0, *(len(move.points) for move in run.moves)])
    every = np.concatenate([move.points for move in run.moves]) if run.moves else np.empty((0, 2))
    moved = np.zeros_like(every)
    for move, a, b in zip(run.moves, ends[:-1], ends[1:], strict=True):
        moved[a:b] = shifts.get(move.operation, (0.0, 0.0))
    landed = _landed(before, every) + moved @ np.linalg.inv(bed_of(before).load.origin_and_axes[1])
    return replace(run, moves=tuple(
        replace(move, points=landed[a:b]) for move, a, b in zip(run.moves, ends[:-1], ends[1:], strict=True)
    ))


def _landed(before: BedState, places: Floats) -> Floats:
    """Where on the sheet cuts land that are meant for places, by the marks as they were seen."""
    bed = bed_of(before)
    meant, seen = bed.known(before.seen)
    return replace(bed.load, meant=meant, seen=seen).cut_at(places)


def cross_at(bed: Bed) -> tuple[float, float]:
    """Where a cross is cut to calibrate the pointer: in the leader, beside everything, in mm before the cutter."""
    wide, _ = bed.size_mm
    return wide / 2, bed.cutter.leader_mm / 4


def stored_seen(data: Sequence[Mapping[str, Any]]) -> tuple[MarkSeen, ...]:
    """Marks as they were kept, without their pictures."""
    return tuple(
        MarkSeen(int(one["number"]), tuple(one["place"]) if one["place"] else None, one["how"], one["why"])
        for one in data
    )
