"""A piece of work that this worker holds: its job, its steps, how far it is, and what it writes."""

import time
from collections.abc import Callable, Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import contextmanager
from threading import Event
from typing import Any

from jobs import models
from jobs.store import queue
from jobs.store.children import LOOKING_S, run_step
from jobs.store.job_state import refresh
from jobs.store.snapshots import JobSnapshot, read_job

from horismos.errors import Asks, Cancelled

__all__ = ["Result", "StepResult", "Task"]

Result = dict[str, Any] | None
StepResult = dict[str, Any]
TELLS_EVERY_S = 0.2
HOLDS_EVERY_S = 3.0


class Task:
    """A row of the queue with its lease. Nothing else in this room knows that it is a row.

    ``result`` is what it, or a worker that died at it, has come to so far: kept with each commit. ``ending`` says that
    the worker itself is to end. ``carries`` carries out its steps: children of this process, or workers elsewhere.
    """

    def __init__(
        self, work: models.Work, ending: Callable[[], bool] = lambda: False, carries: Callable[..., Any] | None = None
    ) -> None:
        self.work, self._ending, self._carries = work, ending, carries or run_step
        self.arguments: dict[str, Any] = work.arguments
        self.result: Result = work.result
        self.times: list[tuple[str, float, bool]] = []
        """The steps that were carried out: which, for how many s, and whether in vain."""
        self._held, self._told = time.monotonic(), 0.0

    def job(self) -> JobSnapshot:
        """The job as it stands now."""
        return read_job(self.work.job_id)

    def progress(self, share: float, what: str) -> None:
        """Say how far it is, five times a second at most."""
        if time.monotonic() - self._told > TELLS_EVERY_S:
            self._told = time.monotonic()
            queue.tell(self.work, share, what)

    def cancelled(self) -> bool:
        """Whether it is to stop; asking keeps the lease alive."""
        if self._ending():
            return True
        if time.monotonic() - self._held < HOLDS_EVERY_S:
            return queue.is_stopped(self.work)
        self._held = time.monotonic()
        return not queue.keep_holding(self.work)

    def run_step(
        self, step: str, key: str, *arguments: Any, what: str = "Looking at the file",
        part: tuple[float, float] = (0.0, 1.0), better: Callable[[Any], None] = lambda so_far: None,
        within_s: float = LOOKING_S,
    ) -> Any:
        """What a step (``job:look``) gives; ``key`` is the same for all that came from one customer's file.

        It is a ``part`` of the task, from one share of the whole to another. ``better`` hears what a step that tells
        of it has so far.
        """
        begin, end = part

        def tell(share: float, words: str, *so_far: Any) -> None:
            self.progress(begin + share * (end - begin), words)
            for one in so_far:
                better(one)

        return self._timed(step, key, arguments, tell, self.cancelled, what, within_s)

    def _timed(
        self, step: str, key: str, arguments: tuple[Any, ...], tell: Callable[..., None],
        cancelled: Callable[[], bool], what: str, within_s: float = LOOKING_S,
    ) -> Any:
        """Have a step carried out, and note how long that took and how it ended."""
        began, failed = time.monotonic(), True
        try:
            found = self._carries(
                step, *arguments, key=key, seconds=within_s, tell=tell, cancelled=cancelled, what=what
            )
            failed = False
            return found
        except Asks:
            failed = False  # it is done: it asks
            raise
        finally:
            self.times.append((step, time.monotonic() - began, failed))

    def is_ending(self) -> bool:
        """Whether the worker itself is to end."""
        return self._ending()

    @contextmanager
    def beside(self, step: str, key: str, *arguments: Any, what: str) -> Iterator[Callable[[], Any]]:
        """Let a step run unseen beside others until it is waited for; left behind, it is stopped."""
        over = Event()
        with ThreadPoolExecutor(1) as thread:
            asked = thread.submit(
                self._timed, step, key, arguments, lambda share, words, *so_far: None, over.is_set, what
            )
            try:
                yield lambda: self._awaited(asked, what)
            finally:
                over.set()

    def _awaited(self, asked: Future[Any], what: str) -> Any:
        self.progress(0.9, what.lower())
        while True:
            try:
                return asked.result(0.1)
            except TimeoutError:
                if self.cancelled():
                    raise Cancelled from None

    @contextmanager
    def commit(self) -> Iterator[JobSnapshot]:
        """A transaction in which it writes what it has found, with the job as it stands then.

        Raises LeaseLost where it is not this worker's any more. Only fields that the work is about may be saved.
        """
        with queue.hold(self.work):
            yield self.job()
            queue.note(self.work, self.result)
            refresh({self.work.job_id, *self._on_its_sheet()})

    def show(self, result: StepResult) -> None:
        """Let screens see the best so far, which is not kept yet."""
        queue.note(self.work, result)

    def _on_its_sheet(self) -> list[int]:
        """The jobs of the sheet that it is on, none where it is on a job itself."""
        sheet = self.work.shared_id
        return [] if sheet is None else list(models.Share.objects.filter(sheet=sheet).values_list("job", flat=True))
