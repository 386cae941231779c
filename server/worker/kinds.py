"""What each kind of work does: what the store holds to a child, what the child found into the store.

What is written is written in one transaction in which the worker still holds the work, to the job as it stands then.
"""

from collections.abc import Callable, Iterator, Mapping
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import replace
from threading import Event
from typing import Any

from bench import hot_folder
from bench.loadings import before_of, print_of
from django.utils import timezone
from jobs import models
from jobs.store.analyses import keep_analysis, keep_failure, keep_page
from jobs.store.cases import Standing, case_of, destination_of, package_key, remember, standing_of
from jobs.store.check_sheets import check_sheet_of, parsed
from jobs.store.files import content_of, keep
from jobs.store.shared import queue_layout, sheet_key
from jobs.store.stacks import stack_key
from jobs.store.taking_in import arrival_of, content_to_take, follow_size, keep_questions, keep_taken
from jobs.store.works import begin, hold, steps_of

from horismos.artwork.kinds import FileKind
from horismos.errors import Asks, Cancelled, HorismosError, NotFound, NotReady
from horismos.mending import Recipe, Step, step
from horismos.roles import LineRole
from horismos.workflow.mend import to_remember
from worker import sheets
from worker.context import Result, StepResult, TaskContext
from worker.releasing import release

__all__ = ["KINDS"]

RESIZES = frozenset(["scale", "fit-page", "turn"])
"""The mends after which the finished piece has another size."""


def _job(work: models.Work) -> models.Job:
    """The job of a piece of work as it stands now."""
    return models.Job.objects.select_related("order", "material", "revision", "analysis").get(pk=work.job_id)


def _take_in(work: models.Work, task: TaskContext) -> Result:
    """Make the working form of a job's original, or keep what it leaves open; then look at it.

    An SVG is seen as vectors at once. What a second renderer says of it is heard while the page is looked at; where
    that one differs the file is taken in again, as pixels, and looked at again.
    """
    if not _done_before(work) and not _taken(work, task.part(0.0, 0.4)):
        return None
    with _second_opinion(work, task) as heard:
        found = _looked(work, task.part(0.4, 0.9))
        with _failing(work):
            render_difference = heard()
    if render_difference:
        _taken(work, task.part(0.5, 0.6), render_difference)
        found = _looked(work, task.part(0.6, 0.9))
    if _make_again(work, task.part(0.9, 0.95)):
        found = _looked(work, task.part(0.95, 1.0))
    _keep_looked(work, found)
    return None


def _taken(work: models.Work, task: TaskContext, render_difference: float = 0.0) -> bool:
    """Take a job's original in as a revision that the stage shows; False where something is to be said first."""
    job = _job(work)
    arrival = replace(arrival_of(job), render_difference=render_difference)
    try:
        with _failing(work):
            found: StepResult = task.run_step(
                "take_in", job, content_to_take(job), arrival, job.page, what="Taking the file in",
            )
    except Asks as asks:
        with hold(work) as job:
            keep_questions(job, asks)
        return False
    if found["pdf"] is not None:
        keep(found["pdf"])
    with hold(work) as job:
        made = _done_before(work)
        revision = keep_taken(job, found, made)
        keep_page(job, revision, found)
        _note(work, revision)
    return True


def _make_again(work: models.Work, task: TaskContext) -> bool:
    """Make the lines of a job anew of the file that took the place of another one; where that fails, say why.

    Whether the job has another revision then.
    """
    job = _job(work)
    again = job.intake.get("make_again")
    if not again or job.revision is None:
        return False
    made: StepResult | None = None
    try:
        asked = step("make-lines", make=again["make"], page=job.page)
        made = task.run_step("mend", job, case_of(job), asked, None, [], what="Making the lines anew")
        keep(made["pdf"])
        words = f"Lines made anew of the new file: {_changed(again['figures'], made['lines'])} {made['said']}"
    except HorismosError as why:
        words = f"The lines could not be made anew: {why}"
    with hold(work) as job:
        job.intake = {k: v for k, v in job.intake.items() if k != "make_again"}
        if made is None:
            notes = [*job.intake.get("notes", []), {"severity": "look", "words": words}]
            job.intake = {**job.intake, "notes": notes}
        else:
            taken = job.revision
            assert taken is not None
            job.revision = models.Revision.objects.create(
                job=job, number=taken.number + 1, parent=taken, sha256=made["sha256"], file_name=taken.file_name,
                said=words, proof=made["proof"], steps=made["steps"],
            )
        job.save(update_fields=["intake", "revision"])
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
def _second_opinion(work: models.Work, task: TaskContext) -> Iterator[Callable[[], float]]:
    """Ask in how far a second renderer draws a job's SVG differently, beside all else; 0 for every other file."""
    job = _job(work)
    if job.intake.get("kind") != FileKind.SVG:
        yield lambda: 0.0
        return
    over = Event()
    beside = replace(task, tell=lambda share, what: None, cancelled=over.is_set)
    with ThreadPoolExecutor(1) as thread:
        content, arrival = content_to_take(job), arrival_of(job)
        asked = thread.submit(
            beside.run_step, "opinion", job, content, arrival, what="Comparing the file", apart="opinion"
        )
        try:
            yield lambda: _awaited(asked, task)
        finally:
            over.set()


def _awaited(asked: Future[float], task: TaskContext) -> float:
    """What was asked for beside, waited for as long as nobody stops the work."""
    task.tell(0.9, "comparing with a second renderer")
    while True:
        try:
            return asked.result(0.1)
        except TimeoutError:
            if task.cancelled():
                raise Cancelled from None


@contextmanager
def _failing(work: models.Work) -> Iterator[None]:
    """Keep with the job why it could not be looked at."""
    try:
        yield
    except Asks:
        raise
    except HorismosError as error:
        with hold(work) as job:
            keep_failure(job, error)
        raise


def _done_before(work: models.Work) -> int | None:
    """The number of the revision that this work, or a worker that died at it, has made already."""
    result = models.Work.objects.values_list("result", flat=True).get(pk=work.pk)
    return result.get("revision") if result else None


def _note(work: models.Work, revision: models.Revision) -> None:
    models.Work.objects.filter(pk=work.pk).update(result={"revision": revision.number})


def _analyse(work: models.Work, task: TaskContext) -> Result:
    """Read, check, lay out and plan a job as it stands."""
    _keep_looked(work, _looked(work, task))
    return None


Looked = tuple[models.Revision, Standing, StepResult]


def _looked(work: models.Work, task: TaskContext) -> Looked:
    """What a child finds on a job as it stands."""
    job = _job(work)
    assert job.revision is not None
    with _failing(work):
        now = standing_of(job)
        return job.revision, now, task.run_step("look", job, now.case, now.checked, now.before)


def _keep_looked(work: models.Work, looked: Looked) -> None:
    revision, now, found = looked
    with hold(work) as job:
        keep_analysis(job, revision, found, now)
        for sheet in models.SharedSheet.objects.filter(shares__job=job, releases=None):
            if sheet_key(sheet).key != sheet.key:
                queue_layout(sheet)


def _mend(work: models.Work, task: TaskContext) -> Result:
    """Carry out one step, or all that are safe, as a new revision, then look at the job again."""
    if not _done_before(work):
        job = _job(work)
        before = job.revision
        if before is None:
            raise NotReady("The job has no artwork yet.")
        ask_for = task.part(0.0, 0.5)
        now = standing_of(job)
        analysis = getattr(job, "analysis", None)
        report = now.before if analysis is not None and analysis.key == now.key else None
        step, then, recipe = _asked(work)
        if recipe is not None:
            found: StepResult = ask_for.run_step("mend_by_recipe", job, now.case, report, recipe, what="The recipe")
        elif step is not None:
            found = ask_for.run_step("mend", job, now.case, step, report, then, what="The mend")
        else:
            found = ask_for.run_step("mend_safely", job, now.case, report, what="Mending")
        keep(found["pdf"])
        with hold(work) as job:
            last = job.revisions.order_by("-number").first()
            assert last is not None
            job.revision = models.Revision.objects.create(
                job=job, number=last.number + 1, parent=before, sha256=found["sha256"],
                file_name=before.file_name, said=found["said"], proof=found["proof"], steps=found["steps"],
            )
            job.save(update_fields=["revision"])
            told_of = {"revision": job.revision.number, **{k: found.get(k, []) for k in ("skipped", "refused")}}
            models.Work.objects.filter(pk=work.pk).update(result=told_of)
            if step and step.mend in RESIZES:
                follow_size(job, found["finished"])
            told = to_remember(step) if step else None
            for other in remember(job, *told) if told else ():
                begin(other, models.WorkKind.ANALYSE)
    _keep_looked(work, _looked(work, task.part(0.5, 1.0)))
    return models.Work.objects.values_list("result", flat=True).get(pk=work.pk)


def _asked(work: models.Work) -> tuple[Step | None, list[Step], Recipe | None]:
    """The step that a mend is to carry out with those that follow it, or the recipe; neither: all that is safe."""
    if work.arguments.get("recipe"):
        return None, [], Recipe.from_json(work.arguments["recipe"])
    if work.arguments.get("safe"):
        return None, [], None
    return *steps_of(work.arguments), None


def _preview(work: models.Work, task: TaskContext) -> Result:
    """Carry out one step to be looked at; the job stays as it is."""
    job = _job(work)
    now = standing_of(job)
    analysis = getattr(job, "analysis", None)
    report = now.before if analysis is not None and analysis.key == now.key else None
    step, then = steps_of(work.arguments)
    found: StepResult = task.run_step("mend", job, now.case, step, report, then, what="The preview")
    return {"sha256": keep(found["pdf"]), **{key: found[key] for key in ("said", "proof", "places")}}


def _try_sheet(work: models.Work, task: TaskContext) -> Result:
    """Say what a draft of a check sheet would change in a job; only the checks that it touches are run."""
    arguments: Mapping[str, Any] = work.arguments
    scope, subject = str(arguments["scope"]), str(arguments["subject"])
    job = _job(work)
    draft = check_sheet_of(job, (scope, subject, parsed(scope, subject, arguments)))
    now = standing_of(job)
    if now.before is None:
        raise NotReady("The job has not been checked yet.", "Wait for the check.")
    found: StepResult = task.run_step("try_sheet", job, case_of(job, draft), now.before)
    return found


def _rip(work: models.Work, task: TaskContext) -> Result:
    """The simulated RIP takes a print PDF out of its hot folder."""
    made = models.Release.objects.select_related("job").get(pk=work.arguments["release"])
    kept = next((f for f in made.files if f["name"].endswith("-print.pdf")), None)
    if kept is None:
        raise NotFound("The hot folder holds no such file.", "Release the job again.")
    preset = str(work.arguments["preset"])
    found: StepResult = task.run_step(
        "rip", made.job, content_of(kept["sha256"]), destination_of(made.job), made.ticket, preset, made.pk,
        what="The RIP",
    )
    made.plates = [{**{k: v for k, v in p.items() if k != "png"}, "sha256": keep(p["png"])} for p in found["plates"]]
    made.rip_refused = found["refused"]
    made.rip_state = models.RipState.REFUSED if found["refused"] else models.RipState.DONE
    if not found["refused"]:
        made.preset, made.longer, made.picture = preset, found["longer"], keep(found["picture"])
        made.printed = timezone.now()
    with hold(work):
        made.save(update_fields=[
            "plates", "rip_refused", "rip_state", "preset", "longer", "picture", "printed",
        ])
    hot_folder.clear(made)
    return {"time_s": found["time_s"]}


def _rehearse(work: models.Work, task: TaskContext) -> Result:
    """Print, load and cut a job as it stands so many times; then look at it again, by what came of it."""
    if work.shared_id is not None:
        return sheets.rehearse(work, task)
    job = _job(work)
    key, case = package_key(job), replace(case_of(job), rehearsed=None)
    loads, seed = int(work.arguments["loads"]), int(work.arguments["seed"])
    found: StepResult = task.run_step("rehearse", job, case, loads, seed, what="The rehearsal")
    with hold(work) as job:
        if package_key(job) != key:
            raise NotReady("The job was changed while it was rehearsed.", "Look at it and rehearse it again.")
        job.rehearsal = sheets.kept_rehearsal(found, key)
        job.save(update_fields=["rehearsal"])
        begin(job, models.WorkKind.ANALYSE)
    return None


def _scan(work: models.Work, task: TaskContext) -> Result:
    """The camera of the cutter looks for the marks of a sheet that was laid in, and reads its code."""
    loading = models.Loading.objects.select_related("release__job").get(pk=work.arguments["loading"])
    first = work.arguments.get("first")
    found: StepResult = task.run_step_of(
        "bench:scan", loading.release.job, print_of(loading.release), before_of(loading),
        tuple(first) if first else None, what="The camera",
    )
    seen = [{**{k: v for k, v in one.items() if k != "png"}, "sha256": keep(one["png"])} for one in found["seen"]]
    with hold(work):
        models.Loading.objects.filter(pk=loading.pk).update(seen=seen, code=found["code"])
    return None


def _stack(work: models.Work, task: TaskContext) -> Result:
    """Write the files of a job's stack of fabric."""
    job = _job(work)
    key, case, revision = stack_key(job), case_of(job), job.revision
    if key != work.arguments["key"] or revision is None:
        raise NotReady("The stack was changed after its files were asked for.", "Look at it and write it again.")
    found: StepResult = task.run_step_of("stack:written", job, case, job.stack, what="Writing the stack")
    files = [
        {**{k: v for k, v in one.items() if k != "data"}, "sha256": keep(one["data"]), "bytes": len(one["data"])}
        for one in found["files"]
    ]
    facts = {k: v for k, v in found.items() if k != "files"}
    with hold(work) as job:
        if stack_key(job) != key:
            raise NotReady("The stack was changed while it was written.", "Look at it and write it again.")
        models.StackPackage.objects.get_or_create(
            job=job, key=key, defaults={"revision": revision, "stack": job.stack, "files": files, "facts": facts}
        )
    return None


KINDS: dict[models.WorkKind, Callable[[models.Work, TaskContext], Result]] = {
    models.WorkKind.TAKE_IN: _take_in,
    models.WorkKind.ANALYSE: _analyse,
    models.WorkKind.TRY_SHEET: _try_sheet,
    models.WorkKind.MEND: _mend,
    models.WorkKind.PREVIEW: _preview,
    models.WorkKind.RELEASE: release,
    models.WorkKind.RIP: _rip,
    models.WorkKind.SCAN: _scan,
    models.WorkKind.REHEARSE: _rehearse,
    models.WorkKind.NEST: sheets.nest_job,
    models.WorkKind.SHEET: sheets.lay,
    models.WorkKind.STACK: _stack,
}
