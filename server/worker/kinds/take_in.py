"""Taking in: a working form of a customer's file, or what the file leaves open; then the job is looked at."""

from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from dataclasses import replace

from jobs import models
from jobs.store.analyses import keep_page
from jobs.store.arrivals import note_faults, note_first_state
from jobs.store.corrected import LIKE, earlier_of, keep_apart, keep_like
from jobs.store.customers import habits_of
from jobs.store.files import content_of
from jobs.store.log import log
from jobs.store.revisions import way_to
from jobs.store.shelf import shop_row
from jobs.store.snapshots import JobSnapshot
from jobs.store.taking_in import keep_made_again, keep_questions, keep_taken

from horismos.artwork.kinds import FileKind
from horismos.errors import Asks, HorismosError
from horismos.mending import step
from horismos.roles import LineRole
from worker import looking
from worker.register import carries_out
from worker.task import Result, StepResult, Task

__all__ = ["take_in"]


@carries_out(models.WorkKind.TAKE_IN)
def take_in(task: Task) -> Result:
    """Make the working form of a job's original, or keep what it leaves open; then look at it.

    An SVG is seen as vectors at once. What a second renderer says of it is heard while the page is looked at; where
    that one differs the file is taken in again, as pixels, and looked at again.
    """
    try:
        return _taken_in(task)
    except HorismosError:
        _note_first_state(task)
        raise


def _taken_in(task: Task) -> Result:
    job = task.job()
    taken = job if task.result else _take(task, job, (0.0, 0.4))
    if taken is None:
        _note_first_state(task)
        return None
    with _second_opinion(task, taken) as heard:
        looked = looking.look(task, (0.4, 0.9))
        with looking.keeping_failure(task):
            difference = heard()
    if difference:
        _take(task, job, (0.5, 0.6), difference)
        looked = looking.look(task, (0.6, 0.9))
    if _make_again(task, looked[0]):
        looked = looking.look(task, (0.95, 1.0))
    looking.keep_looked(task, looked)
    with task.commit() as now:
        note_faults(now.row, looked[1]["report"])
    _lay_over(task)
    if shop_row().sorts and _by_itself(task, *looked):
        looking.keep_looked(task, looking.look(task, (0.98, 1.0)))
    _find_like(task)
    _note_first_state(task)
    return task.result


def _note_first_state(task: Task) -> None:
    with task.commit():
        note_first_state(task.work.job_id)


def _lay_over(task: Task) -> None:
    """Find out in what a corrected file differs from the one before."""
    job = task.job()
    kept = job.row.intake.get("corrected")
    if not kept or "now" in kept:
        return
    old, way = job.row.revisions.filter(number=kept["number"]).first(), way_to(job.row.revision)
    if old is None or not way:
        return
    changes, error = None, ""
    both = content_of(old.sha256), content_of(way[0].sha256)
    try:
        changes = task.run_step(
            "pile:apart", f"{old.sha256}{way[0].sha256}", *both, job.destination,
            what="Comparing with the file before", part=(0.92, 0.95),
        )
    except HorismosError as why:
        error = str(why)
    with task.commit() as now:
        keep_apart(now.row, way[0].number, changes, error)


def _find_like(task: Task) -> None:
    """Find out of which of the customer's open jobs this file may be a correction."""
    job = task.job()
    if job.row.revision is None or job.row.intake.get("earlier") or job.row.version > 1:
        return
    for other in earlier_of(job.row):
        one, its = way_to(other.revision)[0].sha256, way_to(job.row.revision)[0].sha256
        try:
            share = task.run_step(
                "pile:alike", f"{one}{its}", content_of(one), content_of(its), job.row.page,
                what="Comparing with files of the customer", part=(0.99, 1.0),
            )
        except HorismosError:
            continue  # then nobody is asked
        if share >= LIKE:
            with task.commit() as now:
                keep_like(now.row, other)
            return


def _by_itself(task: Task, job: JobSnapshot, looked: StepResult) -> bool:
    """Mend what needs no person, and do what is always done for the customer; whether anything was done."""
    if not looked["report"]:
        return False
    try:
        found: StepResult | None = task.run_step(
            "job:sort", job.pool_key, job.case, looked["report"], habits_of(job.row.customer),
            what="Mending by itself", part=(0.95, 0.98),
        )
    except HorismosError as why:
        with task.commit() as now:
            log(now.row, None, f"Could not be mended by itself: {why}")
        return False
    if found is None:
        return False
    before = task.result
    looking.keep_mended(task, job, found, by_itself=True)
    with task.commit() as now:
        task.result = before
        log(now.row, None, f"Mended by itself: {found['said']}")
    return True


def _take(
    task: Task, job: JobSnapshot, part: tuple[float, float], render_difference: float = 0.0
) -> JobSnapshot | None:
    """Take a job's original in as a revision that the stage shows; None where something is to be said first."""
    arrival = replace(job.arrival, render_difference=render_difference)
    try:
        with looking.keeping_failure(task):
            found: StepResult = task.run_step(
                "job:take_in", job.pool_key, job.original, arrival, job.row.page, what="Taking the file in", part=part,
            )
    except Asks as asks:
        with task.commit() as now:
            keep_questions(now.row, asks)
        return None
    with task.commit() as now:
        revision = keep_taken(now.row, found, task.result["revision"] if task.result else None)
        keep_page(now.row, revision, found)
        task.result = {"revision": revision.number}
    return now


def _make_again(task: Task, job: JobSnapshot) -> bool:
    """Make the lines of a job anew of the file that took the place of another one; where that fails, say why.

    Whether the job has another revision then.
    """
    again = job.row.intake.get("make_again")
    if not again:
        return False
    made: StepResult | None = None
    try:
        asked = step("make-lines", make=again["make"], page=job.row.page)
        made = task.run_step(
            "job:mend", job.pool_key, job.case, asked, None, [], what="Making the lines anew", part=(0.9, 0.95)
        )
        words = f"Lines made anew of the new file: {_changed(again['figures'], made['lines'])} {made['said']}"
    except HorismosError as why:
        words = f"The lines could not be made anew: {why}"
    with task.commit() as now:
        keep_made_again(now.row, made, words)
    return made is not None


def _changed(before: Mapping[str, list[float]], now: Mapping[str, list[float]]) -> str:
    """How lines differ from those that were made of the file before, by role: nodes and length."""
    parts = []
    for role, (nodes, long) in now.items():
        was = before.get(role)
        old = f", {was[0]:.0f} nodes and {was[1]:.1f} mm before" if was else ", new"
        parts.append(f"{LineRole(role).words} with {nodes:.0f} nodes and {long:.1f} mm{old}")
    return "; ".join(parts) + "."


@contextmanager
def _second_opinion(task: Task, job: JobSnapshot) -> Iterator[Callable[[], float]]:
    """Ask in how far a second renderer draws a job's SVG differently, beside all else; 0 for every other file."""
    if job.row.intake.get("kind") != FileKind.SVG:
        yield lambda: 0.0
        return
    key = f"{job.pool_key}opinion"
    with task.beside(
        "job:opinion", key, job.original, job.arrival, what="Comparing with a second renderer"
    ) as heard:
        yield heard
