"""Carries out mends on a job's artwork, one or many, each checked before it holds."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from horismos.artwork import Artwork
from horismos.checking import Checked, Finding, Report, Severity, check_whole
from horismos.checking.engine.decisions import Decision, settled
from horismos.comparing.difference import compare
from horismos.comparing.facets import changed
from horismos.errors import BringsStop, CannotRead, CannotWrite, HorismosError, NothingToDo
from horismos.mending import Mended, Step, offered, offers, registered
from horismos.mending import mend as mend_artwork
from horismos.mending.lines.assign_role import to_remember
from horismos.workflow.case import Case, Progress

__all__ = ["Course", "mend", "mend_all", "mend_checked", "mend_safely", "safe_steps", "to_remember"]

NO_COMPANIONS = frozenset(["make-lines", "assign-role"])
"""What only a person can mean."""
MOST_TOLD = 3
MOST_ROUNDS = 3
"""[ours] what is safe may bring to light something else that is safe to mend."""


@dataclass(frozen=True, eq=False)
class Course:
    """What became of several steps, one after the other.

    ``done`` holds; ``skipped`` had nothing to do, ``refused`` was set aside, each with why. ``before`` and
    ``after`` are the checks of the artwork as it was and as it is; ``checked`` is all of the latter where it is the
    one check that was made since.
    """

    case: Case
    done: tuple[Mended, ...]
    skipped: tuple[tuple[Step, str], ...]
    refused: tuple[tuple[Step, str], ...]
    before: Report
    after: Report
    checked: Checked | None = None

    def to_json(self) -> dict[str, Any]:
        """The course as plain values."""
        return {
            "done": [
                {
                    "mend": one.step.mend, "said": one.said, "changed": dict(one.changed),
                    "proof": one.difference.to_json(), "settings": one.step.to_json(),
                }
                for one in self.done
            ],
            "skipped": [{"mend": step.mend, "why": why, "settings": step.to_json()} for step, why in self.skipped],
            "refused": [{"mend": step.mend, "why": why, "settings": step.to_json()} for step, why in self.refused],
            "before": _counted(self.before), "after": _counted(self.after),
        }


def _counted(report: Report) -> dict[str, Any]:
    counts: dict[str, int] = {}
    for finding in report.findings:
        counts[finding.id] = counts.get(finding.id, 0) + finding.count
    return {"verdict": report.verdict, "findings": counts}


def mend(
    case: Case, step: Step, progress: Progress = lambda share, what: None, report: Report | None = None,
    then: Sequence[Step] = (),
) -> tuple[Case, Mended]:
    """The case with its artwork mended, and what was done; where the file came from stays known.

    ``report`` is the check of the case as it is, where there is one. Steps that come ``then`` are done with it, as one.

    Raises NothingToDo where there is nothing to change, CannotWrite where
    the proof fails: something else would change, a new stop would come, or what asked for the mend would stay.
    BringsStop where a new stop would come that other steps answer.
    """
    return mend_checked(case, step, progress, report, then)[:2]


def mend_checked(
    case: Case, step: Step, progress: Progress = lambda share, what: None, report: Report | None = None,
    then: Sequence[Step] = (),
) -> tuple[Case, Mended, Checked]:
    """The same with the check of what came out."""
    report = report or check_whole(case.artwork, case.terms, lambda share, what: progress(share * 0.3, what)).report
    return _proved(case, step, report, lambda share, what: progress(0.3 + share * 0.7, what), then)


def _proved(
    case: Case, step: Step, report: Report, progress: Progress, then: Sequence[Step] = ()
) -> tuple[Case, Mended, Checked]:
    """The same where the check of what there is is known."""
    done = mend_artwork(case.artwork, step, case.destination, lambda s, what: progress(s * 0.6, what), case.order)
    for one in then:
        done = _both(case, done, mend_artwork(done.artwork, one, case.destination, order=case.order))
    mended = _from_there(done.artwork, case)
    after = _checked(case, mended, report, lambda share, what: progress(0.6 + share * 0.4, what))
    seen = _must_be_better(case, step, report, after.report, mended)
    words = f" What was there before and is seen now: {seen}" if seen else ""
    return replace(case, artwork=mended), replace(done, artwork=mended, said=done.said + words), after


def _from_there(artwork: Artwork, case: Case) -> Artwork:
    """An artwork that is known to come from where that of a case does."""
    return replace(artwork, taken_in=case.artwork.taken_in, made_from=case.artwork.made_from)


def _checked(case: Case, mended: Artwork, report: Report, progress: Progress) -> Checked:
    """The check of what a case has become, with its plates: they are wanted when it is looked at."""
    touched = changed(case.artwork, mended, case.destination)
    return check_whole(mended, case.terms, progress, report, touched, keeps_plates=True)


def _both(case: Case, one: Mended, other: Mended) -> Mended:
    """Two mends, one after the other, as one."""
    pages = {*one.places, *other.places}
    return replace(
        other, step=one.step, said=f"{one.said} {other.said}", changed={**one.changed, **other.changed},
        difference=compare(case.artwork, other.artwork, case.destination),
        places={page: [*one.places.get(page, ()), *other.places.get(page, ())] for page in pages},
        look_at={**other.look_at, **one.look_at},
    )


def _told(finding: Finding) -> tuple[str, int, str]:
    return finding.id, finding.page, finding.subject


def _new_stops(before: Report, after: Report) -> list[Finding]:
    was = {_told(f) for f in before.findings if f.severity is Severity.STOP}
    return [f for f in after.findings if f.severity is Severity.STOP and _told(f) not in was]


def _must_be_better(case: Case, step: Step, before: Report, after: Report, mended: Artwork) -> str:
    """What has only come into sight by a step that reveals, in words.

    Raises CannotWrite where a new stop has come, or where the finding that offered the step is there still.
    """
    new = _new_stops(before, after)
    if new and not registered()[step.mend].reveals:
        raise BringsStop(
            f"It would bring a new stop: {new[0].message}", "The file stays as it was.",
            [one.to_json() for one in _companions(case, new, before, after, mended)],
        )
    asked = {_told(f) for f in before.findings if step in offers(f)}
    still = [f for f in after.findings if _told(f) in asked and step in offers(f)]
    if still:
        raise CannotWrite(f"It would not help: {still[0].message}", "The file stays as it was.")
    return " ".join(f.message for f in new[:MOST_TOLD])


def _companions(case: Case, new: Sequence[Finding], before: Report, after: Report, mended: Artwork) -> list[Step]:
    """The steps that answer stops which a step has brought; none where no such steps leave the file without them."""
    steps: list[Step] = []
    artwork = mended
    for finding in new:
        ways = [one for one in offers(finding) if one.mend not in NO_COMPANIONS]
        if not ways:
            return []
        if ways[0] in steps:
            continue
        steps.append(ways[0])
        try:
            artwork = mend_artwork(artwork, ways[0], case.destination, order=case.order).artwork
        except HorismosError:
            return []
    told = check_whole(artwork, case.terms, before=after, touched=changed(mended, artwork, case.destination)).report
    return [] if _new_stops(before, told) else steps


def mend_all(
    case: Case, steps: Sequence[Step], progress: Progress = lambda share, what: None, report: Report | None = None
) -> Course:
    """Carry out steps in their order; what has nothing to do is skipped, what fails its proof set aside.

    ``report`` as for ``mend``.
    """
    report = report or check_whole(case.artwork, case.terms, lambda share, what: progress(share * 0.2, what)).report
    return _carried_out(case, steps, report, report, lambda share, what: progress(0.2 + share * 0.8, what))


def _carried_out(case: Case, steps: Sequence[Step], first: Report, report: Report, progress: Progress) -> Course:
    return _at_once(case, steps, first, report, progress) or _one_by_one(case, steps, first, report, progress)


def _at_once(
    case: Case, steps: Sequence[Step], first: Report, report: Report, progress: Progress
) -> Course | None:
    """All steps with one check at the end; None where that does not prove each of them good."""
    artwork = case.artwork
    done: list[Mended] = []
    skipped: list[tuple[Step, str]] = []
    for i, step in enumerate(steps):
        try:
            made = mend_artwork(artwork, step, case.destination, _part(progress, i, len(steps) + 1), case.order)
        except NothingToDo as why:
            skipped.append((step, str(why)))
        except HorismosError:
            return None
        else:
            artwork = _from_there(made.artwork, case)
            done.append(replace(made, artwork=artwork))
    if not done:
        return Course(case, (), tuple(skipped), (), first, report)
    after = _checked(case, artwork, report, _part(progress, len(steps), len(steps) + 1))
    asked = {_told(f) for f in report.findings if any(one.step in offers(f) for one in done)}
    still = any(_told(f) in asked and any(one.step in offers(f) for one in done) for f in after.report.findings)
    if still or _new_stops(report, after.report):
        return None
    mended = replace(case, artwork=artwork)
    return Course(mended, tuple(done), tuple(skipped), (), first, after.report, after)


def _one_by_one(case: Case, steps: Sequence[Step], first: Report, report: Report, progress: Progress) -> Course:
    """Each step with a check of its own: what brings a stop, or does not help, is set aside."""
    done: list[Mended] = []
    skipped: list[tuple[Step, str]] = []
    refused: list[tuple[Step, str]] = []
    for i, step in enumerate(steps):
        try:
            case, mended, after = _proved(case, step, report, _part(progress, i, len(steps)))
            report = after.report
            done.append(mended)
        except NothingToDo as why:
            skipped.append((step, str(why)))
        except (CannotWrite, CannotRead) as why:
            refused.append((step, str(why)))
    return Course(case, tuple(done), tuple(skipped), tuple(refused), first, report)


def _part(progress: Progress, i: int, count: int) -> Progress:
    """The progress of one of several steps within that of all."""
    return lambda share, what: progress((i + share) / count, what)


def safe_steps(report: Report, decisions: Sequence[Decision]) -> list[Step]:
    """The mends that need no person, for what no person has let pass, in the order in which they are done."""
    return offered(report.without(settled(report, decisions)))


def mend_safely(
    case: Case, progress: Progress = lambda share, what: None, report: Report | None = None
) -> Course:
    """Carry out every mend that needs no decision, and what these bring to light; ``report`` as for ``mend``."""
    first = report or check_whole(case.artwork, case.terms, lambda share, what: progress(share * 0.2, what)).report
    whole = Course(case, (), (), (), first, first)
    tried: set[Step] = set()
    for _ in range(MOST_ROUNDS):
        steps = [step for step in safe_steps(whole.after, case.decisions) if step not in tried]
        if not steps:
            break
        tried.update(steps)
        one_check = whole.after is first
        more = _carried_out(whole.case, steps, first, whole.after, lambda s, what: progress(0.2 + s * 0.8, what))
        whole = Course(
            more.case, whole.done + more.done, whole.skipped + more.skipped, whole.refused + more.refused, first,
            more.after, more.checked if one_check else whole.checked if not more.done else None,
        )
    return whole
