"""Brings a file of the pile as far as no person is needed, and says what it needs from one."""

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from horismos.artwork import Artwork, read_bytes
from horismos.checking import Report, Severity, check_whole
from horismos.errors import Asks, HorismosError
from horismos.intake import Answers, take_in
from horismos.materials import MATERIALS
from horismos.mending import Step, offers, step
from horismos.workflow.case import Case, Progress
from horismos.workflow.mend import Course, mend_all, mend_safely
from horismos.workflow.pile.shop import CustomerHabits, PileFile, PileShop

__all__ = ["Did", "Refused", "Sorted", "State", "mended_by_itself", "sort_file", "wants_of"]

MISSING, NONE = "line.missing", "line.none"


class State(StrEnum):
    """What a file needs from a person, from what cannot be used on to nothing."""

    UNREADABLE = "unreadable"
    SAME = "same"
    ANSWER = "answer"
    LETTER = "letter"
    MEND = "mend"
    LOOK = "look"
    READY = "ready"


@dataclass(frozen=True)
class Did:
    """A mend that was done, and what it did in words."""

    mend: str
    says: str


@dataclass(frozen=True)
class Refused:
    """A mend that was not done, and why."""

    mend: str
    why: str


@dataclass(frozen=True)
class Sorted:
    """A file as far as it came. ``why`` are the questions that it leaves open, or the checks that found something.

    ``pdf`` is the file as far as it was mended; None where there is nothing to go on with.
    """

    state: State
    why: tuple[str, ...] = ()
    did: tuple[Did, ...] = ()
    refused: tuple[Refused, ...] = ()
    pdf: bytes | None = None


def sort_file(
    data: bytes, name: str, file: PileFile, shop: PileShop, progress: Progress = lambda share, what: None
) -> Sorted:
    """Take a file in, check it, do what is safe and what is the customer's habit, and check it again.

    Raises CannotRead (or LimitExceeded) where it cannot be taken in.
    """
    try:
        case = _taken_in(data, name, file, shop, progress)
    except Asks as asks:
        return Sorted(State.ANSWER, tuple(question.id for question in asks.questions))
    progress(0.3, "checking")
    report = check_whole(case.artwork, case.terms).report
    course = mended_by_itself(case, file.habits, report, lambda share, what: progress(0.4 + share * 0.6, what))
    did = tuple(Did(one.step.mend, one.said) for one in course.done)
    refused = _refused(course)
    again = _read_again(course) if course.after.verdict == "clean" and course.case.artwork.data != data else None
    state, why = _state(again or course.after)
    pdf = None if state is State.ANSWER else course.case.artwork.data
    return Sorted(state, why, did, refused, pdf)


def _taken_in(data: bytes, name: str, file: PileFile, shop: PileShop, progress: Progress) -> Case:
    taken = take_in(
        data, name, Answers(binding=file.habits.bind), file.order,
        tell=lambda share, what: progress(share * 0.3, what),
    )
    notes = tuple((note.severity, note.words) for note in taken.notes)
    artwork = replace(taken.artwork or read_bytes(taken.pdf), taken_in=notes, made_from=taken.kind)
    material = MATERIALS[file.order.material] if file.order.material else None
    return Case(artwork=artwork, order=file.order, material=material, check_sheet=shop.check_sheet)


def mended_by_itself(
    case: Case, habits: CustomerHabits, report: Report, progress: Progress = lambda share, what: None
) -> Course:
    """All that needs no person: what is safe, lines that are missing, the customer's mends, and what is safe then.

    ``report`` is the check of the case as it is.
    """
    course = mend_safely(case, lambda share, what: progress(share * 0.4, what), report)
    made = _to_make(course.after, habits, case.page_number)
    for steps in ([made] if made else [], habits.steps):
        if steps:
            progress(0.5, "doing what is always done for this customer")
            course = _then(course, _all(course.case, steps, course.after))
    if habits.steps or made:
        course = _then(course, mend_safely(course.case, lambda s, what: progress(0.7 + s * 0.3, what), course.after))
    return course


def _all(case: Case, steps: Sequence[Step], report: Report) -> Course:
    try:
        return mend_all(case, steps, report=report)
    except HorismosError as why:  # lines that fit nowhere on the page, and the like
        return Course(case, (), (), tuple((one, str(why)) for one in steps), report, report)


def _then(course: Course, more: Course) -> Course:
    return Course(
        more.case, course.done + more.done, course.skipped + more.skipped, course.refused + more.refused,
        course.before, more.after,
    )


def _to_make(report: Report, habits: CustomerHabits, page: int) -> Step | None:
    """What is made of the customer's lines: those that are missing, where no mend of theirs tells them in the file."""
    make, steps = habits.make, set(habits.steps)
    lacking = {f.subject for f in report.findings if f.id == MISSING and not steps & set(offers(f))}
    if make is None or not any(line.role.value in lacking for line in make.lines):
        return None
    wanted = tuple(line for line in make.lines if line.role.value in lacking)
    alone = all(line.along is None or line.along.value in lacking for line in wanted)
    lacking_only = replace(make, lines=wanted) if alone and not make.replaces else make
    return step("make-lines", make=json.dumps(lacking_only.to_json()), page=page)


def _refused(course: Course) -> tuple[Refused, ...]:
    """What was refused and not done after all; lines that there was nothing to make of are such too."""
    done = {one.step for one in course.done}
    empty = [(one, why) for one, why in course.skipped if one.mend == "make-lines"]
    return tuple(
        Refused(one.mend, why) for one, why in dict([*course.refused, *empty]).items() if one not in done
    )


def _read_again(course: Course) -> Report:
    """The whole check of what was written, as whoever opens it finds it."""
    artwork: Artwork = read_bytes(course.case.artwork.data)
    return check_whole(artwork, replace(course.case, artwork=artwork).terms).report


def _state(report: Report) -> tuple[State, tuple[str, ...]]:
    """What a report asks of a person, and the checks that ask it."""
    left = [finding for finding in report.findings if finding.severity in (Severity.STOP, Severity.LOOK)]
    ids = tuple(dict.fromkeys(finding.id for finding in left))
    if NONE in ids:
        return State.ANSWER, (NONE,)
    return wants_of((finding.severity, bool(offers(finding))) for finding in left), ids


def wants_of(left: Iterable[tuple[str, bool]]) -> State:
    """What findings ask of a person, each by its severity and whether a mend is offered for it.

    >>> wants_of([("look", False), ("stop", True)]), wants_of([("look", False)]), wants_of([])
    (<State.MEND: 'mend'>, <State.LOOK: 'look'>, <State.READY: 'ready'>)
    """
    said = set(left)
    if (Severity.STOP, False) in said:
        return State.LETTER
    return State.MEND if any(offered for _, offered in said) else State.LOOK if said else State.READY
