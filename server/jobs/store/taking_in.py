"""Jobs begun from customers' files, the answers to what a file leaves open, and what taking in gave."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any

from horismos.artwork.kinds import FileKind
from horismos.errors import Asks, BadValue, NotReady
from horismos.intake import Answers
from horismos.intake.file_names import NameRead
from horismos.orders import Order
from horismos.shelf import Kind, ShelfItem, kind_of
from jobs import models
from jobs.store.children import run_step
from jobs.store.customers import customer_called, customer_order
from jobs.store.files import content_of, keep
from jobs.store.layouts import layout_begun
from jobs.store.log import log
from jobs.store.queue import begin
from jobs.store.revisions import before_of
from jobs.store.shelf import known_materials, known_shelf, values_of
from jobs.store.snapshots import pool_key

__all__ = [
    "follow_back", "follow_size", "keep_answers", "keep_made_again", "keep_questions", "keep_taken", "new_job",
    "read_name", "replace_file", "unlocked",
]

MOST_JOBS = 200
SIDES = ("width_mm", "height_mm")
MADE = "Made from the customer's {}; the file itself is kept as it came."


NOTHING = NameRead()


def read_name(file_name: str) -> NameRead:
    """What the shop's first name pattern that fits reads out of a file's name."""
    titles = {id: one.title for id, one in known_materials().items()}
    found = (pattern.read(file_name, titles) for _, pattern in values_of(Kind.FILE_NAMES))
    return next((one for one in found if one is not None), NOTHING)


def new_job(file_name: str, original: str, customer: str, named: NameRead = NOTHING) -> models.Job:
    """A job for a customer's file, by the hash of its content, with what its name says where nobody says otherwise.

    Raises NotReady while the Shelf is empty.
    """
    customer = (customer or named.customer)[:200]
    own = customer_called(customer)
    customer = own.title if own else customer
    usual = _usual(Kind.DESTINATION)
    destination = known_shelf().shelf[own.data["destination"]] if own and own.data["destination"] else usual
    job = models.Job.objects.create(
        name=(named.title or file_name.rsplit(".", 1)[0]).strip()[:200] or "Untitled",
        intake={"named": dict(named.order)} if named.order else {}, original=original, original_name=file_name,
        customer=customer,
        destination_id=destination.id, material_id=_usual(Kind.MATERIAL).id, layout=layout_begun(destination.id),
    )
    models.Order.objects.create(job=job, data={"quantity": 1})
    return job


def _usual(kind: Kind) -> ShelfItem:
    """The first of a kind on the Shelf. Raises NotReady where there is none."""
    found = next(iter(known_shelf().offered(kind)), None)
    if found is None:
        one = kind_of(kind).one
        raise NotReady(f"There is no {one} on the Shelf yet.", f"Make one first: Shelf, {kind_of(kind).many}.")
    return found


def replace_file(job: models.Job, file_name: str, original: str, made: Mapping[str, Any] | None) -> None:
    """Let a job have another file from its customer, in the caller's transaction; the earlier ones are kept.

    ``made`` is what lines of the old file were made of, with their figures: they are made anew of the new one.
    """
    intake = {k: v for k, v in job.intake.items() if k in ("order_kept", "earlier", "named")}
    earlier, before = [*intake.get("earlier", []), job.original], before_of(job)
    again = {"make_again": dict(made)} if made else {}
    corrected = {"corrected": before} if before else {}
    job.intake = {**intake, "earlier": earlier, "replaced": file_name, **again, **corrected}
    job.original, job.original_name = original, file_name
    job.save(update_fields=["intake", "original", "original_name"])


def unlocked(job: models.Job, password: str) -> str:
    """What a file holds that opens only with a password, kept by its hash; the password is kept nowhere.

    Raises Locked where it is not the file's password.
    """
    data: bytes = run_step("job:unlock", content_of(job.original), password, key=pool_key(job), what="Opening the file")
    return keep(data)


def keep_answers(job: models.Job, who: int | None, given: dict[str, object], each_page: bool, opened: str) -> None:
    """Keep what was said about a file, in the caller's transaction.

    Bindings are remembered of the customer; other pages may become jobs. ``opened`` is what a locked file holds.
    """
    before = job.intake.get("answers", {})
    binding: dict[str, str] = dict(given.get("binding") or {})  # type: ignore[call-overload]
    said = {**before, **given, "binding": {**before.get("binding", {}), **binding}}
    answers = Answers.from_json(said)
    job.intake = {**job.intake, "answers": answers.to_json(), **({"unlocked": opened} if opened else {})}
    job.save(update_fields=["intake"])
    if job.customer and binding:
        customer, _ = models.Customer.objects.get_or_create(name=job.customer)
        customer.binding = {**customer.binding, **binding}
        customer.save(update_fields=["binding"])
    if each_page:
        _each_page(job, who, list(answers.pages))


def _each_page(job: models.Job, who: int | None, pages: list[int]) -> None:
    """Let a job keep the first of its pages, and begin a job of its own for each other one."""
    if len(pages) > MOST_JOBS:
        raise BadValue(f"{len(pages)} pages are too many jobs at once.", f"Choose at most {MOST_JOBS}.")
    for number in pages[1:]:
        other = new_job(job.original_name, job.original, job.customer)
        other.name = f"{job.name}, page {number}"[:200]
        other.intake = {"answers": {"pages": [number]}, **{k: v for k, v in job.intake.items() if k == "unlocked"}}
        other.save(update_fields=["name", "intake"])
        log(other, who, f"Took in page {number} of {job.original_name}")
        begin(other, models.WorkKind.TAKE_IN)
    job.intake = {**job.intake, "answers": {**job.intake.get("answers", {}), "pages": pages[:1]}}
    job.name = f"{job.name}, page {pages[0]}"[:200] if pages else job.name
    job.save(update_fields=["intake", "name"])


def keep_made_again(job: models.Job, made: Mapping[str, Any] | None, words: str) -> None:
    """Keep the lines that were made anew of another file, or why they could not be, in the caller's transaction."""
    job.intake = {k: v for k, v in job.intake.items() if k != "make_again"}
    taken = job.revision
    if made is None or taken is None:
        notes = [*job.intake.get("notes", []), {"severity": "look", "words": words}]
        job.intake = {**job.intake, "notes": notes}
    else:
        keep(made["pdf"])
        job.revision = models.Revision.objects.create(
            job=job, number=taken.number + 1, parent=taken, sha256=made["sha256"], file_name=taken.file_name,
            said=words, proof=made["proof"], steps=made["steps"],
        )
    job.save(update_fields=["intake", "revision"])


def keep_questions(job: models.Job, asks: Asks) -> None:
    """Keep what only a person can say about a file."""
    job.asks = [asdict(question) for question in asks.questions]
    job.save(update_fields=["asks"])


def keep_taken(job: models.Job, found: Mapping[str, Any], made: int | None = None) -> models.Revision:
    """Keep the working form of a file as a revision, and the order to begin with, in the caller's transaction.

    ``made`` is the number of the revision that the same work has made before, which then gets another form.
    """
    if found["pdf"] is not None:
        keep(found["pdf"])
    if made is not None:
        job.revisions.filter(number=made).delete()
    last = job.revisions.order_by("-number").first()
    said = "" if found["sha256"] == job.original else MADE.format(FileKind(found["kind"]).words)
    job.revision = models.Revision.objects.create(
        job=job, number=last.number + 1 if last else 1, sha256=found["sha256"], file_name=job.original_name,
        said=_said(job, said, last is not None),
    )
    job.asks = []
    kept = {name: found[name] for name in ("kind", "pages", "notes", "choices")}
    if not job.intake.get("order_kept"):
        _keep_order(job, {**found["order"], **customer_order(job.customer), **job.intake.get("named", {})})
    job.intake = {
        **job.intake, **kept, "order_said": found["said"], "order_warnings": found["warnings"],
        "warned_of": [job.revision.number, job.order.data],
    }
    job.save(update_fields=["revision", "asks", "intake"])
    return job.revision


def _said(job: models.Job, said: str, again: bool) -> str:
    replaced = job.intake.pop("replaced", "")
    if replaced:
        return f"The customer sent another file, {replaced}. {said}".strip()
    return "Taken in again, with other answers." if again else said


def follow_size(job: models.Job, finished: Sequence[float]) -> None:
    """Let an order's size that was guessed from the file follow what a person makes of it; one that was said stands."""
    if _size_was_said(job):
        return
    before = {side: job.order.data.get(side) for side in SIDES}
    number = job.revision.number if job.revision else 0
    job.intake = {**job.intake, "sizes": {**job.intake.get("sizes", {}), str(number): before}}
    job.save(update_fields=["intake"])
    _size(job, dict(zip(SIDES, finished, strict=True)))


def follow_back(job: models.Job, left: models.Revision) -> None:
    """Let a size that has followed a mend go back with it, where that is undone."""
    before = job.intake.get("sizes", {}).get(str(left.number))
    if before and not _size_was_said(job):
        _size(job, before)


def _size_was_said(job: models.Job) -> bool:
    return bool(job.intake.get("order_kept") or set(SIDES) & set(job.intake.get("named", {})))


def _size(job: models.Job, size: Mapping[str, Any]) -> None:
    data = {**job.order.data, **size}
    job.order.data = Order.from_json({k: v for k, v in data.items() if v is not None}).to_json()
    job.order.save(update_fields=["data"])


def _keep_order(job: models.Job, order: dict[str, Any]) -> None:
    """The order that the file suggests; once a person has said one, that stands."""
    job.order.data = Order.from_json(order).to_json()
    job.order.save(update_fields=["data"])
    if order.get("material") in known_materials():
        job.material_id = str(order["material"])
        job.save(update_fields=["material"])
