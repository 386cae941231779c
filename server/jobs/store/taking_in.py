"""Jobs begun from customers' files, the answers to what a file leaves open, and what taking in gave."""

from dataclasses import asdict

from django.db import transaction
from ninja.errors import HttpError

from horismos.errors import Asks
from horismos.intake import Answers
from horismos.intake.suggest import Suggestion
from horismos.materials import MATERIALS
from horismos.orders import Order
from horismos.workflow import Arrival, TakenIn
from jobs import models
from jobs.store.cases import destination_of, order_of, remember
from jobs.store.files import keep, load
from jobs.store.works import begin, log

__all__ = ["arrival_of", "keep_answers", "keep_questions", "keep_taken", "new_job"]

MOST_JOBS = 200


def new_job(file_name: str, original: str, customer: str) -> models.Job:
    """A job for a customer's file, by the hash of its content."""
    job = models.Job.objects.create(
        name=file_name.rsplit(".", 1)[0][:200] or "Untitled",
        original=original, original_name=file_name, customer=customer,
        destination=models.Destination.objects.get(pk="house"),
        material=models.Material.objects.get(pk="film-1370"),
    )
    models.Order.objects.create(job=job, data={"quantity": 1})
    return job


def arrival_of(job: models.Job, password: str = "") -> Arrival:
    """A job's file with what was said about it, and what is remembered of its customer below that."""
    customer = models.Customer.objects.filter(name=job.customer).first() if job.customer else None
    said = job.intake.get("answers", {})
    binding = {**(customer.binding if customer else {}), **said.get("binding", {})}
    answers = Answers.from_json({**said, "password": password, "binding": binding})
    last = Order.from_json(customer.order) if customer and customer.order else None
    return Arrival(load(job.original), job.original_name, answers, order_of(job), destination_of(job), last)


def keep_answers(job: models.Job, who: int | None, given: dict[str, object], each_page: bool) -> None:
    """Keep what was said about a file. Bindings are remembered of the customer; other pages may become jobs."""
    before = job.intake.get("answers", {})
    binding: dict[str, str] = dict(given.get("binding") or {})  # type: ignore[call-overload]
    said = {**before, **given, "binding": {**before.get("binding", {}), **binding}}
    answers = Answers.from_json(said)
    job.intake = {**job.intake, "answers": answers.to_json()}
    job.save()
    if job.customer and binding:
        customer, _ = models.Customer.objects.get_or_create(name=job.customer)
        customer.binding = {**customer.binding, **binding}
        customer.save()
    if each_page:
        _each_page(job, who, list(answers.pages))


def _each_page(job: models.Job, who: int | None, pages: list[int]) -> None:
    """Let a job keep the first of its pages, and begin a job of its own for each other one."""
    if len(pages) > MOST_JOBS:
        raise HttpError(400, f"{len(pages)} pages are too many jobs at once. Choose at most {MOST_JOBS}.")
    for number in pages[1:]:
        other = new_job(job.original_name, job.original, job.customer)
        other.name = f"{job.name}, page {number}"
        other.intake = {"answers": {"pages": [number]}}
        other.save()
        log(other, who, f"Took in page {number} of {job.original_name}")
        begin(other, models.WorkKind.TAKE_IN)
    job.intake = {**job.intake, "answers": {**job.intake.get("answers", {}), "pages": pages[:1]}}
    job.name = f"{job.name}, page {pages[0]}" if pages else job.name
    job.save()


def keep_questions(job: models.Job, asks: Asks) -> None:
    """Keep what only a person can say about a file."""
    job.asks = [asdict(question) for question in asks.questions]
    job.save(update_fields=["asks"])


def keep_taken(job: models.Job, found: TakenIn, as_it_came: bool) -> None:
    """Keep the working form of a file as a revision, and the order to begin with."""
    taken = found.taken
    job.asks = []
    job.intake = {
        **job.intake, "kind": taken.kind.value, "pages": taken.pages,
        "notes": [asdict(note) for note in taken.notes], "choices": [asdict(choice) for choice in taken.choices],
    }
    sha256 = keep(taken.pdf)
    remember(sha256, found.artwork)
    with transaction.atomic():
        last = job.revisions.order_by("-number").first()
        job.revision = models.Revision.objects.create(
            job=job, number=last.number + 1 if last else 1, sha256=sha256, file_name=job.original_name,
            said="Taken in again, with other answers." if last else "" if as_it_came
            else f"Made from the customer's {taken.kind.words}; the file itself is kept as it came.",
        )
        _keep_order(job, found.suggestion)
        job.save()


def _keep_order(job: models.Job, found: Suggestion) -> None:
    job.intake = {**job.intake, "order_said": found.said, "order_warnings": found.warnings}
    if not job.intake.get("order_kept"):
        order: Order = found.order
        job.order.data = order.to_json()
        job.order.save()
        if order.material in MATERIALS:
            job.material_id = str(order.material)
