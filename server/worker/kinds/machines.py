"""The simulated machines at work on what was released: the RIP, and the camera of the cutter."""

from collections.abc import Mapping, Sequence
from contextlib import suppress
from typing import Any

from bench import hot_folder
from bench.loadings import before_of, print_of
from django.utils import timezone
from jobs import models
from jobs.store.files import content_of, keep, size_of
from jobs.store.floor import goes_on, keep_value, print_goes_on, sheet_value
from jobs.store.snapshots import pool_key

from horismos.destinations import destination_of
from horismos.errors import Cancelled, HorismosError, NotFound, NotReady
from horismos.release.following import RipReport
from horismos.sheet.layout import Makes
from horismos.workflow.floor import PrintEvent, SheetStage
from worker.register import carries_out
from worker.task import Result, StepResult, Task

__all__ = ["rip", "scan"]


@carries_out(models.WorkKind.RIP)
def rip(task: Task) -> Result:
    """The simulated RIP takes a print PDF out of its hot folder."""
    made = models.Release.objects.select_related("job").get(pk=task.arguments["release"])
    kept = next((f for f in made.files if f["name"].endswith("-print.pdf")), None)
    if kept is None:
        raise NotFound("The hot folder holds no such file.", "Release the job again.")
    preset, report = str(task.arguments["preset"]), dict(task.arguments.get("report") or {})
    if made.rip_state != models.RipState.PRINTING:  # else the worker that began it is gone, and this one takes it up
        print_goes_on(made, PrintEvent.STARTED)
        made.save(update_fields=["rip_state"])
    try:
        found: StepResult = task.run_step(
            "job:rip", pool_key(made.job), content_of(kept["sha256"]), destination_of(made.ticket), made.ticket, preset,
            made.pk, what="The RIP",
        )
        cut: StepResult | None = None if found["refused"] else _followed(task, made, report)
    except Cancelled:
        _ended(made, PrintEvent.CANCELLED, "Stopped by a person.")
        raise
    except HorismosError as why:
        _ended(made, PrintEvent.FAILED, str(why))
        raise
    made.plates = [{**{k: v for k, v in p.items() if k != "png"}, "sha256": keep(p["png"])} for p in found["plates"]]
    made.rip_refused = found["refused"]
    if not found["refused"]:
        made.preset, made.longer, made.picture = preset, found["longer"], keep(found["picture"])
        made.printed, made.report, made.ink_percent = timezone.now(), report, found["ink_percent"]
    sheets = [] if cut is None else [_kept(one) for one in cut["sheets"]]
    with task.commit():
        models.Release.objects.select_for_update().get(pk=made.pk)
        print_goes_on(made, PrintEvent.REFUSED if found["refused"] else PrintEvent.REPORTED)
        made.save(update_fields=[
            "plates", "rip_refused", "rip_state", "preset", "longer", "picture", "printed", "report", "ink_percent",
        ])
        if cut is not None:
            _come_out(made, cut, sheets)
    hot_folder.clear(made)
    return {"time_s": found["time_s"]}


def _ended(made: models.Release, event: PrintEvent, why: str) -> None:
    """Say how a print ended that came to nothing."""
    made.rip_refused = why
    with suppress(NotReady):  # somebody else has said so before
        print_goes_on(made, event)
        made.save(update_fields=["rip_state", "rip_refused"])


def _followed(task: Task, made: models.Release, report: Mapping[str, Any]) -> StepResult:
    """The sheets as they came out: as they were released, or with the cut that follows what the RIP did."""
    if RipReport.from_json(report).is_plain or not made.ticket["operations"]:
        return {"refused": "", "findings": [], "sheets": [{}]}
    files = {one["name"]: content_of(one["sha256"]) for one in made.files}
    found: StepResult = task.run_step(
        "bench:follow", pool_key(made.job), files, made.ticket, report, what="The cut follows the print",
    )
    return found


def _kept(sheet: Mapping[str, Any]) -> dict[str, Any]:
    """What a sheet has of its own, its files in the store."""
    if not sheet:
        return {}
    files = [
        {"name": name, "sha256": sha256, "bytes": size_of(sha256)}
        for name, sha256 in ((name, keep(data)) for name, data in sheet["files"].items())
    ]
    return {"ticket": sheet["ticket"], "files": files, "picture": keep(sheet["picture"])}


def _come_out(made: models.Release, cut: Mapping[str, Any], sheets: Sequence[Mapping[str, Any]]) -> None:
    """Put what came out of the printer on the floor."""
    if not made.ticket["operations"] or Makes(made.ticket["makes"]) is Makes.PRINT:
        return
    rows = list(made.sheets.select_for_update().order_by("repeat"))
    fresh = [row for row in rows if row.stage == SheetStage.UNPRINTED]
    last = max((row.repeat for row in rows), default=0)
    for sheet in sheets or [{}]:
        row = fresh.pop(0) if fresh else models.Sheet(release=made, repeat=(last := last + 1), place=made.pk)
        row.ticket, row.files, row.picture = sheet.get("ticket"), sheet.get("files", []), sheet.get("picture", "")
        row.refused, row.findings = cut["refused"], cut["findings"]
        row.save()
        keep_value(row, sheet_value(row).is_printed(timezone.now()))


@carries_out(models.WorkKind.SCAN)
def scan(task: Task) -> Result:
    """The camera of the cutter looks for the marks of a sheet that was laid in, and reads its code."""
    loadings = models.Loading.objects.select_related("release__job", "sheet", "truly__release")
    loading = loadings.get(pk=task.arguments["loading"])
    first = task.arguments.get("first")
    found: StepResult = task.run_step(
        "bench:scan", pool_key(loading.release.job), print_of(loading), before_of(loading),
        tuple(first) if first else None, what="The camera",
    )
    seen = [{**{k: v for k, v in one.items() if k != "png"}, "sha256": keep(one["png"])} for one in found["seen"]]
    with task.commit():
        models.Loading.objects.filter(pk=loading.pk).update(seen=seen, code=found["code"])
        if loading.sheet is not None:
            _is_seen(loading.sheet, found["code"])
    return None


def _is_seen(sheet: models.Sheet, code: str | None) -> None:
    """Note whether the camera has found a sheet to be the one that was meant."""
    if code is None:
        return
    with suppress(NotReady):  # another sheet, or an unreadable code: the bed says so
        goes_on(sheet, lambda value: value.is_read(code))
