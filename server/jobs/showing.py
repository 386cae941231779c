"""Jobs as screens show them: rows of the database and the core's values in one, nothing worked out here."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

from pydantic import TypeAdapter

from horismos.artwork.kinds import FileKind
from horismos.checking import Severity, edge_limits
from horismos.checking.engine.decisions import Decision
from horismos.materials import Stratum
from horismos.mending import step_from
from horismos.orders import Order
from horismos.questions import Choice, Question
from horismos.roles import LineRole
from horismos.sheet import Layout
from horismos.stitching.stack import Stack
from horismos.workflow.mend import safe_steps
from horismos.workflow.showing.apart import ChangeShown
from horismos.workflow.showing.findings import FindingShown, MendShown, mend_shown, with_decisions
from horismos.workflow.showing.inks import PlatesShown
from horismos.workflow.showing.layout import LayoutShown, layout_shown
from horismos.workflow.showing.page import PageSeen
from horismos.workflow.showing.sheet import CutShown, SheetShown, ToolShown, tools_shown
from jobs import models
from jobs.listing import JobRow, job_row
from jobs.rehearsal_showing import RehearsalShown, rehearsal_shown
from jobs.release_showing import ReleaseShown, release_shown
from jobs.store.again import AgainShown, again_of
from jobs.store.analyses import StoredAnalysis, found_of
from jobs.store.corrected import to_redo
from jobs.store.customers import note_of
from jobs.store.decisions import decisions_of
from jobs.store.habits import Habit, habit_of, learnt_of
from jobs.store.kept import NewerShown, newer_than_kept
from jobs.store.letters import LetterShown, letters_of, write_to
from jobs.store.log import LogShown, logged
from jobs.store.queue import refused_mends
from jobs.store.recipes import RecipeShown, fitting
from jobs.store.snapshots import snapshot_of
from jobs.store.stacks import StackPackageShown, package_shown

__all__ = ["JobShown", "ReleaseShown", "habit_shown", "job_shown", "release_shown"]

@dataclass(frozen=True)
class NoteShown:
    """Something that taking in changed or could not keep."""

    severity: Severity
    words: str


@dataclass(frozen=True)
class IntakeShown:
    """How the file was taken in; ``kind`` is None while that is not known."""

    kind: FileKind | None
    pages: int
    notes: list[NoteShown]
    choices: list[Choice]
    order_said: list[str]
    order_warnings: list[str]
    file_name: str


@dataclass(frozen=True)
class RevisionShown:
    """A revision of the artwork. ``parent`` is the number of the one that it was made from, 0 for none."""

    id: int
    number: int
    said: str
    sha256: str
    current: bool
    proof: dict[str, Any] | None
    created: datetime
    parent: int
    steps: list[MendShown]


@dataclass(frozen=True)
class SharedOn:
    """A shared sheet that a job lies on, with so many copies."""

    id: int
    name: str
    copies: int


@dataclass(frozen=True)
class EdgeWanted:
    """What holds along the edge where the order says nothing, in mm."""

    bleed: float
    border: float
    tolerance: float


@dataclass(frozen=True)
class AsBefore:
    """The mends that the customer's files had before and this one wants, with the job that had them last."""

    job_id: int
    name: str
    mends: list[MendShown]


@dataclass(frozen=True)
class AlwaysShown:
    """Mends that people have given to these of the customer's files alike, and that may always be done from now on."""

    mends: list[MendShown]
    jobs: list[str]


@dataclass(frozen=True)
class RedoShown:
    """Something that was done by hand on the file before, and whether this one has been given it."""

    mend: MendShown
    done: bool


@dataclass(frozen=True, kw_only=True)
class CorrectedShown:
    """A corrected file, laid over the one before: ``before`` and ``now`` are the revisions as they came.

    ``changes`` is None while that is being found out, or where it could not be: then ``error`` says why.
    """

    before: int
    now: int
    file: str
    changes: list[ChangeShown] | None
    error: str
    redo: list[RedoShown]


@dataclass(frozen=True, kw_only=True)
class JobShown(JobRow):
    """A job with all that its stations show. What is not known yet is None."""

    destination: str
    material_id: str
    page: int
    layout: LayoutShown
    found: str
    released: bool
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
    safe_mends: list[str]
    as_before: AsBefore | None
    always: AlwaysShown | None
    recipes: list[RecipeShown]
    may_waive: bool
    has_edges: bool
    check_sheet: str
    checks_run: int
    checks_carried: int
    edge_wanted: EdgeWanted
    sheet: SheetShown | None
    cut: CutShown | None
    more_sheets: list[SheetShown]
    more_cuts: list[CutShown]
    price_m2: float | None
    shared_on: list[SharedOn]
    tools: list[ToolShown]
    own_tools: list[LineRole]
    rehearsal: RehearsalShown | None
    stack: Stack | None
    stacks: list[StackPackageShown]
    revisions: list[RevisionShown]
    releases: list[ReleaseShown]
    log: list[LogShown]
    customer_note: str
    """What everybody should know who works on the customer's jobs."""
    letters: list[LetterShown]
    write_to: str
    """Where letters to the customer go; empty where nobody said."""
    corrected: CorrectedShown | None
    again: AgainShown | None
    newer: list[NewerShown]
    """What of the Shelf is another now than when the job was released, by which it still goes."""


def _after_trials(job: models.Job, key: str, cards: Sequence[FindingShown]) -> tuple[FindingShown, ...]:
    """The cards without the mends that were tried on just this in vain; one that wants another goes with it."""
    refused = refused_mends(job, key)
    tried = [(row.arguments, (row.result or {}).get("then", [])) for row in refused if "mend" in row.arguments]
    if not tried:
        return tuple(cards)

    def now(mend: MendShown) -> MendShown | None:
        own = {"mend": mend.kind, **mend.settings}
        of_it = [one for one in tried if {key: v for key, v in one[0].items() if key != "then"} == own]
        if not of_it:
            return mend
        then = of_it[0][1]
        if not then or any("then" in arguments for arguments, _ in of_it):
            return None  # in vain alone, or even with what should have followed it
        return replace(mend, then=tuple(mend_shown(step_from(one)) for one in then))

    return tuple(
        replace(card, mends=tuple(kept for mend in card.mends if (kept := now(mend)) is not None)) for card in cards
    )


def _cards(job: models.Job, found: StoredAnalysis, decisions: Sequence[Decision]) -> tuple[FindingShown, ...]:
    if found.report is None:
        return ()
    return _after_trials(job, found.key, with_decisions(found.cards, found.report, decisions))


def _always(customer: str) -> AlwaysShown | None:
    learnt = learnt_of(customer)
    if learnt is None:
        return None
    return AlwaysShown([mend_shown(step) for step in learnt.steps], [job.name for job in learnt.jobs])


def habit_shown(job: models.Job) -> Habit | None:
    """What a job's screen offers to do as with the customer's files before."""
    found, decisions = found_of(job), decisions_of(job)
    return habit_of(job, found.report, _cards(job, found, decisions), decisions)


def job_shown(job: models.Job, waives: bool = False) -> JobShown:
    """A job with all that its stations show; ``waives`` says whether who asks may let stops pass."""
    now, found = snapshot_of(job), found_of(job)
    report, decisions = found.report, now.decisions
    wanted = edge_limits(Order(), now.check_sheet)
    cards = _cards(job, found, decisions)
    habit = habit_of(job, report, cards, decisions)
    return JobShown(
        **vars(job_row(job)), destination=job.destination_id, material_id=job.material_id,
        page=job.page, layout=layout_shown(Layout.from_json(job.layout)),
        found=found.key,
        released=bool(found.key) and job.releases.filter(key=now.package_key).exists(),
        current=now.is_current, error=found.error,
        revision=job.revision.number if job.revision else 0, questions=[_question(q) for q in job.asks],
        intake=_intake(job), plates=found.plates, plates_error=found.plates_error,
        strata=list(now.material.strata), seen=found.seen, findings=list(cards),
        safe_mends=[step.label for step in safe_steps(report, decisions)] if report else [],
        as_before=AsBefore(habit.job.pk, habit.job.name, [mend_shown(s) for s in habit.steps]) if habit else None,
        always=_always(job.customer), recipes=fitting(job, report), may_waive=waives,
        has_edges=found.has_edges, check_sheet=report.sheet.version if report else "shipped",
        checks_run=len(report.ran) if report else 0, checks_carried=len(report.carried) if report else 0,
        edge_wanted=EdgeWanted(wanted.bleed, wanted.border, wanted.tolerance), sheet=found.sheet, cut=found.cut,
        more_sheets=list(found.more_sheets), more_cuts=list(found.more_cuts), price_m2=job.material.data["price_m2"],
        shared_on=[
            SharedOn(share.sheet_id, share.sheet.name, share.quantity)
            for share in job.shares.select_related("sheet").order_by("-sheet")
        ],
        tools=list(tools_shown({**now.default_tools, **now.own_tools})),
        own_tools=list(now.own_tools),
        stack=Stack.from_json(job.stack) if job.stack else None,
        stacks=[package_shown(made) for made in job.stacks.order_by("-id")],
        rehearsal=rehearsal_shown(job.rehearsal) if now.rehearsed else None,
        revisions=[
            RevisionShown(
                r.pk, r.number, r.said, r.sha256, r.pk == job.revision_id, r.proof, r.created,
                r.parent.number if r.parent else 0, [mend_shown(step_from(step)) for step in r.steps],
            )
            for r in job.revisions.select_related("parent").order_by("number")
        ],
        releases=[release_shown(r) for r in job.releases.select_related("job").order_by("-id")],
        log=logged(job), newer=newer_than_kept(job),
        customer_note=note_of(job.customer), letters=letters_of(job=job), write_to=write_to(job.customer),
        corrected=_corrected(job), again=again_of(job),
    )


CHANGES = TypeAdapter(list[ChangeShown])


def _corrected(job: models.Job) -> CorrectedShown | None:
    kept = job.intake.get("corrected")
    if not kept or job.revision is None:
        return None
    changes = kept.get("changes")
    return CorrectedShown(
        before=kept["number"], now=kept.get("now", 0), file=kept["file"], error=kept.get("error", ""),
        changes=None if changes is None else CHANGES.validate_python(changes),
        redo=[RedoShown(mend_shown(step_from(step)), done) for step, done in to_redo(job)],
    )


def _question(question: dict[str, Any]) -> Question:
    return Question(
        question["id"], question["words"], tuple(Choice(**c) for c in question.get("choices", ())),
        tuple(question.get("extent", ())), question.get("extent_in", ""),
    )


def _intake(job: models.Job) -> IntakeShown:
    said = job.intake
    # what did not fit is told of this file and this order, and of no other
    now = [job.revision.number if job.revision else 0, job.order.data]
    warnings = said.get("order_warnings", []) if said.get("warned_of", now) == now else []
    return IntakeShown(
        FileKind(said["kind"]) if said.get("kind") else None, said.get("pages", 1),
        [NoteShown(Severity(n["severity"]), n["words"]) for n in said.get("notes", [])],
        [Choice(**c) for c in said.get("choices", [])], list(said.get("order_said", [])),
        list(warnings), job.original_name,
    )
