"""The simulated RIP: takes a print PDF, makes a plate per ink, refuses line inks it does not know.

It judges from the file and the ticket that lies beside it, as a machine would, and from nothing else.
"""

import io
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from PIL import Image

from horismos.alignment.seeing import Sighting, look_for
from horismos.artwork.lines import inks_of_page, line_objects
from horismos.artwork.mixing_hints import printing_order
from horismos.artwork.model import PROCESS_INKS, Artwork
from horismos.artwork.parting import art_alone
from horismos.artwork.read import open_pdf, read_bytes
from horismos.destinations import Destination
from horismos.errors import CannotRead
from horismos.materials import material_of
from horismos.rendering import PageView, Plate, plates
from horismos.rendering.png import png_of
from horismos.roles import LineRole
from horismos.sheet.mark_kinds import kind_of
from horismos.simulation.printer import printed
from horismos.units import MM_PER_INCH

__all__ = ["RipPlate", "RipResult", "printed_picture", "rip"]

PLATE_PIXELS, PLATE_PPI = 6_000_000, 150.0
"""[ours] pixels of a plate, and how fine: a simulated RIP shows plates, it does not print them."""
MARKS_PPI, MARKS_ROOM_MM, MARK_OFF_MM = 200.0, 6.0, 0.5
SIZE_OFF_MM = 0.5
"""[ours] so far may a page be from the size that its ticket says, and a mark from its place."""
HEAVY_MM = 10.0
"""[ours] the heaviest place is sought in squares of this side, side by side: less dries with what lies around it."""
S_PER_M2 = 40.0
"""[ours] how long a square metre takes, for each pass."""


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
    """What came of a print PDF: plates in the order in which they are laid down, or the reason for refusing it.

    ``picture`` is the sheet as it comes out, as PNG at ``ppi``, ``longer`` by which fraction it did so along the feed;
    ``time_s`` how long it took, ``ink_percent`` how much ink lies on the heaviest place, all inks together.
    """

    refused: str
    plates: tuple[RipPlate, ...]
    ppi: float
    size_mm: tuple[float, float]
    picture: bytes = b""
    longer: float = 0.0
    time_s: float = 0.0
    ink_percent: float = 0.0


def rip(
    pdf: bytes, destination: Destination, ticket: Mapping[str, Any] | None = None, preset: str = "usual", seed: int = 1
) -> RipResult:
    """Take a print PDF, with the ticket that lies beside it, into one of the hot folders.

    Raises NotFound for a hot folder that there is none of; CannotRead, LimitExceeded or Cancelled from the engine.
    """
    chosen = destination.rip.preset(preset)
    artwork = read_bytes(pdf)
    page = artwork.pages[0]
    size = page.size_mm
    ppi = min(chosen.ppi, PLATE_PPI, math.sqrt(PLATE_PIXELS / (size[0] * size[1] / MM_PER_INCH**2)))
    refused = _refused(pdf, artwork, destination, ticket)
    if refused:
        return RipResult(refused, (), ppi, size)
    made = plates(pdf, ppi, inks=page.ink_names)
    if not made:
        raise CannotRead("The RIP made no plate.")
    with open_pdf(pdf) as opened:
        order = printing_order(opened)
    made = sorted(made, key=lambda plate: order.index(plate.ink) if plate.ink in order else len(order))
    shown = tuple(_shown(plate, destination) for plate in made)
    inks = [plate for plate, one in zip(made, shown, strict=True) if one.prints]
    return RipResult(
        "", shown, ppi, size, _picture(pdf, artwork, destination, ppi), _longer(ticket, seed),
        size[0] * size[1] / 1e6 * chosen.passes * S_PER_M2, _heaviest(inks, ppi),
    )


def _heaviest(inks: Sequence[Plate], ppi: float) -> float:
    """How much ink lies on the heaviest place, in per cent, all inks together."""
    total = sum((plate.tint.astype(np.float32) for plate in inks), np.zeros((1, 1), np.float32)) * (100 / 255)
    side = max(1, min(round(HEAVY_MM * ppi / MM_PER_INCH), *total.shape))
    return float(np.asarray(Image.fromarray(total).reduce(side)).max())


def _refused(pdf: bytes, artwork: Artwork, destination: Destination, ticket: Mapping[str, Any] | None) -> str:
    """Why a print PDF is refused, in words; empty where it is not."""
    page = artwork.pages[0]
    unknown = " ".join(
        f"The line ink “{ink.name}” is not in the name table of {destination.title}"
        + (f"; it wants “{destination.name_of(ink.role)}”." if isinstance(ink.role, LineRole) else ".")
        for ink in inks_of_page(artwork, page, destination)
        if ink.kind == "line" and destination.role_named(ink.name) is None
    )
    if unknown or ticket is None:
        return unknown
    sheet = ticket["sheet"]
    meant, size = (sheet["width_mm"], sheet["length_mm"]), page.size_mm
    if max(abs(a - b) for a, b in zip(meant, size, strict=True)) > SIZE_OFF_MM:
        return (
            f"The page is {size[0]:.1f} × {size[1]:.1f} mm; the ticket says {meant[0]:.1f} × {meant[1]:.1f} mm: it "
            f"came at {size[0] / meant[0] * 100:.1f} % across and {size[1] / meant[1] * 100:.1f} % along. "
            "Send it at 100 %."
        )
    missing = _missing(pdf, artwork, destination, ticket)
    if missing:
        numbers = ", ".join(map(str, missing))
        return (
            f"Registration mark{'s' if len(missing) > 1 else ''} {numbers} of {len(ticket['marks'])} cannot be found "
            "in the file; it could be printed but not cut. Release the job again."
        )
    return ""


def _missing(pdf: bytes, artwork: Artwork, destination: Destination, ticket: Mapping[str, Any]) -> list[int]:
    """The marks of a ticket that are not printed where it has them."""
    if not ticket["marks"]:
        return []
    sheet = printed(pdf, destination, material_of({}), MARKS_PPI)
    k, out = MARKS_PPI / MM_PER_INCH, []
    for mark in ticket["marks"]:
        x, y, reach = mark["x_mm"], mark["y_mm"], mark["arm_mm"] + MARKS_ROOM_MM
        bright = sheet.part((x - reach, y - reach, x + reach, y + reach))
        opens = mark["opens"][0], mark["opens"][1]
        seen = look_for(bright, kind_of(mark["kind"]), mark["arm_mm"] * k, mark["weight_mm"] * k, opens)
        middle = reach * k
        if not isinstance(seen, Sighting) or math.dist((seen.column, seen.row), (middle, middle)) > MARK_OFF_MM * k:
            out.append(int(mark["number"]))
    return out


def printed_picture(pdf: bytes, destination: Destination) -> bytes:
    """A print PDF as it comes out of the printer, as PNG. Raises CannotRead."""
    artwork = read_bytes(pdf)
    size = artwork.pages[0].size_mm
    ppi = min(PLATE_PPI, math.sqrt(PLATE_PIXELS / (size[0] * size[1] / MM_PER_INCH**2)))
    return _picture(pdf, artwork, destination, ppi)


def _picture(pdf: bytes, artwork: Artwork, destination: Destination, ppi: float) -> bytes:
    """The sheet as it comes out: what prints, without its lines."""
    page = artwork.pages[0]
    art = art_alone(artwork, page, line_objects(artwork, page, destination))
    with PageView.of_art(art, page) as view:
        return png_of(view.render((0.0, 0.0, *page.size_mm), ppi))


def _longer(ticket: Mapping[str, Any] | None, seed: int) -> float:
    """By which fraction the media came out longer along the feed, drawn from what it gives."""
    gives = material_of(ticket or {}).gives
    return float(np.random.default_rng(seed).normal() * gives.stretch_y / 100)


def _shown(plate: Plate, destination: Destination) -> RipPlate:
    role = destination.role_named(plate.ink) if plate.ink not in PROCESS_INKS else None
    line_role = role if isinstance(role, LineRole) else None
    out = io.BytesIO()
    Image.fromarray(np.asarray(255 - plate.tint, dtype=np.uint8)).save(out, "PNG", optimize=False)
    return RipPlate(plate.ink, line_role, line_role is None, plate.coverage, out.getvalue())
