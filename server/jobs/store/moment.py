"""Reading all that belongs together as it was at one moment."""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection

__all__ = ["one_moment"]


@contextmanager
def one_moment() -> Iterator[None]:
    """What is read within is of one moment, whatever workers write meanwhile; nothing may be written within.

    SQLite's write-ahead log gives a reader a snapshot from its first reading on. Without one, a screen may be told that
    work has ended together with what stood before it, and would never ask again.
    """
    if connection.in_atomic_block:
        yield
        return
    with connection.cursor() as cursor:
        cursor.execute("BEGIN DEFERRED")
        try:
            yield
        finally:
            cursor.execute("ROLLBACK")
