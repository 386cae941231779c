"""Long work, run by the task worker: it calls the core, notes how far it is, keeps the outcome."""

import hashlib
import json
import logging
import time
from collections.abc import Callable
from dataclasses import asdict, replace

from django.conf import settings
from django.db import transaction
from django.utils import timezone
from django_tasks import task

from horismos.artwork import Artwork
from horismos.checking import Facet, Report, Terms, changed, check_whole
from horismos.checking.edge_map import EdgeLimits
from horismos.devices import rip
from horismos.errors import Asks, Cancelled, HorismosError, NotFound
from horismos.intake import Answers, Kind, kind_of, take_in, take_in_within
from horismos.intake.suggest import suggest
from horismos.mending import mend
from horismos.orders import Order
from horismos.release import prepare, release
from horismos.rendering.load import DEFAULT_LIMIT
from horismos.sheet import MATERIALS
from jobs import models, state
from jobs.checked import preflight
from jobs.files import keep, load
from jobs.inks import make_plates
from jobs.settling import open_report
from jobs.sheets import effect, parsed, sheet_of
from jobs.views import kept_view

__all__ = ["begin", "carry_out"]

log = logging.getLogger(__name__)
Tell = Callable[[float, str], None]


def begin(job: models.Job, kind: str, arguments: dict[str, object] | None = None) -> models.Work:
    """Put a piece of work into the queue."""
    work = models.Work.objects.create(job=job, kind=kind, arguments=arguments or {})
    transaction.on_commit(lambda: carry_out.enqueue(work.pk))
    return work


@task()
def carry_out(work_id: int) -> None:
    """Run one piece of work; whatever happens, its row says how it ended."""
    work = models.Work.objects.select_related("job", "job__revision", "job__order").get(pk=work_id)
    if work.cancel or work.state != "waiting":
        models.Work.objects.filter(pk=work_id, state="waiting").update(state="cancelled")
        return
    told = 0.0

    def tell(share: float, what: str) -> None:
        nonlocal told
        if time.monotonic() - told > 0.2:
            told = time.monotonic()
            if cancelled():
                raise Cancelled("The work was stopped.")
            models.Work.objects.filter(pk=work_id).update(share=share, what=what[:200])

    def cancelled() -> bool:
        return models.Work.objects.filter(pk=work_id, cancel=True).exists()

    models.Work.objects.filter(pk=work_id).update(state="running", what="beginning")
    ended = {"state": "done", "share": 1.0, "what": "done", "error": ""}
    try:
        KINDS[work.kind](work, tell, cancelled)
    except Cancelled:
        ended = {"state": "cancelled", "what": "stopped", "error": ""}
    except HorismosError as error:
        ended = {"state": "failed", "what": "failed", "error": str(error)}
    except Exception:
        log.exception("work %s failed", work_id)
        fault = "The program failed here. The last good state stands; tell who looks after it."
        ended = {"state": "failed", "what": "failed", "error": fault}
    models.Work.objects.filter(pk=work_id).update(**ended)


def _analyse(work: models.Work, tell: Tell, cancelled: Callable[[], bool]) -> None:
    """Read, check, lay out and plan a job as it stands."""
    job = work.job
    key = state.key_of(job)
    found, _ = models.Analysis.objects.get_or_create(job=job, defaults={"key": ""})
    try:
        tell(0.05, "reading the artwork")
        artwork = state.artwork_of(job)
        destination, order = state.destination_of(job), state.order_of(job)
        seen = state.seen(artwork, job)
        page = artwork.pages[min(job.page, len(artwork.pages)) - 1]
        tell(0.2, "parting art and lines")
        assert job.revision is not None
        art = hashlib.sha256(kept_view(job, job.revision, "art").read_bytes()).hexdigest()
        before, touched = _before(job, found, artwork)
        terms = Terms(order, destination, sheet_of(job), MATERIALS[job.material_id])
        checked = check_whole(artwork, terms, lambda s, w: tell(0.25 + s * 0.6, w), before, touched)
    except HorismosError as error:
        models.Analysis.objects.filter(pk=found.pk).update(key=key, error=str(error))
        raise
    sheet, cut = {}, {}
    tell(0.9, "laying out and planning")
    try:
        prepared = prepare(
            artwork, order, destination, MATERIALS[job.material_id], state.layout_of(job),
            state.tools_of(job), page.number, terms.sheet,
        )
        sheet, cut = state.sheet_shown(prepared), state.cut_shown(prepared)
    except HorismosError as error:
        sheet = {"error": str(error)}
    report = checked.report
    edges = found.edges if "edge.risk" in report.carried else ""
    if checked.edges is not None:
        edges = keep(json.dumps(checked.edges.to_json(EdgeLimits.of(order, terms.sheet))).encode())
    # Plates show the line inks too: they stand only where nothing at all was touched.
    limit = terms.sheet.limits.get("ink.load", DEFAULT_LIMIT)
    stand = before is not None and not touched and found.plates.get("load", {}).get("limit") == limit
    plates = found.plates if stand else {}
    models.Analysis.objects.filter(pk=found.pk).update(
        key=key, seen=seen, report=state.reported(report, artwork, destination), sheet=sheet, edges=edges,
        cut=cut, art_sha256=art, plates=plates, error="", terms=state.terms_key(job), checked=job.revision.sha256,
        when=timezone.now(),
    )
    if plates:
        return
    tell(0.95, "making plates")
    try:
        plates = make_plates(artwork, page, destination, cancelled, limit, checked.plates if page.number == 1 else None)
    except HorismosError as error:
        plates = {"error": str(error)}
    models.Analysis.objects.filter(pk=found.pk).update(plates=plates)


def _before(
    job: models.Job, found: models.Analysis, artwork: Artwork
) -> tuple[Report | None, frozenset[Facet] | None]:
    """The report that a check can build on, and what has changed in the artwork since; None for a new beginning."""
    if not found.report or "sheet" not in found.report or found.terms != state.terms_key(job) or found.error:
        return None, None
    try:
        old = replace(state.artwork_by_content(found.checked), taken_in=artwork.taken_in)
        return Report.from_json(found.report), changed(old, artwork, state.destination_of(job))
    except (HorismosError, OSError, ValueError, KeyError):
        return None, None


def _try_sheet(work: models.Work, tell: Tell, cancelled: Callable[[], bool]) -> None:
    """Say what a draft of a check sheet would change in a job; nothing is kept but what is said."""
    said = work.arguments
    scope, subject = str(said["scope"]), str(said["subject"])
    draft = parsed(scope, subject, said)
    result = effect(work.job, sheet_of(work.job, (scope, subject, draft)), tell)
    models.Work.objects.filter(pk=work.pk).update(result=result)


def _suggest(job: models.Job, artwork: Artwork, order: Order, customer: models.Customer | None) -> None:
    """Begin a job's order from the file and the customer's last one; what cannot be told is left open."""
    try:
        last = Order.from_json(customer.order) if customer and customer.order else None
        found = suggest(artwork, artwork.pages[0], state.destination_of(job), order, last)
    except HorismosError as error:
        job.intake = {**job.intake, "order_said": [], "order_warnings": [str(error)]}
        job.save()
        return
    job.intake = {**job.intake, "order_said": found.said, "order_warnings": found.warnings}
    if not job.intake.get("order_kept"):
        job.order.data = found.order.to_json()
        job.order.save()
        if found.order.material in MATERIALS:
            job.material_id = found.order.material
    job.save()


def _take_in(work: models.Work, tell: Tell, cancelled: Callable[[], bool]) -> None:
    """Make the working form of a job's original, or keep what it leaves open; then look at it."""
    job = work.job
    customer = models.Customer.objects.filter(name=job.customer).first() if job.customer else None
    remembered = customer.binding if customer else {}
    said = job.intake.get("answers", {})
    answers = Answers.from_json({
        **said, "password": work.arguments.get("password", ""), "binding": {**remembered, **said.get("binding", {})},
    })
    models.Work.objects.filter(pk=work.pk).update(arguments={})  # a password is not kept
    order, destination = state.order_of(job), state.destination_of(job)
    data = load(job.original)
    take = take_in if kind_of(data, job.original_name) is Kind.PDF else take_in_within
    try:
        taken = take(data, job.original_name, answers, order, destination, lambda s, w: tell(s * 0.4, w), cancelled)
    except Asks as asks:
        job.asks = [asdict(question) for question in asks.questions]
        job.save(update_fields=["asks"])
        return
    except HorismosError as error:
        models.Analysis.objects.update_or_create(job=job, defaults={"key": state.key_of(job), "error": str(error)})
        raise
    tell(0.4, "reading the artwork")
    job.asks = []
    job.intake = {
        **job.intake, "kind": taken.kind.value, "pages": taken.pages,
        "notes": [asdict(note) for note in taken.notes], "choices": [asdict(choice) for choice in taken.choices],
    }
    with transaction.atomic():
        last = job.revisions.order_by("-number").first()
        job.revision = models.Revision.objects.create(
            job=job, number=last.number + 1 if last else 1, sha256=keep(taken.pdf), file_name=job.original_name,
            said="Taken in again, with other answers." if last else "" if taken.pdf == data
            else f"Made from the customer's {taken.kind.words}; the file itself is kept as it came.",
        )
        job.save()
    try:
        artwork = state.artwork_of(job)
    except HorismosError as error:
        models.Analysis.objects.update_or_create(job=job, defaults={"key": state.key_of(job), "error": str(error)})
        raise
    _suggest(job, artwork, order, customer)
    _analyse(work, lambda s, w: tell(0.45 + s * 0.55, w), cancelled)


def _mend(work: models.Work, tell: Tell, cancelled: Callable[[], bool]) -> None:
    """Carry out one step as a new revision, then look at the job again."""
    job = work.job
    assert job.revision is not None
    step = state.step_from(work.arguments)
    done = mend(
        state.artwork_of(job), step, state.destination_of(job), lambda s, w: tell(s * 0.5, w)
    )
    sha256 = keep(done.artwork.data)
    with transaction.atomic():
        last = job.revisions.order_by("-number").first()
        assert last is not None
        job.revision = models.Revision.objects.create(
            job=job, number=last.number + 1, parent=job.revision, sha256=sha256,
            file_name=job.revision.file_name, said=done.said, proof=done.proof.to_json(),
        )
        job.save(update_fields=["revision"])
    _analyse(work, lambda s, w: tell(0.5 + s / 2, w), cancelled)


def _release(work: models.Work, tell: Tell, cancelled: Callable[[], bool]) -> None:
    """Check once more, write the package, and put its print PDF into the RIP's hot folder."""
    job = work.job
    assert job.revision is not None
    artwork = state.artwork_of(job)
    order, destination = state.order_of(job), state.destination_of(job)
    terms = Terms(order, destination, sheet_of(job), MATERIALS[job.material_id])
    report = open_report(job, check_whole(artwork, terms, lambda s, w: tell(s * 0.4, w)).report)
    prepared = prepare(
        artwork, order, destination, MATERIALS[job.material_id], state.layout_of(job),
        state.tools_of(job), job.page, terms.sheet,
    )
    package = release(
        artwork, order, destination, report, prepared, job.name, lambda s, w: tell(0.4 + s / 2, w)
    )
    files = [{"name": n, "sha256": keep(d), "bytes": len(d)} for n, d in package.files.items()]
    files.append(_preflight_file(job))
    made = models.Release.objects.create(
        job=job, revision=job.revision, files=files, ticket=dict(package.ticket),
        worst_off_mm=package.worst_off_mm,
    )
    folder = settings.VAR / "hot-folder" / job.destination_id
    folder.mkdir(parents=True, exist_ok=True)
    for name, data in package.files.items():
        if name.endswith("-print.pdf"):
            (folder / f"{made.pk}-{name}").write_bytes(data)


def _preflight_file(job: models.Job) -> dict[str, object]:
    """The preflight report, to go with the package: it names the stops that were let pass, and why."""
    made = preflight(job)
    slug = "".join(c if c.isalnum() else "-" for c in job.name.lower()).strip("-")
    return {"name": f"{slug}-preflight.pdf", "sha256": keep(made), "bytes": len(made)}


def _rip(work: models.Work, tell: Tell, cancelled: Callable[[], bool]) -> None:
    """The simulated RIP takes a print PDF out of its hot folder."""
    made = models.Release.objects.get(pk=work.arguments["release"], job=work.job)
    folder = settings.VAR / "hot-folder" / made.job.destination_id
    waiting = sorted(folder.glob(f"{made.pk}-*-print.pdf"))
    if not waiting and made.rip_state == "waiting":
        raise NotFound("The hot folder holds no such file.", "Release the job again.")
    name = next(f for f in made.files if f["name"].endswith("-print.pdf"))
    tell(0.2, "making plates")
    data = waiting[0].read_bytes() if waiting else load(name["sha256"])
    result = rip(data, state.destination_of(made.job), cancelled)
    made.plates = [
        {
            "ink": p.ink, "role": p.role.value if p.role else None, "prints": p.prints,
            "coverage": p.coverage, "sha256": keep(p.png),
        }
        for p in result.plates
    ]
    made.rip_refused = result.refused
    made.rip_state = "refused" if result.refused else "done"
    made.save(update_fields=["plates", "rip_refused", "rip_state"])
    for path in waiting:
        path.unlink(missing_ok=True)


KINDS: dict[str, Callable[[models.Work, Tell, Callable[[], bool]], None]] = {
    "take-in": _take_in,
    "analyse": _analyse,
    "try-sheet": _try_sheet,
    "mend": _mend,
    "release": _release,
    "rip": _rip,
}
