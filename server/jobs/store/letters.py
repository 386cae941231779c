"""Letters and proofs to customers: handed to the mail service, remembered with the job, and what came back."""

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db.models import QuerySet
from django.utils import timezone

from horismos.errors import BadValue, NothingToDo
from horismos.reporting.message import message
from horismos.simulation.mail import hand_over
from jobs import models
from jobs.store.customers import customer_called
from jobs.store.files import keep
from jobs.store.shelf import shop_name

__all__ = ["LetterShown", "Written", "answer_letter", "answered_by_file", "letters_of", "outbox", "send", "write_to"]

MOST = 200


@dataclass(frozen=True, kw_only=True)
class Written:
    """What is to be sent, as a child has written it. ``pdf`` goes with it under ``name``."""

    kind: models.LetterKind
    subject: str
    text: str
    name: str
    pdf: bytes
    checks: Sequence[str] = ()


@dataclass(frozen=True, kw_only=True)
class LetterShown:
    """A letter that was sent, and what came back."""

    id: int
    job_id: int
    job_name: str
    kind: models.LetterKind
    to: str
    subject: str
    text: str
    checks: list[str]
    files: list[str]
    who: str
    sent: datetime
    answer: models.LetterAnswer
    signed_by: str
    signed_on: date | None
    note: str
    answered: datetime | None
    holds: bool
    """Whether it is about the artwork as it stands now."""


def outbox() -> Path:
    """Where the simulated mail service keeps what it was given."""
    return Path(settings.VAR) / "outbox"


def write_to(customer: str) -> str:
    """Where letters to a customer go: as the Shelf has it, else as the last one went; empty where nobody said."""
    known = customer_called(customer)
    if known and known.data["write_to"]:
        return str(known.data["write_to"])
    sent = models.Letter.objects.filter(customer=customer).exclude(to="") if customer else models.Letter.objects.none()
    return sent.values_list("to", flat=True).first() or ""


def send(job: models.Job, written: Written, to: str, who: int | None) -> models.Letter:
    """Hand a letter to the mail service and remember it, in the caller's transaction. Raises CannotWrite."""
    assert job.revision is not None, "there is nothing to write about else"
    now = timezone.now()
    key = hashlib.sha256(f"{job.pk} {written.subject} {now.isoformat()}".encode()).hexdigest()
    eml = message(shop_name(), to, written.subject, written.text, {written.name: written.pdf}, now, key)
    made = models.Letter.objects.create(
        job=job, customer=job.customer, kind=written.kind, to=to, subject=written.subject[:300], text=written.text,
        checks=list(dict.fromkeys(written.checks)), eml=keep(eml), revision=job.revision, proves=job.revision.sha256,
        files=[{"name": written.name, "sha256": keep(written.pdf), "bytes": len(written.pdf)}], who_id=who,
    )
    hand_over(outbox(), f"{made.pk:06d}-{job.name}", eml)
    return made


def answer_letter(
    letter: models.Letter, answer: models.LetterAnswer, signed_by: str, signed_on: date | None, note: str,
    who: int | None,
) -> None:
    """Note a yes or a no to a proof, with who gave it and when. Raises BadValue, NothingToDo."""
    if letter.kind != models.LetterKind.PROOF or answer not in (
        models.LetterAnswer.APPROVED, models.LetterAnswer.REFUSED
    ):
        raise BadValue("Only a proof is approved or refused.", "A letter is answered by another file.")
    if letter.answer != models.LetterAnswer.OPEN:
        raise NothingToDo("The proof was answered already.", "Send another one.")
    if not signed_by.strip():
        raise BadValue("Say who has signed it.", "The name stands with the job.")
    if answer == models.LetterAnswer.REFUSED and not note.strip():
        raise BadValue("Say what has to be changed.", "It stands with the job.")
    letter.answer, letter.signed_by, letter.signed_on = answer, signed_by.strip()[:200], signed_on or date.today()
    letter.note, letter.answered, letter.answered_to_id = note.strip()[:2000], timezone.now(), who
    letter.save(update_fields=["answer", "signed_by", "signed_on", "note", "answered", "answered_to"])


def answered_by_file(job: models.Job, file_name: str, who: int | None) -> None:
    """Note that the job's open letters were answered by another file, in the caller's transaction."""
    job.letters.filter(answer=models.LetterAnswer.OPEN).update(
        answer=models.LetterAnswer.FILE, note=file_name[:200], answered=timezone.now(), answered_to=who,
    )


def letters_of(**which: Any) -> list[LetterShown]:
    """Letters, the latest first; of a ``job`` or a ``customer``."""
    rows: QuerySet[models.Letter] = models.Letter.objects.filter(**which).select_related("job__revision", "who")
    return [_shown(row) for row in rows[:MOST]]


def _shown(row: models.Letter) -> LetterShown:
    sha256 = row.job.revision.sha256 if row.job.revision else ""
    return LetterShown(
        id=row.pk, job_id=row.job_id, job_name=row.job.name, kind=models.LetterKind(row.kind), to=row.to,
        subject=row.subject, text=row.text, checks=list(row.checks), files=[file["name"] for file in row.files],
        who=row.who.get_username() if row.who else "someone", sent=row.sent, answer=models.LetterAnswer(row.answer),
        signed_by=row.signed_by, signed_on=row.signed_on, note=row.note, answered=row.answered,
        holds=row.proves == sha256,
    )
