"""Work in a fork of this process, so that there is an end to what cannot be stopped otherwise."""

import contextlib
import os
import select
import signal
import time
from collections.abc import Callable

from horismos.errors import CannotRead, LimitExceeded
from horismos.sandbox.limits import die_with_parent

__all__ = ["aside", "seconds_for"]

CHUNK = 1 << 20
DONE, FAILED = b"d", b"f"


def seconds_for(size: int, least: float = 8.0, a_megabyte: float = 3.0, most: float = 90.0) -> float:
    """How long something may take for a file of so many bytes: small ones hold nobody up, large ones are given time."""
    return min(least + a_megabyte * size / 1e6, most)


def aside(work: Callable[[], bytes], seconds: float, what: str) -> bytes:
    """What ``work`` gives, done in a fork of this process.

    Raises LimitExceeded where it takes longer, and CannotRead where it fails or ends the fork; ``what`` begins the
    sentence that says so.
    """
    parent, ends = os.getpid(), time.monotonic() + seconds
    out, into = os.pipe()
    number = os.fork()
    if number == 0:
        with contextlib.suppress(BaseException):
            die_with_parent(parent)
            os.close(out)
            _do(work, into)
        os._exit(0)
    os.close(into)
    told = bytearray()
    try:
        while select.select([out], [], [], max(ends - time.monotonic(), 0.0))[0]:
            part = os.read(out, CHUNK)
            if not part:
                break
            told += part
        else:
            raise LimitExceeded(f"{what} took longer than {seconds:.0f} s.", "Ask for a simpler file.")
    finally:
        os.close(out)
        with contextlib.suppress(ProcessLookupError):
            os.kill(number, signal.SIGKILL)
        os.waitpid(number, 0)
    if told[:1] == DONE:
        return bytes(told[1:])
    said = told[1:].decode("utf-8", "replace") or "its reader ended"
    raise CannotRead(f"{what} failed ({said}).", "Ask for it to be written again.")


def _do(work: Callable[[], bytes], into: int) -> None:
    try:
        answer = DONE + work()
    except MemoryError:
        answer = FAILED + b"it asks for more memory than a file may"
    except Exception as error:
        answer = FAILED + str(error)[:200].encode("utf-8", "replace")
    view = memoryview(answer)
    while view:
        view = view[os.write(into, view) :]
