"""Every error there is. Each has a code, names the thing that is wrong, and says the next step.

Being stopped by a person is no error, and has no code: nobody has to do anything about it.
"""

from collections.abc import Mapping, Sequence
from typing import Any, ClassVar

from horismos.questions import Question

__all__ = [
    "Asks", "BadValue", "BringsStop", "Cancelled", "CannotRead", "CannotWrite", "ChangedMeanwhile", "DoesNotFit",
    "HorismosError",
    "LimitExceeded", "Locked", "NoRoom", "NotFound", "NotInstalled", "NotPermitted", "NotReady", "NothingToDo",
    "SetAside", "StopsOpen", "by_code", "codes",
]


class HorismosError(Exception):
    """Names the thing that is wrong and the next step for the person in front of it.

    ``code`` tells the kind of error to programs; it never changes.
    """

    code: ClassVar[str] = "cannot-do"

    def __init__(self, message: str, next_step: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.next_step = next_step

    def __str__(self) -> str:
        return f"{self.message} {self.next_step}".strip()


class CannotRead(HorismosError):
    """The input is not what it claims to be, or too broken to be understood."""

    code = "cannot-read"


class Locked(CannotRead):
    """The input opens only with a password."""

    code = "locked"


class LimitExceeded(CannotRead):
    """The input wants more time, memory or nesting than a file may have."""

    code = "limit-exceeded"


class SetAside(CannotRead):
    """Whoever handles the file ends by it, again and again; nobody tries any more."""

    code = "set-aside"


class BadValue(CannotRead):
    """A value that was given cannot be meant: out of range, of another type, or unknown."""

    code = "bad-value"


class CannotWrite(HorismosError):
    """What was to be written would not be what was meant; nothing was written."""

    code = "cannot-write"


class NoRoom(CannotWrite):
    """The disk is full; what was there before stands."""

    code = "no-room"

    def __init__(
        self, message: str = "The disk of the server is full. Nothing was changed.",
        next_step: str = "Make room, or tell who looks after the server.",
    ) -> None:
        super().__init__(message, next_step)


class BringsStop(CannotWrite):
    """A change would bring a new stop that another change answers; both together can be asked for.

    ``then`` are the changes that would have to follow, as plain values.
    """

    code = "brings-stop"

    def __init__(self, message: str, next_step: str = "", then: Sequence[Mapping[str, Any]] = ()) -> None:
        super().__init__(message, next_step)
        self.then = tuple(dict(one) for one in then)


class NothingToDo(HorismosError):
    """What was asked for would change nothing."""

    code = "nothing-to-do"


class DoesNotFit(HorismosError):
    """The pieces do not fit on the media."""

    code = "does-not-fit"


class StopsOpen(HorismosError):
    """A finding of the severity stop is open, so nothing may be released."""

    code = "stops-open"


class NotFound(HorismosError):
    """What was named is not there."""

    code = "not-found"


class NotPermitted(HorismosError):
    """The person has not the right to do that."""

    code = "not-permitted"


class NotReady(HorismosError):
    """What is asked about has not been worked out yet."""

    code = "not-ready"


class ChangedMeanwhile(HorismosError):
    """What was to be changed is not any more what the person had seen."""

    code = "changed-meanwhile"


class NotInstalled(HorismosError):
    """A program that is needed is missing on this machine."""

    code = "not-installed"


class Asks(HorismosError):
    """The file can be taken in as soon as its questions are answered."""

    code = "asks"

    def __init__(self, *questions: Question) -> None:
        super().__init__(" ".join(question.words for question in questions))
        self.questions = questions


class Cancelled(BaseException):
    """A person stopped the work. What was there before stands.

    No error, so that nothing that catches errors takes it for one; whoever runs work catches it by name.
    """


def _all(kind: type[HorismosError]) -> list[type[HorismosError]]:
    return [kind, *(found for child in kind.__subclasses__() for found in _all(child))]


def codes() -> dict[str, str]:
    """Every code with what it means.

    >>> codes()["locked"]
    'The input opens only with a password.'
    """
    return {kind.code: (kind.__doc__ or "").splitlines()[0] for kind in _all(HorismosError)}


def by_code(code: str, message: str, next_step: str = "") -> HorismosError:
    """The error of a code, such as a child process has told it.

    >>> type(by_code("locked", "The file opens only with a password.")).__name__
    'Locked'
    """
    for kind in _all(HorismosError):
        if kind.code == code and kind is not Asks:
            return kind(message, next_step)
    return HorismosError(message, next_step)
