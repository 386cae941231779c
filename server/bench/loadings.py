"""Sheets on the cutter's bed: how they were laid in, what was seen of them, where the pointer shines."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from django.utils import timezone
from jobs import models
from jobs.store.children import run_step
from jobs.store.files import content_of
from jobs.store.floor import current_sheet
from jobs.store.shelf import destination_called
from jobs.store.snapshots import pool_key
from pydantic import TypeAdapter

from horismos.errors import NotFound
from horismos.simulation.bed import Laying, Side
from horismos.simulation.packages import cut_name
from horismos.workflow.bench import BedState, stored_seen
from horismos.workflow.showing.bench import LaidShown, PlaybackShown
from horismos.workflow.steps.bench import Run
from horismos.workflow.steps.stored import Content

__all__ = [
    "PointerShown", "before_of", "is_cut", "kept_seen", "laid_of", "loading_of", "plain",
    "pointer_of", "print_of", "run_of",
]

RUN, LAID = TypeAdapter(PlaybackShown), TypeAdapter(LaidShown)
END_S = 0.1
OLD = timedelta(days=30)
"""[ours] a calibration of the pointer that is older than this is not relied on."""


@dataclass(frozen=True)
class PointerShown:
    """Where the pointer shines from the blade, in mm; ``when`` is None where it is as its maker says."""

    x_mm: float
    y_mm: float
    who: str
    when: datetime | None
    days: int | None
    old: bool


def before_of(loading: models.Loading) -> BedState:
    """A sheet on the bed as the core has it."""
    front = loading.front
    return BedState(
        _ticket(loading, loading.release), Laying.from_json(loading.laying), loading.release.longer,
        stored_seen(loading.seen), before_of(front) if front else None, loading.code,
    )


def plain(laying: Laying) -> dict[str, object]:
    """A laying as it is kept."""
    return {**vars(laying), "side": laying.side.value}


def _ticket(loading: models.Loading | None, made: models.Release) -> dict[str, Any]:
    """The ticket of the sheet that lies there, as it came out of the printer."""
    if loading is None:
        sheet = current_sheet(made)
        return sheet.own_ticket if sheet else made.ticket
    return loading.sheet.own_ticket if loading.sheet else made.ticket


def print_of(of: models.Release | models.Loading) -> Content:
    """The print PDF of a package, or of the sheet of a loading as it came out of the printer. Raises NotFound."""
    sheet = (of.truly or of.sheet) if isinstance(of, models.Loading) else None
    made = of.release if isinstance(of, models.Loading) else of
    kept = next((f for f in (sheet.own_files if sheet else made.files) if f["name"].endswith("-print.pdf")), None)
    if kept is None:
        raise NotFound("The package holds no print.", "It is cut only: set its origin by hand.")
    return content_of(kept["sha256"])


def loading_of(made: models.Release, side: Side = Side.FRONT) -> models.Loading | None:
    """The sheet as it lies now with a side up, if it was laid in; of several the one that is next."""
    lying = made.loadings.filter(laying__side=side.value)
    sheet = current_sheet(made)
    if sheet is not None:
        lying = lying.filter(sheet=sheet)
    found = lying.select_related("sheet", "release").order_by("-pk").first()
    return found


def _shifts(loading: models.Loading | None, count: int) -> dict[int, tuple[float, float]]:
    """By how much each of so many operations is cut off, where origins were set anew between them."""
    out: dict[int, tuple[float, float]] = {}
    moved = (0.0, 0.0)
    for number in range(count):
        x, y = (loading.shifts if loading else {}).get(str(number), moved)
        moved = float(x), float(y)
        out[number] = moved
    return out


def run_of(loading: models.Loading | None, made: models.Release, side: Side) -> PlaybackShown:
    """The run of a package's cut file, as it lands where its sheet lies there. Raises NotFound."""
    sheet = loading.sheet if loading else current_sheet(made)
    contents = {file["name"]: file["sha256"] for file in (sheet.own_files if sheet else made.files)}
    ticket = _ticket(loading, made)
    name = cut_name(contents, ticket, side is Side.BACK)
    if name is None:
        raise NotFound("The package holds no such cut file.", "Choose the other side.")
    count = sum(op["side"] == side.value for op in ticket["operations"])
    before = before_of(loading) if loading else None
    asked = Run(content_of(contents[name]), ticket, before, _shifts(loading, count), side)
    found: PlaybackShown = RUN.validate_python(
        run_step("bench:run", asked, key=pool_key(made.job), what="Running the cut file")
    )
    return found


def laid_of(made: models.Release, before: BedState) -> LaidShown:
    """What is known of a sheet as it lies. Raises DoesNotFit where it cannot be held, CannotRead."""
    found: LaidShown = LAID.validate_python(
        run_step("bench:laid", before, key=pool_key(made.job), what="Looking at the bed")
    )
    return found


def is_cut(loading: models.Loading) -> bool:
    """Whether a sheet that lies there was cut to the end."""
    run = run_of(loading, loading.release, Side(loading.laying["side"]))
    return loading.stood_s >= run.total_s - END_S


def kept_seen(loading: models.Loading, number: int, place: tuple[float, float] | None) -> None:
    """Keep where a person has jogged to for a mark, or that it is left out."""
    seen = {one["number"]: one for one in loading.seen}
    was = seen.get(number, {"why": "", "sha256": None, "spot": None})
    seen[number] = {
        **was, "number": number, "place": list(place) if place else None, "how": "hand" if place else "left out",
    }
    loading.seen = sorted(seen.values(), key=lambda one: int(one["number"]))
    loading.save(update_fields=["seen"])


def pointer_of(destination: str) -> PointerShown:
    """Where the pointer of a destination's cutter shines, by the last calibration."""
    last = models.PointerOffset.objects.filter(destination_id=destination).order_by("-pk").first()
    if last is None:
        x, y = destination_called(destination).cutter.pointer_mm
        return PointerShown(x, y, "", None, None, True)
    age = timezone.now() - last.when
    return PointerShown(
        last.x_mm, last.y_mm, last.who.get_username() if last.who else "", last.when, age.days, age > OLD
    )
