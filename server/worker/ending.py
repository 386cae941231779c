"""How a process of the shop is told to end."""

import signal
from collections.abc import Callable
from types import FrameType

__all__ = ["told_to_end"]


def told_to_end() -> Callable[[], bool]:
    """Whether SIGTERM or SIGINT has come, from now on: what is under way is then brought to an end, or given back."""
    told: list[int] = []

    def end(number: int, frame: FrameType | None) -> None:
        told.append(number)

    signal.signal(signal.SIGTERM, end)
    signal.signal(signal.SIGINT, end)
    return lambda: bool(told)
