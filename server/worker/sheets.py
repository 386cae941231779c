"""Work on sheets: copies nested, sheets that several jobs share laid out and rehearsed."""

import time
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from jobs import models
from jobs.store.cases import analysis_key, standing_of
from jobs.store.children import LOOKING_S, run_step
from jobs.store.files import keep
from jobs.store.shared import keep_sheet, keep_trouble, queue_layout, sheet_key, stored_sheet
from jobs.store.works import begin, hold, log

from horismos.errors import Cancelled, HorismosError, NotReady
from horismos.sheet import Placed
from horismos.workflow.nest import Nested, Nesting
from horismos.workflow.nest import nest as nest_copies
from worker.context import Result, StepResult, TaskContext

__all__ = ["kept_rehearsal", "lay", "nest_job", "rehearse", "sheet_of"]

HEARS_EVERY_S = 0.3
SHOWS_EVERY_S = 0.8
MOST_SHOWN = 600
"""[ours] copies that are shown while they are nested; more are told of in figures alone."""


def sheet_of(work: models.Work) -> models.SharedSheet:
    """The shared sheet of a piece of work as it stands now."""
    assert work.shared_id is not None
    return models.SharedSheet.objects.select_related("material", "destination").get(pk=work.shared_id)


def _ask(task: TaskContext, step: str, sheet: models.SharedSheet, *arguments: Any, what: str) -> Any:
    """What a child finds on a shared sheet: one that has met none but the files of its jobs."""
    return run_step(
        f"together:{step}", *arguments, key=f"shared-{sheet.pk}", seconds=LOOKING_S, tell=task.tell,
        cancelled=task.cancelled, what=what,
    )


def lay(work: models.Work, task: TaskContext) -> Result:
    """Lay a shared sheet out and plan its cut."""
    sheet = sheet_of(work)
    standing = sheet_key(sheet)
    try:
        found: StepResult = _ask(task, "lay", sheet, stored_sheet(sheet), what="Laying the sheet out")
    except Cancelled:
        raise
    except HorismosError as error:
        with hold(work):
            keep_trouble(sheet, str(error), standing)
        return None
    with hold(work):
        keep_sheet(sheet, found, standing)
        if sheet_key(sheet_of(work)).key != standing.key:
            queue_layout(sheet)
    return None


def nest_job(work: models.Work, task: TaskContext) -> Result:
    """Nest the copies of a job, or of all jobs on a shared sheet; stopped by a person, the best so far is kept."""
    if work.shared_id is not None:
        return _nest_shared(work, task)
    job = models.Job.objects.select_related("order", "material", "revision", "analysis").get(pk=work.job_id)
    asked = work.arguments
    now, gap = standing_of(job), asked["gap_mm"]
    case = replace(now.case, layout=replace(now.case.layout, gap_mm=gap))
    wanted = Nesting.from_json(task.run_step("nesting", job, case, str(asked["turn"]), what="Reading the outline"))
    found = _nested(work, task, wanted)
    with hold(work) as job:
        if analysis_key(job) != now.key:
            raise NotReady("The job was changed while it was nested.", "Look at it and nest it again.")
        job.layout = _with_copies(job.layout, found, wanted, gap)
        job.save(update_fields=["layout"])
        log(job, None, f"Nested: {len(found.placed)} copies on {found.length_mm:.0f} mm")
        begin(job, models.WorkKind.ANALYSE)
    return None


def _nest_shared(work: models.Work, task: TaskContext) -> Result:
    sheet = sheet_of(work)
    standing, gap = sheet_key(sheet), work.arguments["gap_mm"]
    stored = stored_sheet(sheet)
    stored = replace(stored, layout=replace(stored.layout, gap_mm=gap))
    wanted = Nesting.from_json(_ask(task, "nesting", sheet, stored, what="Reading the outlines"))
    found = _nested(work, task, wanted)
    with hold(work):
        if sheet_key(sheet_of(work)).key != standing.key:
            raise NotReady("The sheet was changed while it was nested.", "Look at it and nest it again.")
        sheet.layout = _with_copies(sheet.layout, found, wanted, gap)
        sheet.save(update_fields=["layout"])
        queue_layout(sheet)
    return None


def _with_copies(layout: Mapping[str, Any], found: Nested, wanted: Nesting, gap: float | None) -> dict[str, Any]:
    """A layout with the copies where they were nested, in place of rows and columns."""
    kept = {key: value for key, value in layout.items() if key not in ("columns", "turned", "gap_mm")}
    return {
        **kept, **({} if gap is None else {"gap_mm": gap}), "placed": _plain(found.placed),
        "placed_of": wanted.placed_of, "rows_mm": wanted.rows_mm,
    }


def _plain(copies: Sequence[Placed]) -> list[dict[str, Any]]:
    return [{"matrix": list(copy.matrix), "item": copy.item, "sheet": copy.sheet} for copy in copies]


def _nested(work: models.Work, task: TaskContext, wanted: Nesting) -> Nested:
    """Nest, telling how far it is and showing the best so far."""
    seconds, begun, heard, shown = float(work.arguments["seconds"]), time.monotonic(), [0.0], [0.0]
    so_far: list[Nested] = []

    def better(found: Nested) -> None:
        so_far[:] = [found]

    def enough() -> bool:
        now = time.monotonic()
        if now - heard[0] < HEARS_EVERY_S:
            return False
        heard[0] = now
        if so_far and now - shown[0] > SHOWS_EVERY_S and len(so_far[0].placed) <= MOST_SHOWN:
            shown[0] = now
            best = {"length_mm": so_far[0].length_mm, "placed": _plain(so_far[0].placed)}
            models.Work.objects.filter(pk=work.pk).update(result=best)
        length = f"{so_far[0].length_mm:.0f} mm" if so_far else "nothing shorter yet"
        rows = "" if wanted.rows_mm is None else f", rows {wanted.rows_mm:.0f} mm"
        task.tell(min((now - begun) / max(seconds, 1.0), 1.0), length + rows)
        return task.cancelled()

    return nest_copies(wanted, seconds, better, enough)


def rehearse(work: models.Work, task: TaskContext) -> Result:
    """Print, load and cut a shared sheet as it stands so many times."""
    sheet = sheet_of(work)
    key, stored = sheet_key(sheet).key, stored_sheet(sheet)
    loads, seed = int(work.arguments["loads"]), int(work.arguments["seed"])
    found: StepResult = _ask(task, "rehearse", sheet, stored, loads, seed, what="The rehearsal")
    with hold(work):
        if sheet_key(sheet_of(work)).key != key:
            raise NotReady("The sheet was changed while it was rehearsed.", "Look at it and rehearse it again.")
        models.SharedSheet.objects.filter(pk=sheet.pk).update(rehearsal=kept_rehearsal(found, key))
    return None


def kept_rehearsal(found: Mapping[str, Any], key: str) -> dict[str, Any]:
    """What came of a rehearsal as it is kept, its picture in the store, with the key of what was rehearsed."""
    worst = found["worst"]
    if worst is not None:
        worst = {**{k: v for k, v in worst.items() if k != "png"}, "sha256": keep(worst["png"]) if worst["png"] else ""}
    return {"key": key, "counts": found["counts"], "figures": found["figures"], "worst": worst}
