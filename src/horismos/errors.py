"""What the core raises when it cannot do what it was asked."""

__all__ = ["CannotRead", "CannotWrite", "HorismosError", "LimitExceeded", "Locked"]


class HorismosError(Exception):
    """Names the thing that is wrong and the next step for the person in front of it."""

    def __init__(self, message: str, next_step: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.next_step = next_step

    def __str__(self) -> str:
        return f"{self.message} {self.next_step}".strip()


class CannotRead(HorismosError):
    """The input is not what it claims to be, or too broken to be understood."""


class Locked(CannotRead):
    """The input opens only with a password."""


class LimitExceeded(CannotRead):
    """The input wants more time, memory or nesting than a file may have."""


class CannotWrite(HorismosError):
    """What was to be written would not be what was meant."""
