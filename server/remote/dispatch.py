"""The side that asks: steps are sent to whoever is free, heard until they are done, and sent again where one dies."""

import logging
import queue as queues
import time
import uuid
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from threading import Event, Lock, Thread
from typing import Any

from kombu import Consumer, Queue
from kombu.exceptions import OperationalError

from horismos.errors import Cancelled, SetAside
from horismos.sandbox.pool import value_of
from horismos.workflow.steps.calls import asked_content, packed_arguments, unpacked_answer
from horismos.workflow.weights import Weight, weight_of
from remote.app import ANSWERS, STEP, WHO, app_at, own_queue, priority_of, queue_of

__all__ = ["Dispatch", "Seen"]

log = logging.getLogger("horismos.dispatch")
LOOKS_EVERY_S = 0.25
SILENT_S = 10.0
"""[ours] a worker that has said nothing for so long, while the broker was there, is dead."""
WAITS_FOR_ONE_S = 2.0
"""[ours] a step waits so long for the worker that knows its file; then any may take it."""
LOST_S = 5.0
"""[ours] a step that nobody began, and that no queue holds any more, is sent again after so long."""
ASKS_WHO_EVERY_S = 2.0
MOST_DEATHS = 3
PACKED_BYTES = 20_000
"""[ours] a longer question is packed on its way."""
MOST_KEYS = 2_000
ENDED_THREE = SetAside(
    "Three workers ended while they handled the file, and it was set aside.",
    "Ask for it to be written again, and tell who looks after the server.",
)
Tell = Callable[..., None]


@dataclass(frozen=True)
class Seen:
    """A worker that has answered: what it is, and what it does."""

    name: str
    machine: str
    version: str
    slots: int
    weights: tuple[str, ...]
    doing: tuple[dict[str, Any], ...]
    when: float


@dataclass(eq=False)
class _Asked:
    """A step that is waited for."""

    message: dict[str, Any]
    weight: Weight
    heard: "queues.SimpleQueue[dict[str, Any]]" = field(default_factory=queues.SimpleQueue)
    numbers: list[str] = field(default_factory=list)
    near: bool = False
    sent: float = 0.0
    worker: str = ""
    last: float = 0.0
    deaths: int = 0
    looked: float = 0.0


class Dispatch:
    """Sends steps to the workers of a broker, and hears what they say. May be used by many threads.

    ``place`` gives where a content lies on this machine, ``size`` how many bytes it has.
    """

    def __init__(self, broker: str, place: Callable[[str], Path], size: Callable[[str], int]) -> None:
        self._app, self._broker = app_at(broker), broker
        link = self._app.connection_for_read()
        self._away = (
            OperationalError, OSError, *link.recoverable_connection_errors, *link.recoverable_channel_errors,
        )
        """What is raised where the broker is not there."""
        self._place, self._size = place, size
        self._reply = f"{ANSWERS}{uuid.uuid4().hex}"
        self._asked: dict[str, _Asked] = {}
        self._near: OrderedDict[str, str] = OrderedDict()
        self._seen: dict[str, Seen] = {}
        self._lock, self._over, self._hears = Lock(), Event(), Event()
        self._since = 0.0

    # -- begin and end -------------------------------------------------------------------------------

    def start(self) -> None:
        """Hear answers, and who is there."""
        for does in (self._listen, self._ask_who):
            Thread(target=does, daemon=True, name=does.__name__).start()

    def close(self) -> None:
        """Ask for nothing any more; what is under way is left off."""
        self._over.set()
        with self._lock:
            numbers = [number for asked in self._asked.values() for number in asked.numbers]
        self._revoke(numbers)

    def forget_queued(self) -> None:
        """Take away what a server before this one has asked for, and nobody waits for any more."""
        try:
            with self._app.connection_for_write() as connection:
                for weight in Weight:
                    bound = queue_of(weight)(connection.default_channel)
                    bound.declare()
                    bound.purge()
        except self._away as error:
            log.warning("the queues could not be emptied: %s", error)

    @property
    def hears(self) -> bool:
        """Whether the broker is there."""
        return self._hears.is_set()

    def seen(self) -> list[Seen]:
        """The workers that are there, by their names."""
        with self._lock:
            return sorted(self._seen.values(), key=lambda one: one.name)

    def slots(self) -> int:
        """How many steps the workers do at a time."""
        return sum(one.slots for one in self.seen())

    # -- a step --------------------------------------------------------------------------------------

    def run_step(
        self, step: str, *arguments: Any, key: str, seconds: float, tell: Tell = lambda share, what, *so_far: None,
        cancelled: Callable[[], bool] = lambda: False, what: str = "",
    ) -> Any:
        """What a step gives, carried out by a worker; long bytes come as ``Content`` of the store.

        Raises what ``children.run_step`` raises, and SetAside where three workers have died of it.
        """
        data = packed_arguments(step, arguments)
        size = sum(map(self._size, asked_content(step, data)))
        asked = _Asked({
            "step": step, "arguments": data, "key": key, "seconds": seconds, "bytes": size, "reply": self._reply,
            "took_too_long": [f"{what} took longer than {seconds:.0f} s, and was stopped.", "Ask for a simpler file."],
        }, weight_of(size))
        try:
            self._send(asked, self._near_to(key), cancelled)
            answer = self._awaited(asked, tell, cancelled)
        finally:
            with self._lock:
                for number in asked.numbers:
                    self._asked.pop(number, None)
        self._remember(key, asked.worker)
        return value_of(answer)

    def _awaited(self, asked: _Asked, tell: Tell, cancelled: Callable[[], bool]) -> dict[str, Any]:
        waiting_told = False
        while True:
            try:
                message = asked.heard.get(timeout=LOOKS_EVERY_S)
            except queues.Empty:
                message = {}
            if "answer" in message:
                self._revoke([number for number in asked.numbers if number != message["id"]])
                return unpacked_answer(message["answer"], self._place)
            if cancelled() or self._over.is_set():
                self._revoke(asked.numbers)
                raise Cancelled
            if "told" in message:
                share, words, *so_far = message["told"]
                tell(float(share), str(words), *so_far)
            if not asked.worker and not waiting_told and time.monotonic() - asked.sent > WAITS_FOR_ONE_S:
                tell(0.0, "waiting for a worker")
                waiting_told = True
            self._look_after(asked, cancelled)

    def _look_after(self, asked: _Asked, cancelled: Callable[[], bool]) -> None:
        """Send a step again whose worker is dead, that is lost, or waits for one worker too long."""
        now = time.monotonic()
        if asked.worker:
            if self.hears and now - max(asked.last, self._since) > SILENT_S:
                self._died(asked)
                self._again(asked, cancelled)
        elif asked.near and now - asked.sent > WAITS_FOR_ONE_S:
            self._again(asked, cancelled)
        elif self.hears and now - max(asked.sent, asked.looked, self._since) > LOST_S:
            asked.looked = now
            if self._waiting_in(queue_of(asked.weight).name) == 0:
                self._again(asked, cancelled)

    def _died(self, asked: _Asked) -> None:
        asked.deaths += 1
        log.error("%s ended at %s, %d of %d", asked.worker, asked.message["step"], asked.deaths, MOST_DEATHS)
        with self._lock:
            self._seen.pop(asked.worker, None)
        if asked.deaths >= MOST_DEATHS:
            self._revoke(asked.numbers)
            raise ENDED_THREE

    def _again(self, asked: _Asked, cancelled: Callable[[], bool]) -> None:
        self._revoke(asked.numbers[-1:])
        self._send(asked, "", cancelled)

    def _send(self, asked: _Asked, worker: str, cancelled: Callable[[], bool]) -> None:
        """Send a step to a worker, or to whoever is free; until the broker takes it. Raises Cancelled."""
        number = uuid.uuid4().hex
        with self._lock:
            self._asked[number] = asked
        asked.numbers.append(number)
        queue = own_queue(worker, self._broker) if worker else queue_of(asked.weight)
        asked.near = bool(worker)
        while True:
            asked.worker, asked.sent = "", time.monotonic()
            try:
                self._app.send_task(
                    STEP, args=[asked.message], queue=queue, task_id=number,
                    retry=False, compression="zlib" if len(asked.message["arguments"]) > PACKED_BYTES else None,
                    **priority_of(None if worker else asked.weight),
                )
                return
            except self._away as error:
                log.warning("the broker does not take a step: %s", error)
            if self._over.wait(0.5) or cancelled():
                raise Cancelled

    def _revoke(self, numbers: list[str]) -> None:
        if not numbers:
            return
        try:
            self._app.control.revoke(numbers)
        except self._away as error:
            log.warning("the broker does not take that a step is left off: %s", error)

    def _waiting_in(self, name: str) -> int | None:
        """How many steps wait in a queue; None where that cannot be told."""
        try:
            with self._app.connection_for_write() as connection:
                return int(connection.default_channel.queue_declare(queue=name, passive=True).message_count)
        except self._away:
            return None
        except Exception:  # there is no such queue: each broker says so in its own way
            return 0

    # -- which worker knows a file -------------------------------------------------------------------

    def _near_to(self, key: str) -> str:
        with self._lock:
            worker = self._near.get(key, "")
            return worker if worker in self._seen else ""

    def _remember(self, key: str, worker: str) -> None:
        if not worker:
            return
        with self._lock:
            self._near[key] = worker
            self._near.move_to_end(key)
            while len(self._near) > MOST_KEYS:
                self._near.popitem(last=False)

    # -- hearing -------------------------------------------------------------------------------------

    def _listen(self) -> None:
        while not self._over.is_set():
            try:
                self._hear()
            except self._away as error:
                if self._hears.is_set():
                    log.warning("the broker is away: %s", error)
            except Exception:
                log.exception("what was heard could not be understood")
            self._hears.clear()
            self._over.wait(0.5)

    def _hear(self) -> None:
        answers = Queue(self._reply, exchange="", routing_key=self._reply, durable=False, auto_delete=True)
        with self._app.connection_for_read() as connection:
            connection.ensure_connection(max_retries=1, timeout=3)
            with Consumer(connection.channel(), [answers], callbacks=[self._heard], accept=["msgpack"]):
                self._since = time.monotonic()
                self._hears.set()
                while not self._over.is_set():
                    try:
                        connection.drain_events(timeout=1.0)
                    except TimeoutError:
                        connection.heartbeat_check()

    def _heard(self, message: dict[str, Any], delivery: Any) -> None:
        delivery.ack()
        with self._lock:
            asked = self._asked.get(str(message.get("id")))
        if asked is None:
            return
        asked.last = time.monotonic()
        if "began" in message:
            asked.worker = str(message["began"])
        asked.heard.put(message)

    def _ask_who(self) -> None:
        while not self._over.is_set():
            if self._hears.is_set():
                try:
                    self._note(self._app.control.broadcast(WHO, reply=True, timeout=1.0) or [])
                except Exception as error:
                    log.warning("the workers could not be asked: %s", error)
            self._over.wait(ASKS_WHO_EVERY_S if self._seen else 0.5)

    def _note(self, said: list[dict[str, dict[str, Any]]]) -> None:
        now = time.time()
        found = {
            name: Seen(
                name, str(one["machine"]), str(one["version"]), int(one["slots"]), tuple(one["weights"]),
                tuple(one["doing"]), now,
            )
            for answer in said for name, one in answer.items() if "slots" in one
        }
        with self._lock:
            old = {name: one for name, one in self._seen.items() if now - one.when < SILENT_S}
            self._seen = {**old, **found}
