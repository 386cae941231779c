"""What each kind of work does: what the store holds to a child, what the child found into the store.

What is written is written in one transaction in which the worker still holds the work, to the job as it stands then.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from django.db import IntegrityError
from floor import hot_folder
from jobs import models
from jobs.store.analyses import keep_analysis, keep_failure, keep_page
from jobs.store.apart import LOOKING_S, ask
from jobs.store.cases import case_of, destination_of, key_of, pool_key, standing_of
from jobs.store.check_sheets import check_sheet_of, parsed
from jobs.store.files import content_of, keep
from jobs.store.taking_in import arrival_of, content_to_take, keep_questions, keep_taken
from jobs.store.works import hold

from horismos.errors import Asks, HorismosError, NotFound, NotReady
from horismos.mending import step_from

__all__ = ["KINDS", "Said"]

Result = dict[str, Any] | None
Found = dict[str, Any]


@dataclass(frozen=True)
class Said:
    """How a piece of work speaks with people: it tells how far it is, and hears whether it is to stop."""

    tell: Callable[[float, str], None]
    cancelled: Callable[[], bool]

    def part(self, begin: float, end: float) -> "Said":
        """The same for a part of the work, from one share of the whole to another."""
        return replace(self, tell=lambda share, what: self.tell(begin + share * (end - begin), what))

    def ask(self, step: str, job: models.Job, *arguments: Any, what: str = "Looking at the file") -> Any:
        """What a child finds in a job's files."""
        return ask(
            f"way:{step}", *arguments, key=pool_key(job), seconds=LOOKING_S, tell=self.tell,
            cancelled=self.cancelled, what=what,
        )


def _job(work: models.Work) -> models.Job:
    """The job of a piece of work as it stands now."""
    return models.Job.objects.select_related("order", "material", "revision", "analysis").get(pk=work.job_id)


def _take_in(work: models.Work, said: Said) -> Result:
    """Make the working form of a job's original, or keep what it leaves open; then look at it."""
    if not _done_before(work):
        job = _job(work)
        arrival = arrival_of(job)
        try:
            found: Found = said.part(0.0, 0.45).ask(
                "take_in", job, content_to_take(job), arrival, job.page, what="Taking the file in"
            )
        except Asks as asks:
            with hold(work) as job:
                keep_questions(job, asks)
            return None
        except HorismosError as error:
            with hold(work) as job:
                keep_failure(job, error)
            raise
        if found["pdf"] is not None:
            keep(found["pdf"])
        with hold(work) as job:
            revision = keep_taken(job, found)
            keep_page(job, revision, found)
            _note(work, revision)
    _look(work, said.part(0.45, 1.0))
    return None


def _done_before(work: models.Work) -> bool:
    """Whether a worker that died had made its revision already."""
    return bool(work.result and work.result.get("revision"))


def _note(work: models.Work, revision: models.Revision) -> None:
    models.Work.objects.filter(pk=work.pk).update(result={"revision": revision.number})


def _analyse(work: models.Work, said: Said) -> Result:
    """Read, check, lay out and plan a job as it stands."""
    _look(work, said)
    return None


def _look(work: models.Work, said: Said) -> None:
    job = _job(work)
    try:
        now = standing_of(job)
        found: Found = said.ask("look", job, now.case, now.checked, now.before)
    except HorismosError as error:
        with hold(work) as job:
            keep_failure(job, error)
        raise
    revision = job.revision
    assert revision is not None
    with hold(work) as job:
        keep_analysis(job, revision, found, now)


def _mend(work: models.Work, said: Said) -> Result:
    """Carry out one step as a new revision, then look at the job again."""
    if not _done_before(work):
        job = _job(work)
        before = job.revision
        if before is None:
            raise NotReady("The job has no artwork yet.")
        found: Found = said.part(0.0, 0.5).ask("mend", job, case_of(job), step_from(work.arguments), what="The mend")
        keep(found["pdf"])
        with hold(work) as job:
            last = job.revisions.order_by("-number").first()
            assert last is not None
            job.revision = models.Revision.objects.create(
                job=job, number=last.number + 1, parent=before, sha256=found["sha256"],
                file_name=before.file_name, said=found["said"], proof=found["proof"],
            )
            job.save(update_fields=["revision"])
            _note(work, job.revision)
    _look(work, said.part(0.5, 1.0))
    return None


def _try_sheet(work: models.Work, said: Said) -> Result:
    """Say what a draft of a check sheet would change in a job; only the checks that it touches are run."""
    arguments: Mapping[str, Any] = work.arguments
    scope, subject = str(arguments["scope"]), str(arguments["subject"])
    job = _job(work)
    draft = check_sheet_of(job, (scope, subject, parsed(scope, subject, arguments)))
    now = standing_of(job)
    if now.before is None:
        raise NotReady("The job has not been checked yet.", "Wait for the check.")
    found: Found = said.ask("try_sheet", job, case_of(job, draft), now.before)
    return found


def _release(work: models.Work, said: Said) -> Result:
    """Check once more, write the package, put its print PDF into the RIP's hot folder; then it is released."""
    job = _job(work)
    key, case, revision = key_of(job), case_of(job), job.revision
    assert revision is not None
    if key != work.arguments.get("key", key):
        raise NotReady("The job was changed after the release was asked for.", "Look at it and release it again.")
    found: Found = said.ask("release", job, case, what="Writing the package")
    files = [{"name": n, "sha256": keep(d), "bytes": len(d)} for n, d in found["files"].items()]
    put = hot_folder.put(job, key, found["files"])
    try:
        with hold(work) as job:
            if key_of(job) != key or job.version != work.arguments.get("version", job.version):
                raise NotReady("The job was changed while it was released.", "Look at it and release it again.")
            models.Release.objects.create(
                job=job, revision=revision, key=key, files=files, ticket=found["ticket"],
                worst_off_mm=found["worst_off_mm"],
            )
    except IntegrityError:
        return None  # somebody released just this before; the files are the same
    except BaseException:
        if not models.Release.objects.filter(job=job, key=key).exists():
            hot_folder.take_back(put)
        raise
    return None


def _rip(work: models.Work, said: Said) -> Result:
    """The simulated RIP takes a print PDF out of its hot folder."""
    made = models.Release.objects.select_related("job").get(pk=work.arguments["release"])
    kept = next((f for f in made.files if f["name"].endswith("-print.pdf")), None)
    if kept is None:
        raise NotFound("The hot folder holds no such file.", "Release the job again.")
    found: Found = said.ask("rip", made.job, content_of(kept["sha256"]), destination_of(made.job), what="The RIP")
    made.plates = [{**{k: v for k, v in p.items() if k != "png"}, "sha256": keep(p["png"])} for p in found["plates"]]
    made.rip_refused = found["refused"]
    made.rip_state = models.RipState.REFUSED if found["refused"] else models.RipState.DONE
    with hold(work):
        made.save(update_fields=["plates", "rip_refused", "rip_state"])
    hot_folder.clear(made)
    return None


KINDS: dict[models.WorkKind, Callable[[models.Work, Said], Result]] = {
    models.WorkKind.TAKE_IN: _take_in,
    models.WorkKind.ANALYSE: _analyse,
    models.WorkKind.TRY_SHEET: _try_sheet,
    models.WorkKind.MEND: _mend,
    models.WorkKind.RELEASE: _release,
    models.WorkKind.RIP: _rip,
}
