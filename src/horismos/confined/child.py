"""The child's side: it waits for a call, carries it out, answers, and waits again."""

import importlib
import os
import signal
import socket
import sys
import tempfile
import traceback
from collections.abc import Callable
from dataclasses import asdict
from typing import Any, NoReturn

from horismos.confined.limits import Limits, die_with_parent, limit_processor, limit_self
from horismos.confined.wire import Closed, call_received, plain, send
from horismos.errors import Asks, BringsStop, HorismosError, LimitExceeded

__all__ = ["begin", "scratch_of"]


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
    os.environ["TMPDIR"] = tempfile.tempdir = tempfile.mkdtemp(prefix=scratch_of(os.getpid()))
    try:
        link.sendall(b"i")  # whom this comes from is what the other side wants to know
        while True:
            with call_received(link) as (function, arguments, seconds):
                limit_processor(seconds)
                send(link, plain(_answer(function, arguments, _teller(link))))
    except (Closed, OSError):
        return


def scratch_of(number: int) -> str:
    """How the names of a child's own folders begin, by its number."""
    return f"horismos-child-{number}-"


def _teller(link: socket.socket) -> Callable[[float, str], None]:
    return lambda share, what: send(link, plain({"told": [share, what]}))


def _answer(function: str, arguments: tuple[Any, ...], tell: Callable[[float, str], None]) -> dict[str, Any]:
    module, _, name = function.partition(":")
    try:
        return {"done": getattr(importlib.import_module(module), name)(*arguments, tell=tell)}
    except Asks as asks:
        return {"asks": [asdict(question) for question in asks.questions]}
    except BringsStop as error:
        return {
            "error": error.code, "message": error.message, "next_step": error.next_step, "then": list(error.then),
        }
    except HorismosError as error:
        return {"error": error.code, "message": error.message, "next_step": error.next_step}
    except (MemoryError, RecursionError):
        return {
            "error": LimitExceeded.code, "message": "The file asks for more memory or nesting than a file may.",
            "next_step": "Ask for a simpler one.",
        }
    except Closed:
        raise
    except Exception:
        return {"fault": traceback.format_exc(limit=-12)}
