"""A worker: it carries out steps in limited children, and says how far each is. It knows no database and no web."""

import logging
import os
import socket
import time
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from threading import Lock, Thread
from typing import Any

from celery import Celery, Task
from celery.worker.control import inspect_command
from celery.worker.state import revoked
from content.store import Store
from kombu.exceptions import OperationalError

from horismos.errors import Cancelled, HorismosError
from horismos.fingerprint import code_fingerprint
from horismos.sandbox.child import refusal
from horismos.sandbox.pool import Call, Pool
from horismos.workflow.steps import BESIDE, STEPS
from horismos.workflow.steps.calls import arguments_of, packed_answer
from horismos.workflow.weights import Weight
from remote.app import STEP, WHO, app_at, own_queue, queue_of

__all__ = ["Hired", "work"]

log = logging.getLogger("horismos.worker")
BEATS_EVERY_S = 1.0
PACKED_BYTES = 20_000
"""[ours] a longer answer is packed on its way."""
TELLS_EVERY_S = 0.2
SPARE_CHILDREN = 2
BEHIND = 10
"""[ours] how much a worker yields to whatever else its machine does."""


@dataclass(frozen=True)
class Hired:
    """What a worker is: by which name, at which broker and store, how much at a time, and which weights it takes."""

    broker: str
    store: Store
    name: str
    slots: int
    weights: tuple[Weight, ...] = tuple(Weight)
    jail: Path | None = None
    """The folder in which a jail may write, where there is one."""

    @property
    def known_as(self) -> str:
        """Its name, of which there is one at a time."""
        return f"{self.name}.{os.getpid()}@{socket.gethostname()}"


@dataclass
class _Doing:
    """The steps that a worker carries out now, and how many it has."""

    steps: list["_Step"] = field(default_factory=list)
    lock: Lock = field(default_factory=Lock)
    done: int = 0
    failed: int = 0

    def now(self) -> list["_Step"]:
        """Those of this moment."""
        with self.lock:
            return list(self.steps)


def work(hired: Hired) -> None:
    """Carry out steps until SIGTERM; a second one ends at once."""
    os.nice(BEHIND)
    app = app_at(hired.broker)
    app.conf.task_queues = [own_queue(hired.known_as, hired.broker), *map(queue_of, hired.weights)]
    pool = Pool([*STEPS, *BESIDE], most=hired.slots + SPARE_CHILDREN, scratch=hired.jail)
    doing = _Doing()
    _registered(app, hired, pool, doing)
    pool.start()
    Thread(target=_beat, args=[doing], daemon=True, name="beat").start()
    worker = app.Worker(
        hostname=hired.known_as, pool="threads", concurrency=hired.slots, loglevel="INFO", without_gossip=True,
        without_mingle=True,
    )
    try:
        worker.start()
    finally:
        pool.close()


def _beat(doing: _Doing) -> None:
    """Say of each step that somebody is at it, also while its files are fetched."""
    while True:
        for step in doing.now():
            step.say({"beat": True}, tries=1)
        time.sleep(BEATS_EVERY_S)


def _registered(app: Celery, hired: Hired, pool: Pool, doing: _Doing) -> None:
    def step(task: Task, asked: Mapping[str, Any]) -> None:
        _Step(app, hired, pool, doing, task.request.id, asked).carry_out()

    def who(state: object) -> dict[str, Any]:
        return {
            "version": code_fingerprint()[:12], "slots": hired.slots, "weights": [*map(str, hired.weights)],
            "machine": socket.gethostname(), "done": doing.done, "failed": doing.failed,
            "doing": [step.shown() for step in doing.now()],
        }

    app.task(name=STEP, bind=True)(step)
    inspect_command(name=WHO)(who)


class _Step:
    """A step that was asked for, and the one who waits for it."""

    def __init__(
        self, app: Celery, hired: Hired, pool: Pool, doing: _Doing, number: str, asked: Mapping[str, Any]
    ) -> None:
        self._app, self._hired, self._pool, self._doing = app, hired, pool, doing
        self._number, self._asked = number, asked
        self._begun, self._told = time.monotonic(), 0.0

    def carry_out(self) -> None:
        """Carry it out and answer. What nobody waits for any more is not begun."""
        if self._number in revoked:
            return
        self.say({"began": self._hired.known_as})
        with self._doing.lock:
            self._doing.steps.append(self)
        try:
            answer = self._answer()
            packed = self._packed(answer)
        except Cancelled:
            return
        finally:
            with self._doing.lock:
                self._doing.steps.remove(self)
        self._doing.done += 1
        self._doing.failed += "done" not in answer
        self.say({"answer": packed, "seconds": time.monotonic() - self._begun})

    def shown(self) -> dict[str, Any]:
        """What it is, and for how long by now."""
        seconds = round(time.monotonic() - self._begun, 1)
        return {"step": self._asked["step"], "bytes": self._asked["bytes"], "seconds": seconds}

    def _answer(self) -> dict[str, Any]:
        asked = self._asked
        try:
            arguments = arguments_of(asked["step"], asked["arguments"], self._hired.store.local)
            call = Call(
                f"horismos.workflow.steps.{asked['step']}", arguments, asked["key"], asked["seconds"],
                took_too_long=tuple(asked["took_too_long"]),
            )
            return self._pool.answer(call, self._tell, self._cancelled)
        except Cancelled:
            raise
        except HorismosError as error:
            return refusal(error)
        except Exception as error:
            log.exception("%s failed", asked["step"])
            return {"fault": repr(error)}

    def _packed(self, answer: dict[str, Any]) -> bytes:
        try:
            return packed_answer(answer, self._hired.store.put)
        except HorismosError as error:
            return packed_answer(refusal(error), self._hired.store.put)

    def _tell(self, share: float, what: str, *so_far: Any) -> None:
        if so_far or time.monotonic() - self._told > TELLS_EVERY_S:
            self._told = time.monotonic()
            self.say({"told": [share, what, *so_far]}, tries=1)

    def _cancelled(self) -> bool:
        """Whether nobody waits any more."""
        return self._number in revoked

    def say(self, message: dict[str, Any], tries: int | None = None) -> None:
        """Say something to who waits; what must be heard is said until the broker takes it."""
        policy = {"max_retries": tries, "interval_start": 0.2, "interval_step": 0.3, "interval_max": 2}
        try:
            with self._app.producer_pool.acquire(block=True) as producer:
                producer.publish(
                    {"id": self._number, **message}, serializer="msgpack", exchange="",
                    routing_key=self._asked["reply"], retry=True, retry_policy=policy,
                    compression="zlib" if len(message.get("answer", b"")) > PACKED_BYTES else None,
                )
        except (OperationalError, OSError, ValueError):  # the last where a link was closed by another thread
            if tries is None:
                raise
