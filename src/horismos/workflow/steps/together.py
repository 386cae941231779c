"""Sheets that several jobs share: laid out, nested, released."""

from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

from horismos.checking import Report, check_whole
from horismos.destinations import Destination
from horismos.materials import Material
from horismos.sheet import Layout, Turn
from horismos.sheet.placing import print_of_all
from horismos.workflow.fitting import Shop, fitting_together
from horismos.workflow.nest import nesting_together
from horismos.workflow.plan import SheetJob, item_of_case, plan_together
from horismos.workflow.release import release_together
from horismos.workflow.showing.sheet import cuts_shown, sheets_shown
from horismos.workflow.steps.job import packed, rehearsed
from horismos.workflow.steps.stored import StoredCase, case_of

__all__ = ["StoredShare", "StoredSheet", "fits", "lay", "nesting", "rehearse", "release"]

Plain = dict[str, Any]
Tell = Callable[[float, str], None]


@dataclass(frozen=True)
class StoredShare:
    """What a job has on the sheet; its artwork lies in the store."""

    case: StoredCase
    quantity: int
    turn: Turn


@dataclass(frozen=True)
class StoredSheet:
    """A sheet of several jobs, whose artwork lies in the store."""

    name: str
    shares: tuple[StoredShare, ...]
    material: Material
    destination: Destination
    layout: Layout


def _shares(stored: StoredSheet) -> list[SheetJob]:
    return [SheetJob(case_of(one.case), one.quantity, one.turn) for one in stored.shares]


def _standing(stored: StoredSheet, shares: Sequence[SheetJob]) -> tuple[Layout, bool]:
    """The layout for the outlines as they are now, and whether they have changed: copies stay where they lie."""
    layout = stored.layout
    if not layout.placed:
        return layout, False
    now = print_of_all([item_of_case(share, stored.destination) for share in shares])
    return replace(layout, placed_of=now), now != layout.placed_of


def lay(stored: StoredSheet, tell: Tell) -> Plain:
    """Lay the sheet out and plan its cut. ``changed``: outlines are others than those that copies were placed by."""
    tell(0.0, "reading the artworks")
    shares = _shares(stored)
    tell(0.4, "laying out and planning")
    layout, changed = _standing(stored, shares)
    planned = plan_together(shares, stored.material, stored.destination, layout)
    return {
        "sheets": [asdict(sheet) for sheet in sheets_shown(planned)],
        "cuts": [asdict(cut) for cut in cuts_shown(planned)], "placed_of": planned.placed_of, "changed": changed,
    }


def fits(stored: StoredSheet, shop: Shop, tell: Tell) -> list[Plain]:
    """By which changes a sheet on which jobs do not fit would hold a copy of each."""
    cases = [share.case for share in _shares(stored)]
    found = fitting_together(cases, stored.layout, stored.destination, stored.material, shop)
    return [asdict(one) for one in found]


def nesting(stored: StoredSheet, turn: str, tell: Tell) -> Plain:
    """What nesting takes, without artwork, as ``Nesting.to_json`` gives it; ``turn`` holds for the copies of all."""
    shares = [replace(share, turn=Turn(turn)) for share in _shares(stored)]
    return nesting_together(shares, stored.material, stored.destination, stored.layout).to_json()


def release(stored: StoredSheet, also: Sequence[str], tell: Tell) -> list[Plain]:
    """Check every job once more, and write the packages, one a sheet; ``also`` are formats beside HP-GL."""
    shares, reports = _shares(stored), []
    for i, share in enumerate(shares):
        reports.append(check_whole(
            share.case.artwork, share.case.terms,
            lambda part, what, i=i: tell(0.4 * (i + part) / len(shares), what),  # type: ignore[misc]
        ).report)
    layout, _ = _standing(stored, shares)
    return packed(release_together(
        stored.name, shares, reports, stored.material, stored.destination, layout,
        lambda part, what: tell(0.4 + part * 0.55, what), also,
    ))


def rehearse(stored: StoredSheet, loads: int, seed: int, tell: Tell) -> Plain:
    """Write the packages as they would be released, and print, load and cut them so many times."""
    shares = _shares(stored)
    layout, _ = _standing(stored, shares)
    packages = release_together(
        stored.name, shares, [Report(()) for _ in shares], stored.material, stored.destination, layout,
        lambda part, what: tell(part * 0.4, what),
    )
    return rehearsed(packages, loads, seed, lambda part, what: tell(0.4 + part * 0.6, what))
