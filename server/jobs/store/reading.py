"""Reading all that belongs together as it was at one moment."""

from collections.abc import Callable, Hashable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import TypeVar

from django.db import connection

__all__ = ["consistent_read", "memo"]

Found = TypeVar("Found")
_found: ContextVar[dict[Hashable, object] | None] = ContextVar("found", default=None)


@contextmanager
def consistent_read() -> Iterator[None]:
    """What is read within is of one moment, whatever workers write meanwhile; nothing may be written within.

    SQLite's write-ahead log gives a reader a snapshot from its first reading on. Without one, a screen may be told that
    work has ended together with what stood before it, and would never ask again.
    """
    if connection.in_atomic_block:
        yield
        return
    with connection.cursor() as cursor:
        cursor.execute("BEGIN DEFERRED")
        token = _found.set({})
        try:
            yield
        finally:
            _found.reset(token)
            cursor.execute("ROLLBACK")


def memo(key: Hashable, find: Callable[[], Found]) -> Found:
    """What is found for a key: within one moment it is looked for once, since it cannot come out otherwise."""
    known = _found.get()
    if known is None:
        return find()
    if key not in known:
        known[key] = find()
    found: Found = known[key]  # type: ignore[assignment]
    return found
