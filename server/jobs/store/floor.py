"""Sheets on the floor as the core has them: read from their rows, taken a step further, kept; and what the log says."""

from collections.abc import Callable, Iterable
from dataclasses import asdict, replace
from datetime import datetime, timedelta
from typing import Literal

from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from horismos.destinations import destination_of, destination_to_json
from horismos.errors import NotReady
from horismos.materials import LAMINATE, material_of
from horismos.sheet.layout import Makes
from horismos.workflow.floor import PrintedSheet, PrintEvent, PrintStage, SheetStage, Wait, print_after
from horismos.workflow.floor.drying import drying
from horismos.workflow.floor.sheet import Early
from jobs import models
from jobs.store.log import log
from jobs.store.queue import under_way

__all__ = [
    "OVER", "as_dry", "current_sheet", "dries", "goes_on", "keep_value", "machine_of", "must_be_free",
    "power_was_gone", "print_again", "print_goes_on", "print_key", "print_stage", "print_work", "sheet_value",
    "sheets_for", "to_print", "turn_of_cut", "turn_of_print", "waits_for",
]


OVER = tuple(stage.value for stage in SheetStage if stage.is_over)
"""Stages of a sheet to which nothing more is done."""
ON_CUTTER = tuple(stage.value for stage in SheetStage if stage.on_cutter)
"""Stages of a sheet that lies in the cutter."""
NO_TURN = OVER + ON_CUTTER


def sheet_value(row: models.Sheet) -> PrintedSheet:
    """A sheet as the core has it."""
    ticket = row.release.ticket
    early = row.early
    return PrintedSheet(
        code=ticket.get("code"), pieces=frozenset(range(1, len(ticket["placements"]) + 1)), dries=dries(row.release),
        laminates=is_laminated_after(row.release), stage=SheetStage(row.stage), printed=row.printed,
        laminated=row.laminated,
        early=Early(early["who"], early["reason"], datetime.fromisoformat(early["when"])) if early else None,
        known=row.known, unsure=row.unsure, cut=frozenset(row.cut), spoilt=frozenset(row.spoilt),
    )


def is_laminated_after(made: models.Release) -> bool:
    """Whether the order asks for a laminate over the print."""
    return bool(made.ticket.get("laminate"))


def dries(made: models.Release) -> timedelta:
    """How long a print dries before it may be cut, or laminated where its material is."""
    if Makes(made.ticket.get("makes", Makes.BOTH)) is Makes.CUT:
        return timedelta()
    rip = destination_of(made.ticket).rip
    preset = rip.preset(made.preset) if made.preset else rip.usual
    material = material_of(made.ticket)
    laminated = is_laminated_after(made) or any(stratum.kind == LAMINATE for stratum in material.strata)
    own, usual = (material.laminate_h, preset.laminate_h) if laminated else (material.dry_h, preset.dry_h)
    return drying(usual if own is None else own, made.ink_percent)


def goes_on(row: models.Sheet, step: Callable[[PrintedSheet], PrintedSheet], said: str = "") -> models.Sheet:
    """Take a sheet a step further, with nobody between; ``said`` is why it then stands so. Raises what the step raises.
    """
    with transaction.atomic():
        fresh = models.Sheet.objects.select_for_update().select_related("release__job").get(pk=row.pk)
        keep_value(fresh, step(sheet_value(fresh)), said)
    return fresh


def keep_value(row: models.Sheet, value: PrintedSheet, said: str = "") -> None:
    """Keep a sheet as it now is."""
    row.stage, row.printed, row.laminated, row.known = value.stage.value, value.printed, value.laminated, value.known
    row.unsure = value.unsure
    row.early = {**asdict(value.early), "when": value.early.when.isoformat()} if value.early else None
    row.cut, row.spoilt, row.said = sorted(value.cut), sorted(value.spoilt), said
    row.save(update_fields=["stage", "printed", "laminated", "known", "unsure", "early", "cut", "spoilt", "said"])


def print_goes_on(made: models.Release, event: PrintEvent) -> None:
    """Take a print a step further in the queue of the RIP. Raises NotReady."""
    made.rip_state = models.RipState(print_after(PrintStage(made.rip_state), event).value)


def print_key(made: models.Release) -> str:
    """By what the work is found that prints a release."""
    return f"release {made.pk}"


def print_work(made: models.Release) -> models.Work | None:
    """The work that prints a release, or is about to."""
    return under_way(made.job, models.WorkKind.RIP, key=print_key(made))


def print_stage(made: models.Release) -> models.RipState:
    """How far a print is: what the RIP was given is being printed; where its worker is gone for good, it has failed."""
    stage = models.RipState(made.rip_state)
    if stage in (models.RipState.WAITING, models.RipState.PRINTING):
        if print_work(made) is not None:
            return models.RipState.PRINTING
        return models.RipState.FAILED if stage == models.RipState.PRINTING else stage
    return stage


def to_print(made: models.Release) -> None:
    """See to it that a print waits for the RIP: one that came to nothing is printed again. Raises NotReady."""
    if print_stage(made) == models.RipState.PRINTING:
        raise NotReady("It is being printed.", "Wait until that is done, or cancel it.")
    if made.held:
        raise NotReady("It is held in the queue of the RIP.", "Let it go there first.")
    if made.rip_state == models.RipState.DONE:
        raise NotReady("It is printed.", "Say that it is to be printed again, if it has to be.")
    _to_wait(made)


def print_again(made: models.Release) -> None:
    """Let a print wait for the RIP again; its sheets so far are cut no more. Raises NotReady with one in the cutter."""
    with transaction.atomic():
        for row in made.sheets.select_for_update():
            stage = SheetStage(row.stage)
            if stage.on_cutter:
                raise NotReady("Its sheet lies in the cutter.", "Take it off first, or cut it.")
            if not stage.is_over and stage is not SheetStage.UNPRINTED:
                keep_value(row, sheet_value(row).is_cancelled(), "Printed again")
        _to_wait(made)


def _to_wait(made: models.Release) -> None:
    if made.rip_state == models.RipState.PRINTING and print_stage(made) == models.RipState.FAILED:
        print_goes_on(made, PrintEvent.FAILED)
    if made.rip_state != models.RipState.WAITING:
        print_goes_on(made, PrintEvent.AGAIN)
        made.save(update_fields=["rip_state"])


def sheets_for(made: models.Release) -> None:
    """The sheets of a release that was just made: one that is to be printed; of what is cut only, one that lies ready.
    """
    makes = Makes(made.ticket.get("makes", Makes.BOTH))
    if makes is Makes.PRINT or not made.ticket["operations"]:
        return
    cut_only = makes is Makes.CUT
    models.Sheet.objects.create(
        release=made, stage="printed" if cut_only else "unprinted", printed=timezone.now() if cut_only else None,
        place=made.pk,
    )


def current_sheet(made: models.Release) -> models.Sheet | None:
    """The sheet of a release that is next, or lies in the cutter; the last one where all are done."""
    rows = sorted(made.sheets.all(), key=lambda one: one.repeat)
    in_it = next((one for one in rows if SheetStage(one.stage).on_cutter), None)
    return in_it or next((one for one in rows if not SheetStage(one.stage).is_over), rows[-1] if rows else None)


def waits_for(row: models.Sheet) -> Wait | None:
    """What has to come before a sheet is cut."""
    return sheet_value(row).waits_for(timezone.now())


def machine_of(made: models.Release, what: Literal["printer", "cutter"]) -> tuple[str, str]:
    """The id and the title of the machine that a release is for: one may serve several destinations."""
    said = made.ticket.get("machines") or destination_to_json(destination_of(made.ticket))
    return str(said[what]["id"]), str(said[what]["title"])


def turn_of_print(made: models.Release) -> int | None:
    """Which of the prints that wait for its printer it is, counted from 1; None where it waits for none, or is held."""
    if made.held or made.ticket.get("makes") == "cut" or print_stage(made) != models.RipState.WAITING:
        return None
    before = models.Release.objects.filter(
        rip_state=models.RipState.WAITING, held=False, ticket__machines__printer__id=machine_of(made, "printer")[0]
    )
    before = before.exclude(ticket__makes="cut")
    return before.filter(Q(place__lt=made.place) | Q(place=made.place, pk__lt=made.pk)).count() + 1


def turn_of_cut(row: models.Sheet) -> int | None:
    """Which of the sheets that wait for its cutter it is, from 1; None where it lies there, is done, or held."""
    if row.held or row.stage in NO_TURN:
        return None
    before = models.Sheet.objects.exclude(stage__in=NO_TURN).filter(
        held=False, release__ticket__machines__cutter__id=machine_of(row.release, "cutter")[0]
    )
    ahead = Q(place__lt=row.place) | Q(place=row.place, repeat__lt=row.repeat)
    ahead |= Q(place=row.place, repeat=row.repeat, pk__lt=row.pk)
    return before.filter(ahead).count() + 1


def _in_the_cutter(made: models.Release) -> Iterable[models.Sheet]:
    """The sheets that lie in the cutter that a release is for."""
    lying = models.Sheet.objects.filter(stage__in=ON_CUTTER)
    cutter = machine_of(made, "cutter")
    return [row for row in lying.select_related("release__job") if machine_of(row.release, "cutter")[0] == cutter[0]]


def power_was_gone() -> None:
    """Say of all that was being cut that it has stopped: whoever starts the shop knows no more of it."""
    for row in models.Sheet.objects.filter(stage=SheetStage.CUTTING.value).select_related("release__job"):
        goes_on(row, PrintedSheet.lost_power, "The shop was started again while it was cut.")


def must_be_free(made: models.Release, who: int | None) -> None:
    """Make room in the cutter: what lies there and is not being cut is taken off. Raises NotReady while it cuts."""
    for other in _in_the_cutter(made):
        if other.release_id == made.pk:
            continue
        if SheetStage(other.stage) is SheetStage.CUTTING:
            raise NotReady(f"“{other.release.job.name}” is being cut there.", "Wait until it is done, or stop it.")
        if other.unsure:
            raise NotReady(
                f"“{other.release.job.name}” lies there, and nobody knows how far its cut has come.",
                "Look at it, and say that first.",
            )
        goes_on(other, PrintedSheet.is_taken_off, f"Taken off for “{made.job.name}”")
        log(other.release.job, who, f"Taken out of the cutter for “{made.job.name}”")


def as_dry(row: models.Sheet) -> None:
    """Let the simulated shop's clock go on until a sheet is dry."""
    value = sheet_value(row)
    if value.waits_for(timezone.now()) is Wait.DRYING and value.printed is not None:
        keep_value(row, replace(value, printed=min(value.printed, timezone.now() - value.dries)), row.said)
