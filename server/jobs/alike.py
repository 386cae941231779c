"""What several open jobs ask alike, as it is shown and answered once."""

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from pydantic import TypeAdapter

from horismos.checking import Severity
from horismos.checking.engine.check_sheet import graver
from horismos.mending import registered
from horismos.questions import Choice, Question
from horismos.workflow.pile.alike import Alike, Asked, SharedMend, alike
from horismos.workflow.showing.findings import FindingShown
from jobs import models
from jobs.store.faults import title_of_check
from jobs.store.queue import works_on_it

__all__ = ["AlikeRow", "AlikeShown", "AskedShown", "alike_rows", "alike_shown", "asked_by"]

MOST = 400
"""[ours] so many of the latest open jobs are looked through; a pile has sixty."""
CARDS = TypeAdapter(tuple[FindingShown, ...])
ASK = (Severity.STOP, Severity.LOOK)
WAITING = [models.JobState.ANSWER, models.JobState.LETTER, models.JobState.MEND, models.JobState.LOOK]


@dataclass(frozen=True, kw_only=True)
class AlikeRow:
    """A group in a line: what is asked, by how many; of a question the title is its words."""

    key: str
    id: str
    title: str
    severity: Severity | None
    files: int


@dataclass(frozen=True)
class OfferShown:
    """A mend that a file offers, and what it would do to it."""

    kind: str
    label: str
    says: str


@dataclass(frozen=True, kw_only=True)
class AskedShown:
    """What one of the files asks, with what its picture is told by."""

    job_id: int
    version: int
    revision: int
    name: str
    customer: str
    key: str
    message: str
    offers: list[OfferShown]
    art_sha256: str


@dataclass(frozen=True, kw_only=True)
class AlikeShown(AlikeRow):
    """A group with its files side by side, and how it can be answered."""

    asked: list[AskedShown]
    mends: list[SharedMend]
    choices: list[Choice]


def alike_rows() -> list[AlikeRow]:
    """The groups, in the order in which they are put; from what is kept small of each job."""
    return [AlikeRow(**_row(group)) for group in alike(one for job in _waiting() for one in _asks_in_short(job))]


def alike_shown(key: str) -> AlikeShown | None:
    """A group with its files; None where there is none such any more."""
    groups = alike(one for job in _waiting() for one in _asks_in_short(job))
    found = next((one for one in groups if one.key == key), None)
    if found is None:
        return None
    jobs = {job.pk: job for job in _whole(found.files)}
    asked = [one for job in jobs.values() for one in asked_by(job)]
    group = next((one for one in alike(asked) if one.key == key), None)
    if group is None:
        return None
    return AlikeShown(
        **_row(group), asked=[_asked(one, jobs[one.file]) for one in group.asked], mends=list(group.mends),
        choices=list(group.choices),
    )


def asked_by(job: models.Job) -> list[Asked]:
    """What one job asks of a person now, with the mends that are offered."""
    if job.asks:
        return list(_questions(job))
    found: models.Analysis | None = getattr(job, "analysis", None)
    left = _left(job)
    return [
        Asked(job.pk, card.id, card.message, card.key, Severity(card.severity), tuple(
            mend for mend in card.mends if mend.kind in registered()
        ))
        for card in (CARDS.validate_python(found.cards) if found else ())
        if left(card.key, card.severity)
    ]


def _row(group: Alike) -> dict[str, Any]:
    return {
        "key": group.key, "id": group.id, "title": title_of_check(group.id) if group.severity else group.message,
        "severity": group.severity, "files": len(group.files),
    }


def _waiting() -> list[models.Job]:
    """The open jobs that wait for a person and on which nothing is under way, the latest first."""
    jobs = models.Job.objects.filter(state__in=WAITING).exclude(works_on_it()).order_by("-pk")
    return list(jobs.select_related("analysis").prefetch_related("decisions").only("asks", "analysis__summary")[:MOST])


def _whole(jobs: Iterable[int]) -> list[models.Job]:
    rows = models.Job.objects.filter(pk__in=jobs).select_related("revision", "analysis").order_by("-pk")
    return list(rows.prefetch_related("decisions").only(
        "name", "customer", "version", "asks", "revision__number", "analysis__cards", "analysis__art_sha256",
    ))


def _questions(job: models.Job) -> Iterator[Asked]:
    for plain in job.asks:
        choices = tuple(Choice(**choice) for choice in plain.get("choices", ()))
        yield Asked(job.pk, plain["id"], plain["words"], question=Question(plain["id"], plain["words"], choices))


def _left(job: models.Job) -> Callable[[str, str], bool]:
    """Whether a finding, by its key and severity, still asks something: nobody has let it stand as grave as it is."""
    decided = {decision.key: decision.severity for decision in job.decisions.all()}
    return lambda key, severity: severity in ASK and (key not in decided or graver(severity, decided[key]))


def _asks_in_short(job: models.Job) -> Iterator[Asked]:
    """The same without words and mends."""
    if job.asks:
        yield from _questions(job)
        return
    found: models.Analysis | None = getattr(job, "analysis", None)
    left = _left(job)
    for key, severity, id, *_ in (found.summary.get("findings") or ()) if found else ():
        if left(key, severity):
            yield Asked(job.pk, id, "", key, Severity(severity))


def _asked(one: Asked, job: models.Job) -> AskedShown:
    found: models.Analysis | None = getattr(job, "analysis", None)
    return AskedShown(
        job_id=job.pk, version=job.version, revision=job.revision.number if job.revision else 0, name=job.name,
        customer=job.customer, key=one.key, message=one.message,
        offers=[OfferShown(mend.kind, mend.label, mend.says or mend.label) for mend in one.mends],
        art_sha256=found.art_sha256 if found else "",
    )
