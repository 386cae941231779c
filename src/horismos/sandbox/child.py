"""The child's side: it waits for a call, carries it out, answers, and waits again."""

import importlib
import os
import signal
import socket
import sys
import tempfile
import traceback
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import asdict
from typing import Any, NoReturn

from horismos.errors import Asks, BringsStop, HorismosError, LimitExceeded
from horismos.sandbox.limits import Limits, die_with_parent, limit_processor, limit_self
from horismos.sandbox.wire import Closed, call_received, plain, send

__all__ = ["LEAVES_OFF", "begin", "refusal", "scratch_of"]

LEAVES_OFF = signal.SIGUSR1
"""What a child is sent that is to leave off what it does, and to wait for the next call."""


class _LeftOff(BaseException):
    """Nobody wants what is being worked out any more."""


class _Ear:
    """Hears that a call is to be left off: at once while it is carried out, and after a message that is being sent."""

    def __init__(self) -> None:
        self._open, self._heard = False, False
        signal.signal(LEAVES_OFF, self._hear)

    def _hear(self, number: int, frame: object) -> None:
        self._heard = True
        if self._open:
            self._open = False
            raise _LeftOff

    @contextmanager
    def listening(self) -> Iterator[None]:
        """While a call is carried out."""
        self._heard, self._open = False, True
        try:
            yield
        finally:
            self._open = False

    def teller(self, link: socket.socket) -> Callable[..., None]:
        """What tells the other side how far a call is, each message whole."""

        def tell(share: float, what: str, so_far: Any = None) -> None:
            self._open = False
            send(link, plain({"told": [share, what, *([] if so_far is None else [so_far])]}))
            self._open = True
            if self._heard:
                raise _LeftOff

        return tell


def begin(link: socket.socket, limits: Limits, parent: int) -> NoReturn:
    """Serve until the other side ends, then end at once: what the template had open is not for a child to close."""
    try:
        serve(link, limits, parent)
    except BaseException:
        traceback.print_exc()
    finally:
        sys.stdout.flush()
        sys.stderr.flush()
        os._exit(0)


def serve(link: socket.socket, limits: Limits, parent: int) -> None:
    """Answer calls until the other side ends. The process is a group of its own, so that it goes as one."""
    os.setsid()
    die_with_parent(parent)
    limit_self(limits)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    ear = _Ear()
    os.environ["TMPDIR"] = tempfile.tempdir = tempfile.mkdtemp(prefix=scratch_of(os.getpid()))
    try:
        link.sendall(b"i")  # whom this comes from is what the other side wants to know
        while True:
            with call_received(link) as (function, arguments, seconds):
                limit_processor(seconds)
                send(link, plain(_unless_left(ear, function, arguments, ear.teller(link))))
    except Closed:
        return


def scratch_of(number: int) -> str:
    """How the names of a child's own folders begin, by its number."""
    return f"horismos-child-{number}-"


def _unless_left(
    ear: _Ear, function: str, arguments: tuple[Any, ...], tell: Callable[..., None]
) -> dict[str, Any]:
    try:
        with ear.listening():
            return _answer(function, arguments, tell)
    except _LeftOff:
        return {"left off": True}


def refusal(error: HorismosError) -> dict[str, Any]:
    """An error of ours as an answer tells of it."""
    if isinstance(error, Asks):
        return {"asks": [asdict(question) for question in error.questions]}
    then = {"then": list(error.then)} if isinstance(error, BringsStop) else {}
    return {"error": error.code, "message": error.message, "next_step": error.next_step, **then}


def _answer(function: str, arguments: tuple[Any, ...], tell: Callable[..., None]) -> dict[str, Any]:
    module, _, name = function.partition(":")
    try:
        return {"done": getattr(importlib.import_module(module), name)(*arguments, tell=tell)}
    except HorismosError as error:
        return refusal(error)
    except (MemoryError, RecursionError):
        return {
            "error": LimitExceeded.code, "message": "The file asks for more memory or nesting than a file may.",
            "next_step": "Ask for a simpler one.",
        }
    except Closed:
        raise
    except Exception:
        return {"fault": traceback.format_exc(limit=-12)}
