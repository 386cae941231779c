"""What several files of a pile ask alike: put together, so that it is shown once and answered once."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from horismos.checking.engine.check_sheet import GRAVE, Severity
from horismos.questions import Choice, Question
from horismos.workflow.showing.findings import MendShown

__all__ = ["Alike", "Asked", "SharedMend", "alike", "chosen"]

FEWEST = 2
"""[ours] what so many files ask is asked once."""
QUESTIONS = ("unit", "binding", "size", "pages", "password")
"""Those of intake, in the order in which they are put."""


@dataclass(frozen=True)
class Asked:
    """One thing that a file asks of a person: a finding with the mends offered for it, or a question of intake.

    ``file`` is whose it is; ``key`` is the finding's, or empty; ``severity`` is None for a question.
    """

    file: int
    id: str
    message: str
    key: str = ""
    severity: Severity | None = None
    mends: tuple[MendShown, ...] = ()
    question: Question | None = None


@dataclass(frozen=True)
class SharedMend:
    """A mend that several of them offer: ``each`` has its own words where its settings are each file's own."""

    kind: str
    label: str
    each: bool
    count: int


@dataclass(frozen=True)
class Alike:
    """The same thing, asked by several files. ``choices`` are those of a question, as all of them have it."""

    key: str
    id: str
    severity: Severity | None
    message: str
    asked: tuple[Asked, ...]
    mends: tuple[SharedMend, ...] = ()
    choices: tuple[Choice, ...] = ()

    @property
    def files(self) -> frozenset[int]:
        """Whose it is."""
        return frozenset(one.file for one in self.asked)


def alike(asked: Iterable[Asked]) -> tuple[Alike, ...]:
    """Groups of what several files ask alike: questions first, then the gravest, then what most files ask.

    Findings are alike by their check and severity; questions by what they ask and what can be answered, since one
    answer has to be right for all of them.
    """
    groups: dict[str, list[Asked]] = {}
    for one in asked:
        groups.setdefault(_kind_of(one), []).append(one)
    found = [_group(key, of) for key, of in groups.items() if len({one.file for one in of}) >= FEWEST]
    return tuple(sorted(found, key=lambda group: (*_rank(group), -len(group.files), group.key)))


def _kind_of(one: Asked) -> str:
    if one.question is None:
        return f"{one.severity}:{one.id}"
    keys = "|".join(choice.key for choice in one.question.choices)
    return f"ask:{one.id}:{keys}" if one.id in ("unit", "binding", "pages") else f"ask:{one.id}"


def _rank(group: Alike) -> tuple[int, int]:
    if group.severity is None:
        return 0, QUESTIONS.index(group.id) if group.id in QUESTIONS else len(QUESTIONS)
    return 1, -GRAVE.index(group.severity)


def _group(key: str, of: Sequence[Asked]) -> Alike:
    first = of[0]
    return Alike(key, first.id, first.severity, first.message, tuple(of), _shared_mends(of), _shared_choices(of))


def _shared_choices(of: Sequence[Asked]) -> tuple[Choice, ...]:
    """The choices of a question; what is said of one file alone, such as its size, is said of none."""
    first = of[0].question
    if first is None:
        return ()
    words: dict[str, set[str]] = {}
    for one in of:
        for choice in one.question.choices if one.question else ():
            words.setdefault(choice.key, set()).add(choice.words)
    return tuple(
        choice if len(words[choice.key]) == 1 else replace(choice, words=choice.key) for choice in first.choices
    )


def _shared_mends(of: Sequence[Asked]) -> tuple[SharedMend, ...]:
    """The mends that can be given to several of them: by their kind where each offers it once, else by their words."""
    kinds = dict.fromkeys(mend.kind for one in of for mend in one.mends)
    out: list[SharedMend] = []
    for kind in kinds:
        offered = [[mend for mend in one.mends if mend.kind == kind] for one in of]
        labels = list(dict.fromkeys(mend.label for mends in offered for mend in mends))
        if all(len(mends) <= 1 for mends in offered):
            out.append(SharedMend(kind, labels[0], len(labels) > 1, sum(map(bool, offered))))
        else:
            out += [
                SharedMend(kind, label, False, sum(label in [mend.label for mend in mends] for mends in offered))
                for label in labels
            ]
    return tuple(sorted(out, key=lambda mend: -mend.count))


def chosen(one: Asked, kind: str, label: str) -> MendShown | None:
    """The mend of a kind that one of them offers; among several, the one that is called so."""
    offered = [mend for mend in one.mends if mend.kind == kind]
    return next((mend for mend in offered if len(offered) == 1 or mend.label == label), None)
