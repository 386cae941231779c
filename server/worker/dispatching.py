"""The worker where a broker is set: it computes nothing, and keeps as many pieces of work going as there are workers.

It alone claims work here; what its steps come to is kept in the transaction of its own lease, as on one machine.
"""

import time
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import asdict

from bench import hot_folder
from django.conf import settings
from django.db import close_old_connections
from jobs import models
from jobs.store.files import path_of, size_of
from jobs.store.queue import claim, worker_name
from jobs.store.workers import note_workers
from remote.dispatch import Dispatch

from worker.carrying_out import carry_out
from worker.ending import told_to_end
from worker.loop import LOOKS_ANYWAY_S, LOOKS_EVERY_S, written

__all__ = ["run"]

AHEAD = 2
"""[ours] so much more is under way than there are places: between two steps of one job a worker does another's."""
LEAST, MOST = 4, 64
NOTES_EVERY_S = 2.0


def run() -> None:
    """Carry out work until SIGTERM or SIGINT; what is half done then waits for the next start."""
    told = told_to_end()
    hot_folder.tidy()
    dispatch = Dispatch(settings.BROKER, path_of, size_of)
    dispatch.forget_queued()
    dispatch.start()
    with ThreadPoolExecutor(MOST, thread_name_prefix="work") as threads:
        _keep_going(dispatch, threads, told)
        dispatch.close()


def _keep_going(dispatch: Dispatch, threads: ThreadPoolExecutor, told: Callable[[], bool]) -> None:
    name, under_way = worker_name(), set[Future[None]]()
    seen, looked, noted = None, 0.0, 0.0

    while not told():
        if time.monotonic() - noted > NOTES_EVERY_S:
            noted = time.monotonic()
            note_workers([asdict(one) for one in dispatch.seen()])
        ended = {one for one in under_way if one.done()}
        under_way -= ended
        now = written()
        if not ended and now == seen and time.monotonic() - looked < LOOKS_ANYWAY_S:
            time.sleep(LOOKS_EVERY_S)
            continue
        seen, looked = now, time.monotonic()
        slots = dispatch.slots()
        while not told() and len(under_way) < min(max(slots + AHEAD, LEAST), MOST):
            work = claim(name, slots)
            if work is None:
                break
            under_way.add(threads.submit(_carried_out, work, told, dispatch))


def _carried_out(work: models.Work, told: Callable[[], bool], dispatch: Dispatch) -> None:
    try:
        carry_out(work, told, dispatch.run_step)
    finally:
        close_old_connections()
