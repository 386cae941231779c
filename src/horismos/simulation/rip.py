"""The simulated RIP: takes a print PDF, makes a plate per ink, refuses line inks it does not know.

It judges from the file alone, as a machine would, and never from what the house knows of the job.
"""

import io
import math
from dataclasses import dataclass

import numpy as np
from PIL import Image

from horismos.artwork.laid_down import printing_order
from horismos.artwork.lines import inks_of_page
from horismos.artwork.model import PROCESS_INKS
from horismos.artwork.read import open_pdf, read_bytes
from horismos.destinations import Destination
from horismos.errors import CannotRead
from horismos.rendering import Plate, plates
from horismos.roles import LineRole
from horismos.units import MM_PER_INCH

__all__ = ["RipPlate", "RipResult", "rip"]

PLATE_PIXELS = 6_000_000
"""[ours] pixels of a plate; a simulated RIP shows plates, it does not print them."""


@dataclass(frozen=True, eq=False)
class RipPlate:
    """A plate: ``role`` is the line role of its ink, if it has one; such a plate is not printed."""

    ink: str
    role: LineRole | None
    prints: bool
    coverage: float
    png: bytes


@dataclass(frozen=True, eq=False)
class RipResult:
    """What came of a print PDF: plates in the order in which they are laid down, or the reason for refusing it."""

    refused: str
    plates: tuple[RipPlate, ...]
    ppi: float
    size_mm: tuple[float, float]


def rip(
    pdf: bytes, destination: Destination
) -> RipResult:
    """Take a print PDF. Raises CannotRead, LimitExceeded or Cancelled from the engine."""
    artwork = read_bytes(pdf)
    page = artwork.pages[0]
    size = page.size_mm
    refused = " ".join(
        f"The line ink “{ink.name}” is not in the name table of {destination.title}"
        + (f"; it wants “{destination.name_of(ink.role)}”." if isinstance(ink.role, LineRole) else ".")
        for ink in inks_of_page(artwork, page, destination)
        if ink.kind == "line" and destination.role_named(ink.name) is None
    )
    area_in = size[0] * size[1] / MM_PER_INCH**2
    ppi = min(150.0, math.sqrt(PLATE_PIXELS / area_in))
    if refused:
        return RipResult(refused, (), ppi, size)
    made = plates(pdf, ppi, inks=page.ink_names)
    if not made:
        raise CannotRead("The RIP made no plate.")
    with open_pdf(pdf) as opened:
        order = printing_order(opened)
    made = sorted(made, key=lambda plate: order.index(plate.ink) if plate.ink in order else len(order))
    return RipResult("", tuple(_shown(plate, destination) for plate in made), ppi, size)


def _shown(plate: Plate, destination: Destination) -> RipPlate:
    role = destination.role_named(plate.ink) if plate.ink not in PROCESS_INKS else None
    line_role = role if isinstance(role, LineRole) else None
    out = io.BytesIO()
    Image.fromarray(np.asarray(255 - plate.tint, dtype=np.uint8)).save(out, "PNG", optimize=False)
    return RipPlate(plate.ink, line_role, line_role is None, plate.coverage, out.getvalue())
