"""Children that are started beforehand, and calls that one of them carries out.

A child belongs to the file that it first handles: it may keep what it has read, and never meets another's.
"""

import contextlib
import logging
import os
import pickle
import select
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from horismos.errors import Asks, BringsStop, Cancelled, CannotRead, LimitExceeded, by_code
from horismos.questions import Choice, Question
from horismos.sandbox.child import LEAVES_OFF
from horismos.sandbox.jail import jailed
from horismos.sandbox.limits import Limits, tree_bytes
from horismos.sandbox.memory import held, tree_of
from horismos.sandbox.wire import HEAD, Closed, exactly, hand, named, receive_within, takes_names, values

__all__ = ["Call", "Fault", "Pool", "value_of"]

log = logging.getLogger(__name__)
LOOKS_EVERY_S, LOOKS_SOON_S = 0.1, 0.02
HEARS_WITHIN_S = 1.0
"""[ours] a child that is asked to leave off does so within so long, or it is ended."""
IDLE_S = 90.0
"""[ours] after so long what a child has read is given back."""
HEAVY_BYTES = 700_000_000
"""[ours] a child that holds more than this is not kept."""
START_S = 60.0
Tell = Callable[..., None]
ANSWERS_WITHIN_S = 60.0
"""An answer that has begun is whole within so long."""


class Fault(RuntimeError):
    """Our own code failed in a child; holds the trace."""


@dataclass(frozen=True)
class Call:
    """What a child is to do: ``function`` (module:name) with arguments, as one of those for ``key``.

    The function also gets ``tell``, and gives plain values and bytes. ``took_too_long`` and ``what_ended`` are
    what people read where the time is over, or where the child ended by itself. A child that is ``kept`` knows what
    took long to find: such calls with its key wait for it, and one that is cancelled is left off without ending it.
    """

    function: str
    arguments: tuple[Any, ...] = ()
    key: str = ""
    seconds: float = 120.0
    kept: bool = False
    took_too_long: tuple[str, str] = ("This took longer than it may.", "Ask for a simpler file.")
    what_ended: tuple[str, str] = (
        "The file made its reader end, or asks for more memory than a file may.", "Ask for it to be written again.",
    )


@dataclass(eq=False)
class _Child:
    number: int
    link: socket.socket
    key: str = ""
    rested: float = field(default_factory=time.monotonic)

    def end(self) -> None:
        """End the child with all that it has started."""
        with contextlib.suppress(ProcessLookupError, PermissionError):
            os.killpg(self.number, signal.SIGKILL)
        with contextlib.suppress(ProcessLookupError):  # it may not be a group yet
            os.kill(self.number, signal.SIGKILL)
        self.link.close()

    def gone(self) -> bool:
        """Whether it has ended while it rested: unasked no child says anything."""
        return bool(select.select([self.link], [], [], 0)[0])

    def heavy(self) -> bool:
        """Whether it holds more memory than one that is kept may."""
        return held([self.number], HEAVY_BYTES) > HEAVY_BYTES


class Pool:
    """At most ``most`` children at a time, forked from a template that has imported ``modules``.

    ``ready`` of them wait for the next file. With ``scratch``, a folder, they live in a jail that can write there
    alone. May be used by many threads; belongs to one process.
    """

    def __init__(
        self, modules: Sequence[str], most: int = 4, ready: int = 1, limits: Limits | None = None,
        scratch: Path | None = None,
    ) -> None:
        self.most = most
        self._scratch = scratch
        self._own: Path | None = None
        self._modules, self._limits = tuple(modules), limits or Limits()
        self._wanted = ready
        self._free = threading.Condition()
        self._template: tuple[subprocess.Popen[bytes], socket.socket] | None = None
        self._forking = threading.Lock()
        self._starter = ThreadPoolExecutor(1, "starts templates")
        self._idle: list[_Child] = []
        self._ready: list[_Child] = []
        self._busy = 0
        self._at_work: list[_Child] = []
        self._owner = os.getpid()

    # -- calls ---------------------------------------------------------------------------------------

    def run(
        self, call: Call, tell: Tell = lambda share, what, *so_far: None,
        cancelled: Callable[[], bool] = lambda: False,
    ) -> Any:
        """What a call gives; ``tell`` hears how far it is, and of some calls what they have so far.

        Raises what the function raises of our errors; LimitExceeded when its time is over, CannotRead where
        the child ended, Cancelled within a moment of ``cancelled`` saying so, Fault where our code failed.
        """
        return value_of(self.answer(call, tell, cancelled))

    def answer(
        self, call: Call, tell: Tell = lambda share, what, *so_far: None,
        cancelled: Callable[[], bool] = lambda: False,
    ) -> dict[str, Any]:
        """What a child answers, in plain values and bytes: ``value_of`` reads it.

        Raises LimitExceeded, CannotRead and Cancelled as ``run`` does.
        """
        answer = self._by_a_child(call, tell, cancelled)
        if answer is None:  # it may have been ended from outside, with no fault of the file
            log.warning("a child ended at %s, which is tried once more", call.function)
            answer = self._by_a_child(call, tell, cancelled)
        if answer is None:
            raise CannotRead(*call.what_ended)
        if "left off" in answer:
            raise Cancelled
        return answer

    def _by_a_child(self, call: Call, tell: Tell, cancelled: Callable[[], bool]) -> dict[str, Any] | None:
        """What a child answers, None where it ended before."""
        child = self._taken(call.key, cancelled, call.kept)
        answer = None
        try:
            answer = self._answer(child, call, tell, cancelled)
        finally:
            self._rest(child, answer is not None)
        return answer

    def _answer(
        self, child: _Child, call: Call, tell: Tell, cancelled: Callable[[], bool]
    ) -> dict[str, Any] | None:
        ends, looks = time.monotonic() + call.seconds, 0.0
        try:
            most = tree_bytes(hand(child.link, (call.function, call.arguments, call.seconds)))
        except Closed:
            return None
        while True:
            try:
                answer = _received(child, LOOKS_SOON_S if call.kept else LOOKS_EVERY_S)
            except (Closed, ValueError):
                return None
            if time.monotonic() > ends:
                raise LimitExceeded(*call.took_too_long)
            if call.kept and cancelled():
                return self._left_off(child)
            if time.monotonic() - looks > LOOKS_EVERY_S:
                looks = time.monotonic()
                if cancelled():
                    raise Cancelled
                if held(tree_of(child.number), most) > most:
                    raise LimitExceeded(
                        f"This asks for more memory than a file of its size may: {most / 1e6:,.0f} MB.",
                        "Ask for a simpler file.",
                    )
            if answer is None:
                continue
            if "told" not in answer:
                return answer
            tell(*answer["told"])

    def _left_off(self, child: _Child) -> dict[str, Any]:
        """Ask a child to leave off what it does, and hear that it has. Raises Cancelled where it does not."""
        with contextlib.suppress(ProcessLookupError):
            os.kill(child.number, LEAVES_OFF)
        ends = time.monotonic() + HEARS_WITHIN_S
        while time.monotonic() < ends:
            try:
                answer = _received(child, LOOKS_SOON_S)
            except (Closed, ValueError):
                break
            if answer is not None and "told" not in answer:
                return {"left off": True}
        raise Cancelled

    # -- children --------------------------------------------------------------------------------------

    def begin(self) -> None:
        """Start the template, and wait for nothing."""
        with self._forking:
            self._started(again=False)

    def start(self) -> None:
        """Start the template and the first children beforehand."""
        with self._free:
            self._check_owner()
        self._fill()

    def close(self) -> None:
        """End all children and the template."""
        with self._free:
            for child in [*self._idle, *self._ready]:
                child.end()
            self._idle, self._ready = [], []
            if self._template is not None:
                process, control = self._template
                control.close()
                with contextlib.suppress(subprocess.TimeoutExpired):
                    process.wait(5)
                process.kill()
                process.wait()
                self._template = None
            self._clear()

    def _clear(self) -> None:
        """Take away what a jail has left behind."""
        if self._own is not None:
            shutil.rmtree(self._own, ignore_errors=True)
            self._own = None

    def _check_owner(self) -> None:
        """After a fork of this process nothing here is its own."""
        if self._owner != os.getpid():
            self._template, self._idle, self._ready, self._busy, self._owner = None, [], [], 0, os.getpid()
            self._at_work, self._starter = [], ThreadPoolExecutor(1, "starts templates")

    def _taken(self, key: str, cancelled: Callable[[], bool], waits: bool) -> _Child:
        with self._free:
            self._check_owner()
            self._forget_gone()
            while True:
                self._retire()
                known = next((c for c in reversed(self._idle) if key and c.key == key), None)
                if known is not None:
                    self._idle.remove(known)
                    self._busy += 1
                    self._at_work.append(known)
                    return known
                if waits and any(child.key == key for child in self._at_work):
                    if not self._free.wait(LOOKS_SOON_S) and cancelled():
                        raise Cancelled
                    continue
                if self._busy + len(self._idle) < self.most or self._idle:
                    if self._busy + len(self._idle) >= self.most:
                        self._idle.pop(0).end()
                    self._busy += 1
                    break
                if not self._free.wait(LOOKS_EVERY_S) and cancelled():
                    raise Cancelled
            child = self._ready.pop() if self._ready else None
        try:
            child = child or self._forked()
        except BaseException:
            with self._free:
                self._busy -= 1
                self._free.notify()
            raise
        child.key = key
        with self._free:
            self._at_work.append(child)
        return child

    def _rest(self, child: _Child, done: bool) -> None:
        """Keep a child that did its work; end one that failed, was stopped, or holds too much."""
        with self._free:
            self._busy -= 1
            self._at_work.remove(child)
            if done and child.key and not child.heavy():
                child.rested = time.monotonic()
                self._idle.append(child)
            else:
                child.end()
            self._free.notify()
        if not self._ready and self._wanted:
            threading.Thread(target=self._fill, daemon=True).start()

    def _retire(self) -> None:
        for child in [c for c in self._idle if time.monotonic() - c.rested > IDLE_S]:
            self._idle.remove(child)
            child.end()

    def _forget_gone(self) -> None:
        """Leave out what has ended while it rested, as all do whose template was ended."""
        for resting in (self._idle, self._ready):
            for child in [one for one in resting if one.gone()]:
                resting.remove(child)
                child.link.close()

    def _fill(self) -> None:
        with contextlib.suppress(Closed, OSError):
            while len(self._ready) < self._wanted:
                child = self._forked()
                with self._free:
                    self._ready.append(child)

    def _forked(self) -> _Child:
        """A new child; the template is started where it is not there, or has ended."""
        with self._forking:
            for attempt in (0, 1):
                process, control = self._started(again=attempt > 0)
                ours, theirs = socket.socketpair()
                takes_names(ours)
                try:
                    socket.send_fds(control, [pickle.dumps(self._limits)], [theirs.fileno()])
                    exactly(control, HEAD.size)
                    ours.settimeout(ANSWERS_WITHIN_S)
                    return _Child(named(ours), ours)
                except (OSError, Closed):
                    ours.close()
                    process.kill()
                finally:
                    theirs.close()
        raise CannotRead("No process could be started to read the file.", "Try again; tell who looks after this.")

    def _started(self, again: bool) -> tuple[subprocess.Popen[bytes], socket.socket]:
        if self._template is not None and (again or self._template[0].poll() is not None):
            self._template[1].close()
            self._template[0].wait()
            self._template = None
        if self._template is None:
            ours, theirs = socket.socketpair()
            ours.settimeout(START_S)
            command = [sys.executable, "-m", "horismos.sandbox.template", str(theirs.fileno()), *self._modules]
            if self._scratch is not None:
                # one for each template: in two jails two children have one number
                self._scratch.mkdir(parents=True, exist_ok=True, mode=0o700)
                self._clear()
                self._own = Path(tempfile.mkdtemp(dir=self._scratch, prefix="jail-"))
                command = jailed(command, self._own)
            # by a thread that lives as long as this process: a jail ends with the thread that began it
            process = self._starter.submit(
                subprocess.Popen, command, pass_fds=[theirs.fileno()], stdin=subprocess.DEVNULL,
                start_new_session=True, env={
                    **os.environ, "OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1",
                    "PYTHONPATH": os.pathsep.join(filter(None, sys.path)),
                },
            ).result()
            theirs.close()
            self._template = process, ours
        return self._template


def _received(child: _Child, seconds: float) -> dict[str, Any] | None:
    """What a child says within so many seconds, None where that is nothing.

    Raises Closed where it has ended, and ValueError for what no child of ours says.
    """
    data = receive_within(child.link, seconds)
    if data is None:
        return None
    answer = values(data)
    if not isinstance(answer, dict):
        raise ValueError("A child answered nonsense.")
    if "told" in answer:
        try:
            share, what, *so_far = answer["told"]
            answer = {"told": (float(share), str(what), *so_far)}
        except TypeError as error:
            raise ValueError(str(error)) from None
    return answer


def value_of(answer: Mapping[str, Any]) -> Any:
    """What a child's answer comes to. Raises what it tells of."""
    if "fault" in answer:
        raise Fault(str(answer["fault"]))
    if "asks" in answer:
        raise Asks(*(
            Question(**{**q, "choices": tuple(Choice(**c) for c in q["choices"]), "extent": tuple(q["extent"])})
            for q in answer["asks"]
        ))
    if answer.get("then"):
        raise BringsStop(str(answer["message"]), str(answer["next_step"]), answer["then"])
    if "error" in answer:
        raise by_code(str(answer["error"]), str(answer["message"]), str(answer["next_step"]))
    return answer["done"]
