"""Steps of the bench: a sheet on the bed, the camera over it, a look under the pointer, a run of the cutter."""

import json
from collections import OrderedDict
from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np

from horismos.cutting import Tool
from horismos.errors import DoesNotFit
from horismos.release.following import Released, RipReport
from horismos.rendering.png import png_of
from horismos.roles import LineRole
from horismos.simulation.bed import Side
from horismos.simulation.camera import Camera, Picture
from horismos.simulation.rip import printed_picture
from horismos.workflow.bench import (
    EYE_GLARE,
    BedState,
    aligned_on,
    bed_of,
    camera_of,
    cross_at,
    played,
    pointer_at,
    scanned,
)
from horismos.workflow.figures import cut_figure
from horismos.workflow.follow import as_it_came, followed
from horismos.workflow.showing.bench import laid_shown, playback_shown
from horismos.workflow.steps.stored import Content

__all__ = ["Run", "figure", "follow", "laid", "run", "scan", "under"]

OPEN_SHEETS = 3
CROSS_MM, CROSS_WIDE_MM = 8.0, 0.2
"""[ours] the cross that is cut to calibrate the pointer by."""
_open: OrderedDict[str, Camera] = OrderedDict()
Tell = Callable[[float, str], None]


@dataclass(frozen=True)
class Run:
    """What is run: the cut file of a side of a package, on the sheet that lies there, if any.

    ``shifts`` are origins that were set anew, each by how much, in mm, for the operations from a number on.
    """

    content: Content
    ticket: Mapping[str, Any]
    before: BedState | None
    shifts: Mapping[int, tuple[float, float]]
    side: Side


def laid(before: BedState, tell: Tell) -> dict[str, Any]:
    """What is known of a sheet as it lies, as LaidShown. Raises DoesNotFit where it cannot be held, CannotRead."""
    return asdict(laid_shown(before))


def run(asked: Run, tell: Tell) -> dict[str, Any]:
    """The cutter's run, as PlaybackShown: as it lands, or as it is meant where the sheet is not to be cut yet."""
    before = asked.before if asked.before and not aligned_on(asked.before).trouble else None
    made = played(before, asked.ticket, asked.content.read(), asked.shifts, asked.side is Side.BACK)
    return asdict(playback_shown(made, asked.ticket, before is not None, asked.side.value))


def figure(ticket: Mapping[str, Any], side: Side, role: LineRole, tool: Tool, tell: Tell) -> dict[str, Any]:
    """The figure of a test cut, cut with the tool of a role, as Tested. Raises DoesNotFit."""
    return asdict(cut_figure(ticket, side, role, tool))


def follow(
    files: Mapping[str, Content], ticket: Mapping[str, Any], report: Mapping[str, Any], tell: Tell
) -> dict[str, Any]:
    """The cut that follows what a RIP reports: for each repeat its ticket, its files by name, its print and a picture.

    ``refused`` says in words why it cannot; then there are no sheets. ``findings`` are ids of checks.
    """
    released = Released(ticket, {name: content.read() for name, content in files.items()})
    asked = RipReport.from_json(report)
    try:
        made = followed(released, asked, lambda share, what: tell(share * 0.8, what))
    except DoesNotFit as why:
        return {"refused": str(why), "findings": [], "sheets": []}
    sheets = []
    for repeat, its in enumerate(made.followed.tickets, 1):
        pdf = as_it_came(released, asked, repeat)
        own = {file.name: file.data for file in made.followed.files if file.repeat == repeat}
        base = f"{released.base}-repeat-{repeat}" if asked.copies > 1 else released.base
        said = json.dumps(its, indent=2, ensure_ascii=False).encode()
        sheets.append({
            "ticket": its, "picture": printed_picture(pdf, released.destination),
            "files": own | {f"{base}-print.pdf": pdf, f"{base}-ticket.json": said},
        })
    return {"refused": "", "findings": list(made.findings), "sheets": sheets}


def scan(content: Content, before: BedState, first: tuple[float, float] | None, tell: Tell) -> dict[str, Any]:
    """What the camera has found: the marks with their pictures as PNG, and what the code says."""
    tell(0.05, "looking at the sheet")
    found = scanned(before, content.read(), first, tell)
    return {
        "code": found.code,
        "seen": [
            {
                "number": one.number, "place": one.place, "how": one.how, "why": one.why,
                "png": _png(one.picture) if one.picture else None,
                "spot": one.picture.pixel_of(*one.place) if one.picture and one.place else None,
            }
            for one in found.seen
        ],
    }


def under(
    content: Content, before: BedState, key: str, carriage: tuple[float, float], side_mm: float, cross: bool,
    tell: Tell,
) -> bytes:
    """What a person sees of a square round where the pointer shines, as PNG; ``key`` says which loading it is.

    ``cross``: the one to calibrate the pointer by is cut already.
    """
    if key not in _open:
        _open[key] = camera_of(before, content.read(), EYE_GLARE)
        while len(_open) > OPEN_SHEETS:
            _open.popitem(last=False)
    _open.move_to_end(key)
    picture = _open[key].looks(pointer_at(before, carriage), side_mm, np.random.default_rng(before.laying.seed))
    return _png(_with_cross(picture, cross_at(bed_of(before))) if cross else picture)


def _with_cross(picture: Picture, cross: tuple[float, float]) -> Picture:
    """What is seen with a cross cut through what lies there."""
    column, row = picture.pixel_of(*cross)
    arm, half = CROSS_MM / 2 * picture.per_mm, CROSS_WIDE_MM / 2 * picture.per_mm
    rows, columns = np.indices(picture.bright.shape)
    across, along = np.abs(columns - column), np.abs(rows - row)
    cut = ((across <= arm) & (along <= half)) | ((along <= arm) & (across <= half))
    return replace(picture, bright=np.where(cut, np.float32(40.0), picture.bright))


def _png(picture: Picture) -> bytes:
    grey = np.clip(picture.bright, 0, 255).astype(np.uint8)
    return png_of(np.repeat(grey[..., None], 3, axis=2))
