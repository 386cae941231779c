"""What each kind of work does: values out of the store, a step of the workflow, values back into the store."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from django.db import transaction
from floor import hot_folder
from jobs import models
from jobs.store.analyses import keep_analysis, keep_failure, keep_plates, plates_stand, report_of
from jobs.store.cases import case_of, destination_of, earlier_of, remember, standing_of
from jobs.store.check_sheets import check_sheet_of, parsed
from jobs.store.files import keep, load
from jobs.store.taking_in import arrival_of, keep_questions, keep_taken

from horismos.checking import Finding, check_whole
from horismos.errors import Asks, HorismosError, NotFound, NotReady
from horismos.mending import step_from
from horismos.simulation import rip
from horismos.workflow import analyse, mend, plates_of, release, take_in

__all__ = ["KINDS", "Said"]

Result = dict[str, Any] | None


@dataclass(frozen=True)
class Said:
    """How a piece of work speaks with people: it tells how far it is, and hears whether it is to stop."""

    tell: Callable[[float, str], None]
    cancelled: Callable[[], bool]

    def part(self, begin: float, end: float) -> "Said":
        """The same for a part of the work, from one share of the whole to another."""
        return replace(self, tell=lambda share, what: self.tell(begin + share * (end - begin), what))


def _take_in(work: models.Work, said: Said) -> Result:
    """Make the working form of a job's original, or keep what it leaves open; then look at it."""
    job = work.job
    file = arrival_of(job, str(work.arguments.get("password", "")))
    models.Work.objects.filter(pk=work.pk).update(arguments={})  # a password is not kept
    try:
        found = take_in(file, said.part(0.0, 0.45).tell, said.cancelled)
    except Asks as asks:
        keep_questions(job, asks)
        return None
    except HorismosError as error:
        keep_failure(job, error)
        raise
    keep_taken(job, found, as_it_came=found.taken.pdf == file.data)
    _look(job, said.part(0.45, 1.0))
    return None


def _analyse(work: models.Work, said: Said) -> Result:
    """Read, check, lay out and plan a job as it stands."""
    _look(work.job, said)
    return None


def _look(job: models.Job, said: Said) -> None:
    try:
        said.tell(0.0, "reading the artwork")
        now = standing_of(job)
        analysis = analyse(now.case, earlier_of(job, now), said.part(0.05, 0.9).tell)
    except HorismosError as error:
        keep_failure(job, error)
        raise
    stand = plates_stand(job, analysis)
    keep_analysis(job, analysis, now)
    if stand:
        return
    said.tell(0.95, "making plates")
    try:
        keep_plates(job, analysis, plates_of(analysis, said.cancelled))
    except HorismosError as error:
        keep_plates(job, analysis, error)


def _mend(work: models.Work, said: Said) -> Result:
    """Carry out one step as a new revision, then look at the job again."""
    job = work.job
    assert job.revision is not None
    _, done = mend(case_of(job), step_from(work.arguments), said.part(0.0, 0.5).tell)
    sha256 = keep(done.artwork.data)
    remember(sha256, done.artwork)
    with transaction.atomic():
        last = job.revisions.order_by("-number").first()
        assert last is not None
        job.revision = models.Revision.objects.create(
            job=job, number=last.number + 1, parent=job.revision, sha256=sha256,
            file_name=job.revision.file_name, said=done.said, proof=done.difference.to_json(),
        )
        job.save(update_fields=["revision"])
    _look(job, said.part(0.5, 1.0))
    return None


def _try_sheet(work: models.Work, said: Said) -> Result:
    """Say what a draft of a check sheet would change in a job; only the checks that it touches are run."""
    arguments: Mapping[str, Any] = work.arguments
    scope, subject = str(arguments["scope"]), str(arguments["subject"])
    draft = check_sheet_of(work.job, (scope, subject, parsed(scope, subject, arguments)))
    before = report_of(work.job)
    case = case_of(work.job, draft)
    after = check_whole(case.artwork, case.terms, said.tell, before, frozenset()).report
    told, tells = {_told(f) for f in before.findings}, {_told(f) for f in after.findings}
    return {
        "verdict": [before.verdict, after.verdict],
        "goes": [_plain(f) for f in before.findings if _told(f) not in tells],
        "comes": [_plain(f) for f in after.findings if _told(f) not in told],
        "ran": list(after.ran),
    }


def _told(finding: Finding) -> tuple[str, str, str]:
    return finding.key, finding.severity.value, finding.id


def _plain(finding: Finding) -> dict[str, str]:
    return {"id": finding.id, "severity": finding.severity.value, "message": finding.message}


def _release(work: models.Work, said: Said) -> Result:
    """Check once more, write the package, and put its print PDF into the RIP's hot folder."""
    job = work.job
    if job.revision is None:
        raise NotReady("The job has no artwork yet.")
    case = case_of(job)
    report = check_whole(case.artwork, case.terms, said.part(0.0, 0.4).tell).report
    package = release(case, report, said.part(0.4, 0.95).tell)
    files = [{"name": n, "sha256": keep(d), "bytes": len(d)} for n, d in package.files.items()]
    made = models.Release.objects.create(
        job=job, revision=job.revision, files=files, ticket=dict(package.ticket), worst_off_mm=package.worst_off_mm,
    )
    hot_folder.put(made, package.files)
    return None


def _rip(work: models.Work, said: Said) -> Result:
    """The simulated RIP takes a print PDF out of its hot folder."""
    made = models.Release.objects.select_related("job").get(pk=work.arguments["release"])
    waiting = hot_folder.waiting(made)
    kept = next((f for f in made.files if f["name"].endswith("-print.pdf")), None)
    if kept is None:
        raise NotFound("The hot folder holds no such file.", "Release the job again.")
    data = waiting[0].read_bytes() if waiting else load(kept["sha256"])
    result = rip(data, destination_of(made.job), said.cancelled)
    made.plates = [
        {
            "ink": p.ink, "role": p.role.value if p.role else None, "prints": p.prints,
            "coverage": p.coverage, "sha256": keep(p.png),
        }
        for p in result.plates
    ]
    made.rip_refused = result.refused
    made.rip_state = models.RipState.REFUSED if result.refused else models.RipState.DONE
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
