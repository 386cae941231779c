"""Jobs as screens show them: rows of the database and the core's values in one, nothing worked out here."""

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from horismos.checking import edge_limits
from horismos.checking.engine.decisions import settled
from horismos.materials import MATERIALS, Stratum
from horismos.orders import Order
from horismos.questions import Choice, Question
from horismos.workflow.showing.findings import FindingShown, with_decisions
from horismos.workflow.showing.inks import PlatesShown
from horismos.workflow.showing.page import DrawnLine, PageSeen
from horismos.workflow.showing.sheet import CutShown, SheetShown, ToolShown, tools_shown
from jobs import models
from jobs.store.analyses import Found, found_of
from jobs.store.cases import key_of, tools_of
from jobs.store.check_sheets import check_sheet_of
from jobs.store.decisions import decisions_of
from jobs.store.works import latest_of

__all__ = ["JobRow", "JobShown", "ReleaseShown", "WorkShown", "job_row", "job_shown", "release_shown", "work_shown"]

THUMB_CHARS = 60_000
"""Path data beyond this is not sent with a list of jobs; a thumbnail does without it."""


@dataclass(frozen=True)
class WorkShown:
    """A piece of work."""

    id: int
    job_id: int
    kind: models.WorkKind
    state: models.WorkState
    share: float
    what: str
    error: str
    result: dict[str, Any] | None = None


@dataclass(frozen=True)
class OrderShown:
    """An order; None where it says nothing."""

    width_mm: float | None = None
    height_mm: float | None = None
    quantity: int = 1
    roles: list[str] | None = None
    edge: str = "either"
    bleed_mm: float | None = None
    border_mm: float | None = None
    tolerance_mm: float | None = None
    viewing_distance_m: float | None = None
    seen: str = "front"
    material: str | None = None
    white: bool | None = None
    holes: int | None = None


@dataclass(frozen=True)
class JobRow:
    """A job as it stands in the list. ``verdict`` is empty and the counts None while it was never checked.

    ``holds`` is the one thing that holds it up, in words; ``reached`` counts the stations that are done.
    """

    id: int
    name: str
    customer: str
    due: date | None
    order: OrderShown
    material: str
    roles: list[str]
    verdict: str
    stops: int | None
    looks: int | None
    reached: int
    holds: str
    size_mm: list[float]
    has_picture: bool
    asks: int
    art_sha256: str
    media_box_mm: list[float]
    drawn: list[DrawnLine]
    work: WorkShown | None


@dataclass(frozen=True)
class NoteShown:
    """Something that taking in changed or could not keep."""

    severity: str
    words: str


@dataclass(frozen=True)
class IntakeShown:
    """How the file was taken in; ``kind`` is None while that is not known."""

    kind: str | None
    pages: int
    notes: list[NoteShown]
    choices: list[Choice]
    order_said: list[str]
    order_warnings: list[str]
    file_name: str


@dataclass(frozen=True)
class RevisionShown:
    """A revision of the artwork."""

    id: int
    number: int
    said: str
    sha256: str
    current: bool
    proof: dict[str, Any] | None
    created: datetime


@dataclass(frozen=True)
class FileShown:
    """A file of a package."""

    name: str
    sha256: str
    bytes: int


@dataclass(frozen=True)
class PlateShown:
    """A plate that the RIP made."""

    ink: str
    role: str | None
    prints: bool
    coverage: float
    sha256: str


@dataclass(frozen=True)
class ReleaseShown:
    """A package that was handed over, with the state of the machines."""

    id: int
    job_id: int
    job_name: str
    files: list[FileShown]
    worst_off_mm: float
    rip_state: models.RipState
    rip_refused: str
    plates: list[PlateShown]
    sheet_mm: list[float]
    created: datetime


@dataclass(frozen=True)
class LogShown:
    """Who did what, and when."""

    who: str
    what: str
    when: datetime


@dataclass(frozen=True)
class EdgeWanted:
    """What holds along the edge where the order says nothing, in mm."""

    bleed: float
    border: float
    tolerance: float


@dataclass(frozen=True)
class JobShown(JobRow):
    """A job with all that its stations show. What is not known yet is None."""

    destination: str
    material_id: str
    layout: dict[str, Any]
    current: bool
    error: str
    revision: int
    questions: list[Question]
    intake: IntakeShown
    plates: PlatesShown | None
    plates_error: str
    strata: list[Stratum]
    seen: PageSeen | None
    findings: list[FindingShown]
    may_waive: bool
    has_edges: bool
    check_sheet: str
    checks_run: int
    checks_carried: int
    edge_wanted: EdgeWanted
    sheet: SheetShown | None
    cut: CutShown | None
    tools: list[ToolShown]
    revisions: list[RevisionShown]
    releases: list[ReleaseShown]
    log: list[LogShown]


def work_shown(work: models.Work) -> WorkShown:
    """A piece of work."""
    return WorkShown(
        work.pk, work.job_id, models.WorkKind(work.kind), models.WorkState(work.state), work.share, work.what,
        work.error, work.result,
    )


def job_row(job: models.Job) -> JobRow:
    """A job as it stands in the list."""
    return JobRow(**_row(job, found_of(job)))


def _row(job: models.Job, found: Found) -> dict[str, Any]:
    severities: list[str] | None = None
    message = ""
    if found.report is not None:
        report = found.report.without(settled(found.report, decisions_of(job)))
        severities = [finding.severity.value for finding in report.findings]
        stops = sorted((f for f in report.findings if f.severity == "stop"), key=lambda f: f.id != "page.size")
        message = stops[0].message if stops else ""
    work = latest_of(job)
    drawn = found.seen.drawn if found.seen else ()
    return {
        "id": job.pk, "name": job.name, "customer": job.customer, "due": job.due,
        "order": OrderShown(**Order.from_json(job.order.data).to_json()), "material": job.material.title,
        "roles": sorted({line.role for line in found.seen.lines if line.role}) if found.seen else [],
        "verdict": _verdict(severities), "stops": _count(severities, "stop"), "looks": _count(severities, "look"),
        "reached": _reached(job, found, severities), "holds": _holds(job, found, work, message),
        "size_mm": list(found.seen.size_mm) if found.seen else [], "has_picture": bool(found.art_sha256),
        "asks": len(job.asks), "art_sha256": found.art_sha256,
        "media_box_mm": list(found.seen.media_box_mm) if found.seen else [],
        "drawn": list(drawn) if sum(len(line.path) for line in drawn) < THUMB_CHARS else [],
        "work": work_shown(work) if work else None,
    }


def _count(severities: list[str] | None, severity: str) -> int | None:
    return None if severities is None else severities.count(severity)


def _verdict(severities: list[str] | None) -> str:
    if severities is None:
        return ""
    return "stop" if "stop" in severities else "look" if "look" in severities else "clean"


def _reached(job: models.Job, found: Found, severities: list[str] | None) -> int:
    if severities is None:
        return 0
    if job.releases.exists():
        return 5
    return 1 if "stop" in severities else 2 if found.sheet and found.sheet.error else 4


def _holds(job: models.Job, found: Found, work: models.Work | None, stop: str) -> str:
    """The one thing that holds a job up, in words."""
    if job.asks:
        return str(job.asks[0]["words"])
    stopped = work is not None and work.state == models.WorkState.CANCELLED
    if not found.key:
        return "Taking in was stopped; take the file in again" if stopped else "Waiting to be checked"
    if found.error:
        return found.error
    if stopped and found.key != key_of(job):
        return "The check was stopped; what is found is from before the last change"
    if stop:
        return stop
    if found.sheet and found.sheet.error:
        return found.sheet.error
    if job.releases.exists():
        return "Released; wait until the print is dry, then cut"
    return "Ready to release"


def release_shown(made: models.Release) -> ReleaseShown:
    """A release with the state of the machines."""
    sheet = made.ticket["sheet"]
    return ReleaseShown(
        made.pk, made.job_id, made.job.name, [FileShown(**f) for f in made.files], made.worst_off_mm,
        models.RipState(made.rip_state), made.rip_refused, [PlateShown(**p) for p in made.plates],
        [sheet["width_mm"], sheet["length_mm"]], made.created,
    )


def job_shown(job: models.Job, waives: bool = False) -> JobShown:
    """A job with all that its stations show; ``waives`` says whether who asks may let stops pass."""
    found = found_of(job)
    report, sheet = found.report, check_sheet_of(job)
    wanted = edge_limits(Order(), sheet)
    cards = with_decisions(found.cards, report, decisions_of(job)) if report else ()
    return JobShown(
        **_row(job, found), destination=job.destination_id, material_id=job.material_id, layout=job.layout,
        current=bool(found.key) and found.key == key_of(job), error=found.error,
        revision=job.revision.number if job.revision else 0, questions=[_question(q) for q in job.asks],
        intake=_intake(job), plates=found.plates, plates_error=found.plates_error,
        strata=list(MATERIALS[job.material_id].strata), seen=found.seen, findings=list(cards), may_waive=waives,
        has_edges=found.has_edges, check_sheet=report.sheet.version if report else "shipped",
        checks_run=len(report.ran) if report else 0, checks_carried=len(report.carried) if report else 0,
        edge_wanted=EdgeWanted(wanted.bleed, wanted.border, wanted.tolerance), sheet=found.sheet, cut=found.cut,
        tools=list(tools_shown(tools_of(job))),
        revisions=[
            RevisionShown(r.pk, r.number, r.said, r.sha256, r.pk == job.revision_id, r.proof, r.created)
            for r in job.revisions.order_by("number")
        ],
        releases=[release_shown(r) for r in job.releases.select_related("job").order_by("-id")],
        log=[
            LogShown(entry.who.get_username() if entry.who else "someone", entry.what, entry.when)
            for entry in job.log.select_related("who").order_by("-id")
        ],
    )


def _question(question: dict[str, Any]) -> Question:
    return Question(question["id"], question["words"], tuple(Choice(**c) for c in question.get("choices", ())))


def _intake(job: models.Job) -> IntakeShown:
    said = job.intake
    return IntakeShown(
        said.get("kind"), said.get("pages", 1), [NoteShown(**n) for n in said.get("notes", [])],
        [Choice(**c) for c in said.get("choices", [])], list(said.get("order_said", [])),
        list(said.get("order_warnings", [])), job.original_name,
    )
