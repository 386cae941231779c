"""Letters and proofs: sent through the mail service, looked at again, and answered."""

from datetime import date
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import Router
from ninja.params.functions import Query
from pydantic import AfterValidator, Field, StringConstraints

from horismos.errors import BadValue, NotFound
from horismos.words import safe_name
from jobs import models
from jobs.api.bodies import Change, Key, LongText, Words
from jobs.api.check import Unit
from jobs.api.common import download, find, job_response
from jobs.api.wants import WORK
from jobs.showing import JobShown
from jobs.store.analyses import report_row
from jobs.store.changing import changing
from jobs.store.children import run_step
from jobs.store.files import load
from jobs.store.letters import LetterShown, Written, answer_letter, letters_of, send
from jobs.store.queue import begin, require_idle
from jobs.store.revisions import way_to
from jobs.store.snapshots import JobSnapshot, read_job

__all__ = ["router"]

router = Router()


def _mailbox(text: str) -> str:
    if text and (text.count("@") != 1 or any(letter.isspace() or not letter.isprintable() for letter in text)):
        raise ValueError("is no address of a mailbox. Write it as name@place")
    return text


Mailbox = Annotated[str, StringConstraints(strip_whitespace=True, max_length=254), AfterValidator(_mailbox)]


class LetterAsked(Change):
    """Findings to write about, where it goes, and what it says where a person has written it otherwise."""

    keys: Annotated[list[Key], Field(min_length=1, max_length=1_000)]
    to: Mailbox = ""
    unit: Unit = "mm"
    text: LongText = ""


class ProofAsked(Change):
    """Where a proof goes, and what is said with it where a person has written it otherwise."""

    to: Mailbox = ""
    text: LongText = ""


class AnswerGiven(Change):
    """What came back on a proof: a yes or a no, by whom and when, and what has to be changed."""

    answer: models.LetterAnswer
    signed_by: Words
    signed_on: date | None = None
    note: Annotated[str, StringConstraints(strip_whitespace=True, max_length=2_000)] = ""


@router.get("/letters", response=list[LetterShown])
def letters(
    request: HttpRequest, job: int | None = None, customer: str | None = Query(None, max_length=200),
) -> list[LetterShown]:
    """Letters that were sent, the latest first: all of them, those of a job, or those to a customer."""
    which = {"job": job, "customer": customer}
    return letters_of(**{key: value for key, value in which.items() if value is not None})


@router.post("/jobs/{job_id}/letters", response=JobShown, auth=WORK)
def send_letter(request: HttpRequest, job_id: int, body: LetterAsked) -> JobShown:
    """Send a letter about chosen findings, with its pictures as PDF."""
    now = read_job(job_id)
    made = run_step(
        "documents:letter_whole", now.case, report_row(now.row), body.keys, body.unit == "in", key=now.pool_key,
        what="Writing the letter",
    )
    written = Written(
        kind=models.LetterKind.POINTS, subject=made["subject"], text=body.text or made["text"], checks=made["checks"],
        name=f"letter-{safe_name(now.row.name)}.pdf", pdf=made["pdf"],
    )
    with changing(job_id, body.version, request.user.pk) as change:
        send(change.job, written, body.to, request.user.pk)
        change.done(f"Sent a letter{_to(body.to)}: {', '.join(dict.fromkeys(made['checks']))}")
    return job_response(request, job_id)


def _drawn(now: JobSnapshot) -> dict[str, Any]:
    """The proof of a job as it stands, with the words of its letter."""
    changed = [one.said for one in way_to(now.revision)[1:] if one.said]
    made: dict[str, Any] = run_step(
        "documents:proof", now.case, changed, key=now.pool_key, what="Drawing the proof"
    )
    return made


@router.post("/jobs/{job_id}/proofs", response=JobShown, auth=WORK)
def send_proof(request: HttpRequest, job_id: int, body: ProofAsked) -> JobShown:
    """Send a proof to sign of the artwork as it stands."""
    now = read_job(job_id)
    made = _drawn(now)
    written = Written(
        kind=models.LetterKind.PROOF, subject=made["subject"], text=body.text or made["text"],
        name=f"proof-{safe_name(now.row.name)}.pdf", pdf=made["pdf"],
    )
    with changing(job_id, body.version, request.user.pk) as change:
        require_idle(change.job)
        if change.job.revision != now.row.revision:
            raise BadValue("The artwork was changed while the proof was drawn.", "Look at it and send it again.")
        send(change.job, written, body.to, request.user.pk)
        change.done(f"Sent a proof to sign{_to(body.to)}")
    return job_response(request, job_id)


def _to(address: str) -> str:
    return f" to {address}" if address else ""


@router.get("/jobs/{job_id}/proof.pdf")
def proof_file(request: HttpRequest, job_id: int) -> HttpResponse:
    """The proof of the artwork as it stands, to be looked at before it is sent."""
    now = read_job(job_id)
    made = _drawn(now)
    return download(made["pdf"], f"proof-{safe_name(now.row.name)}.pdf")


@router.post("/letters/{letter_id}/answer", response=JobShown, auth=WORK)
def answer(request: HttpRequest, letter_id: int, body: AnswerGiven) -> JobShown:
    """Note what came back on a proof; a signed one goes for the artwork that it shows."""
    job_id = find(models.Letter.objects.all(), letter_id).job_id
    with changing(job_id, body.version, request.user.pk) as change:
        letter = find(models.Letter.objects.all(), letter_id)
        answer_letter(letter, body.answer, body.signed_by, body.signed_on, body.note, request.user.pk)
        change.done(f"Proof {body.answer.value} by {letter.signed_by}{f': {letter.note}' if letter.note else ''}")
        begin(change.job, models.WorkKind.ANALYSE)
    return job_response(request, job_id)


@router.get("/letters/{letter_id}/message.eml")
def message_file(request: HttpRequest, letter_id: int) -> HttpResponse:
    """A letter as the mail service was given it."""
    letter = find(models.Letter.objects.all(), letter_id)
    return download(load(letter.eml), f"letter-{letter_id}.eml", "message/rfc822")


@router.get("/letters/{letter_id}/files/{name}")
def letter_part(request: HttpRequest, letter_id: int, name: str) -> HttpResponse:
    """A file that went with a letter."""
    letter = find(models.Letter.objects.all(), letter_id)
    found = next((file for file in letter.files if file["name"] == name), None)
    if found is None:
        raise NotFound(f"No file {name} went with that letter.", "Look at the letter again.")
    return download(load(found["sha256"]), name)
