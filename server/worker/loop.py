"""The worker: takes what waits, one piece at a time, and hears at once when there is something new."""

import time

from bench import hot_folder
from django.conf import settings
from django.db import close_old_connections, connection
from jobs.store.children import POOL
from jobs.store.queue import claim, worker_name
from jobs.store.workers import note_itself

from worker.carrying_out import carry_out
from worker.ending import told_to_end

__all__ = ["LOOKS_ANYWAY_S", "LOOKS_EVERY_S", "run", "run_all", "written"]

LOOKS_EVERY_S = 0.02
NOTES_EVERY_S = 5.0
LOOKS_ANYWAY_S = 2.0
"""How often it looks for work that a dead worker has left, though nothing was written."""


def run() -> None:
    """Carry out work until SIGTERM or SIGINT; what is half done then waits for the next worker."""
    told = told_to_end()
    hot_folder.tidy()
    POOL.start()
    name = worker_name()
    seen, looked, noted = None, 0.0, 0.0
    while not told():
        if time.monotonic() - noted > NOTES_EVERY_S:
            noted = time.monotonic()
            note_itself(name)
        now = written()
        if now == seen and time.monotonic() - looked < LOOKS_ANYWAY_S:
            time.sleep(LOOKS_EVERY_S)
            continue
        seen, looked = now, time.monotonic()
        while not told() and (work := claim(name, settings.SLOTS)) is not None:
            carry_out(work, told)
            close_old_connections()
    POOL.close()


def run_all(name: str = "at once") -> int:
    """Carry out what waits until there is nothing more; gives how many pieces that were."""
    count = 0
    while (work := claim(name)) is not None:
        carry_out(work)
        count += 1
    return count


def written() -> int:
    """A number that changes when another connection has written to the database (SQLite's data_version)."""
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA data_version")
        return int(cursor.fetchone()[0])
