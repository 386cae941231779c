"""The bed of the simulated cutter: a sheet laid on it askew, its marks looked for, jogged to, and what they come to.

Nothing here knows where the sheet lies but the loading itself: the camera and the person look, the cutter fits.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any

import numpy as np
import zxingcpp
from numpy.random import Generator

from horismos.alignment import Fit, fit
from horismos.alignment.seeing import Sighting, Unseen, look_for
from horismos.destinations import destination_of
from horismos.errors import BadValue, CannotRead, DoesNotFit
from horismos.machines import Cutter
from horismos.materials import material_of
from horismos.paths.contour import Floats
from horismos.sheet.code import CODE_MM
from horismos.sheet.mark_kinds import Mark, kind_of
from horismos.simulation.camera import Camera, Picture
from horismos.simulation.loading import Load, loaded, spread_of
from horismos.simulation.printer import SLIT_MM

__all__ = ["Bed", "Laying", "MarkSeen", "Side", "code_anywhere", "code_at", "fit_of", "laid", "scan", "trouble_of"]

LOOK_MM = 44.0
"""[ours] the side of what the camera sees at once."""
RING_MM = 26.0
"""[ours] how far apart it looks where it does not find a mark at once: no mark is cut by the edge of every picture."""
MOST_DARK = 9
"""[ours] a ground that is dark in so many looks is dark everywhere, and no art that it happened to look at."""
MOST_RESIDUAL_MM, MOST_STRETCH, MOST_SKEW_DEG = 0.5, 0.01, 0.5
"""[ours] marks further off than that were read wrongly, or are not those of this sheet: it is not cut by them."""
STRIP_MM = 60.0
"""[ours] a code is looked for in squares of that side along the front of a sheet."""
MOST_SHIFT_MM, MOST_TURN_DEG = 300.0, 30.0
Tell = Callable[[float, str], None]


class Side(StrEnum):
    """Which side of the sheet looks up."""

    FRONT = "front"
    BACK = "back"


@dataclass(frozen=True)
class Laying:
    """How a person lays the sheet in; what is None comes as it comes, drawn from the seed.

    ``turned``: its trailing edge is in front. Stretch is a fraction, of both axes.
    """

    seed: int = 1
    side: Side = Side.FRONT
    turned: bool = False
    shift_x_mm: float | None = None
    shift_y_mm: float | None = None
    turn_deg: float | None = None
    stretch: float | None = None
    skew_deg: float | None = None

    @classmethod
    def from_json(cls, data: Mapping[str, Any]) -> "Laying":
        """The laying that plain values say. Raises BadValue."""
        try:
            made = cls(**{**data, "side": Side(data.get("side", "front"))})
        except (TypeError, ValueError) as error:
            raise BadValue("That is no way to lay a sheet in.") from error
        limits = {
            "shift_x_mm": MOST_SHIFT_MM, "shift_y_mm": MOST_SHIFT_MM, "turn_deg": MOST_TURN_DEG, "stretch": 0.05,
            "skew_deg": 5.0,
        }
        for name, most in limits.items():
            value = getattr(made, name)
            if value is not None and not -most <= value <= most:
                raise BadValue(f"{name}: {value:g}.", f"Give {-most:g} to {most:g}.")
        return made


@dataclass(frozen=True, eq=False)
class MarkSeen:
    """A mark as it was seen: its place before the cutter in mm, by whom; or why it was not found.

    ``how`` is "camera", "hand", "left out" or, while nothing is known, empty.
    """

    number: int
    place: tuple[float, float] | None = None
    how: str = ""
    why: str = ""
    picture: Picture | None = None


@dataclass(frozen=True, eq=False)
class Bed:
    """A sheet before the cutter: the marks of the side that looks up, how it lies, how large it is in mm."""

    marks: tuple[Mark, ...]
    load: Load
    cutter: Cutter
    size_mm: tuple[float, float]

    @property
    def outline(self) -> Floats:
        """Where its corners truly lie, shape (4, 2), from the lower left one counter-clockwise."""
        wide, long = self.size_mm
        return self.load.landed(np.array([[0.0, 0.0], [wide, 0.0], [wide, long], [0.0, long]]))

    def known(self, seen: "Sequence[MarkSeen]") -> tuple[Floats, Floats]:
        """Where the marks that were found are meant, and where they were seen, both shape (n, 2) in mm."""
        meant = {mark.number: (mark.x_mm, mark.y_mm) for mark in self.marks}
        found = [one for one in seen if one.place is not None]
        return (
            np.array([meant[one.number] for one in found]).reshape(-1, 2),
            np.array([one.place for one in found]).reshape(-1, 2),
        )


def marks_of(ticket: Mapping[str, Any], side: Side) -> tuple[Mark, ...]:
    """What the cutter is told to look for: the marks of the print, or face down the aligning figure's corners."""
    if side is Side.FRONT:
        return tuple(
            Mark(
                m["number"], m["x_mm"], m["y_mm"], m["opens"][0], m["opens"][1], m["arm_mm"], m["weight_mm"],
                kind_of(m["kind"]),
            )
            for m in ticket["marks"]
        )
    wide = ticket["sheet"]["width_mm"]
    return tuple(
        Mark(number, wide - x, y, -1, 1, side_mm, SLIT_MM, kind_of("bracket-in")) for number, (x, y, side_mm)
        in enumerate(ticket.get("aligning", ()), 1)
    )


def laid(ticket: Mapping[str, Any], laying: Laying, printed_longer: float = 0.0) -> Bed:
    """Lay a sheet in. ``printed_longer`` is by which fraction the printer stretched it along the feed.

    Raises DoesNotFit where a roller would stand on nothing or the media does not reach, CannotRead for a ticket that
    cannot be understood.
    """
    try:
        marks = marks_of(ticket, laying.side)
        destination, sheet = destination_of(ticket), ticket["sheet"]
        material = material_of(ticket)
        size = float(sheet["width_mm"]), float(sheet["length_mm"])
    except (KeyError, TypeError, ValueError) as error:
        raise CannotRead("The ticket of the package cannot be understood.", "Release the job again.") from error
    if laying.side is Side.BACK and not marks:
        raise DoesNotFit("This job has no back cut.", "Lay it in with its face up.")
    places = np.array([(mark.x_mm, mark.y_mm) for mark in marks]).reshape(-1, 2)
    cutter = destination.room
    spread = spread_of(cutter, material, places)
    load = loaded(places, np.array(size) / 2, spread, np.random.default_rng(laying.seed))
    given = {
        "dx": laying.shift_x_mm, "dy": laying.shift_y_mm, "turn": laying.turn_deg, "skew": laying.skew_deg,
        "stretch_x": None if laying.stretch is None else laying.stretch * 100,
        "stretch_y": None if laying.stretch is None else laying.stretch * 100,
    }
    lies = replace(load.lies, **{key: value for key, value in given.items() if value is not None})
    lies = replace(lies, stretch_y=lies.stretch_y + printed_longer * 100)
    bed = Bed(marks, replace(load, lies=lies, turned=laying.turned, seen=places, missed=()), cutter, size)
    _held(bed)
    return bed


def _held(bed: Bed) -> None:
    """Raise DoesNotFit where a roller would stand on nothing, or the media does not reach the rollers."""
    wide, long = bed.size_mm
    along = np.linspace(0, long, 41)
    inner = sum(bed.cutter.rollers_mm) / 2
    for x, limit, sign, which in ((0.0, inner, 1, "left"), (wide, wide - inner, -1, "right")):
        if bed.load.turned:
            x = wide - x
        edge = bed.load.landed(np.column_stack([np.full(41, x), along]))
        off = (edge[:, 0] - limit) * sign
        if off.max() > 0:
            at = float(edge[int(off.argmax()), 1])
            raise DoesNotFit(
                f"The {which} roller would stand beside the media at {at:.0f} mm of the feed.",
                "Lay the sheet straighter, or further over.",
            )
    front = float(bed.outline[:, 1].min())
    if front > bed.cutter.leader_mm:
        raise DoesNotFit(
            f"The media begins {front:.0f} mm behind the rollers.", "Push it in further, so that they hold it."
        )


def scan(
    bed: Bed, camera: Camera, random: Generator, first: tuple[float, float] | None = None,
    tell: Tell = lambda share, what: None,
) -> list[MarkSeen]:
    """Let the camera look for every mark. ``first`` is where a person has jogged to the first one, in mm.

    Each next mark is looked for where those before it have it.
    """
    out: list[MarkSeen] = []
    for i, mark in enumerate(bed.marks):
        tell(i / len(bed.marks), f"looking for mark {mark.number} of {len(bed.marks)}")
        meant = np.array([[mark.x_mm, mark.y_mm]])
        at = _expected(bed, out, meant, first)
        reach = bed.cutter.search_mm if not any(seen.place for seen in out) and first is None else RING_MM * 1.5
        out.append(_looked(camera, mark, at, reach, random))
    return out


def _expected(bed: Bed, seen: Sequence[MarkSeen], meant: Floats, first: tuple[float, float] | None) -> Floats:
    """Where a mark should lie by those that were seen before it."""
    found = fit_of(bed, seen)
    if found is not None:
        return np.asarray(found.lands(meant)[0])
    was, now = bed.known(seen)
    if not len(was) and first is not None:
        was, now = np.array([(bed.marks[0].x_mm, bed.marks[0].y_mm)]), np.array([first])
    return np.asarray(meant[0] + (now[0] - was[0] if len(was) else 0.0))


def _looked(camera: Camera, mark: Mark, at: Floats, reach: float, random: Generator) -> MarkSeen:
    """Look at a place, then in rings round it; the first picture is kept where nothing is found."""
    first: tuple[Picture, Unseen] | None = None
    dark = 0
    for dx, dy in _rings(reach):
        picture = camera.looks((float(at[0] + dx), float(at[1] + dy)), LOOK_MM, random)
        k = picture.per_mm
        seen = look_for(picture.bright, mark.kind, mark.arm_mm * k, mark.weight_mm * k, (mark.along_x, mark.along_y))
        if isinstance(seen, Sighting):
            return MarkSeen(mark.number, picture.place_of(seen.column, seen.row), "camera", picture=picture)
        first = first or (picture, seen)
        dark += seen is Unseen.DARK
        if seen is Unseen.GLARE or dark >= MOST_DARK:
            break
    assert first is not None
    return MarkSeen(mark.number, why=first[1].value, picture=first[0])


def _rings(reach: float) -> list[tuple[float, float]]:
    """Places round one, nearest first, no further than ``reach``."""
    steps = np.arange(-int(reach // RING_MM), int(reach // RING_MM) + 1) * RING_MM
    found = [(float(x), float(y)) for x in steps for y in steps if np.hypot(x, y) <= reach]
    return sorted(found, key=lambda place: np.hypot(*place))


def fit_of(bed: Bed, seen: Sequence[MarkSeen]) -> Fit | None:
    """How the sheet lies by the marks that were seen; None while fewer than two are."""
    meant, places = bed.known(seen)
    if len(meant) < 2 or np.ptp(meant, axis=0).max() < 1.0:
        return None
    return fit(meant, places)


def trouble_of(bed: Bed, seen: Sequence[MarkSeen]) -> str:
    """Why it is not to be cut as it stands, in words with the next step; empty where it can be."""
    for one in seen:
        if one.place is None and one.how != "left out":
            return f"Mark {one.number}: {one.why or 'not looked at yet'}. Jog to it by hand, or leave it out."
    if not bed.marks:
        return ""
    found = fit_of(bed, seen)
    if found is None:
        return "Two marks at least have to be known."
    worst = np.hypot(*found.residuals.T)
    if worst.max() > MOST_RESIDUAL_MM:
        number = [one for one in seen if one.place is not None][int(worst.argmax())].number
        return f"Mark {number} lies {worst.max():.2f} mm from where the others have it. Look at it again."
    if abs(found.turn_deg) > MOST_TURN_DEG:
        return "The sheet lies the other way round. Load it with its leading edge in front."
    if max(abs(found.stretch_x), abs(found.stretch_y)) > MOST_STRETCH or abs(found.skew_deg) > MOST_SKEW_DEG:
        return "The marks lie where no media stretches to. Are these the marks of this job?"
    return ""


def code_anywhere(camera: Camera, bed: Bed, random: Generator) -> str:
    """What a code says that lies somewhere at the front of a sheet; empty where none is read.

    For a sheet that is another one, whose code lies where that has it.
    """
    wide, long = bed.size_mm
    begins = min(bed.cutter.leader_mm, long) - STRIP_MM / 2
    for x in np.arange(0.0, wide, STRIP_MM - CODE_MM):
        picture = camera.looks((float(x + STRIP_MM / 2), float(begins + STRIP_MM / 2)), STRIP_MM, random)
        read = zxingcpp.read_barcodes(picture.bright.astype(np.uint8))
        if read:
            return str(read[0].text)
    return ""


def code_at(camera: Camera, found: Fit, box: Sequence[float], random: Generator) -> str:
    """What the code says that should lie in a box of the sheet, in mm; empty where none is read."""
    middle = found.lands(np.array([[(box[0] + box[2]) / 2, (box[1] + box[3]) / 2]]))[0]
    side = max(box[2] - box[0], box[3] - box[1]) + 10.0
    picture = camera.looks((float(middle[0]), float(middle[1])), side, random)
    read = zxingcpp.read_barcodes(picture.bright.astype(np.uint8))
    return str(read[0].text) if read else ""
