"""How many may try to log in, at once and after each other, so that whoever is in already is answered."""

import threading
import time
from collections import OrderedDict, deque
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from django.conf import settings

__all__ = ["DOOR", "Door"]

AT_ONCE = 2
"""[ours] trying a password takes some tenths of a second of a core; so many are tried at the same time."""
WITHIN_S = 300.0
MOST_ADDRESSES = 10_000


class Door:
    """Counts wrong passwords by address and in all, and lets two be tried at a time. Belongs to one process."""

    def __init__(self, now: Callable[[], float] = time.monotonic) -> None:
        self._now = now
        self._lock = threading.Lock()
        self._free = threading.BoundedSemaphore(AT_ONCE)
        self._wrong: OrderedDict[str, deque[float]] = OrderedDict()
        self._all: deque[float] = deque()

    @contextmanager
    def trying(self, address: str) -> Iterator[bool]:
        """Whether a password may be tried now, by somebody at this address; held while it is tried."""
        if self._shut(address) or not self._free.acquire(blocking=False):
            yield False
            return
        try:
            yield True
        finally:
            self._free.release()

    def wrong(self, address: str) -> None:
        """Note that one was wrong."""
        with self._lock:
            tried = self._wrong.setdefault(address, deque(maxlen=settings.MOST_WRONG_BY_ADDRESS))
            self._wrong.move_to_end(address)
            for times in (tried, self._all):
                times.append(self._now())
            while len(self._wrong) > MOST_ADDRESSES:
                self._wrong.popitem(last=False)
            while len(self._all) > settings.MOST_WRONG_IN_ALL:
                self._all.popleft()

    def _shut(self, address: str) -> bool:
        with self._lock:
            since = self._now() - WITHIN_S
            tried = self._wrong.get(address, ())
            return (
                sum(when > since for when in tried) >= settings.MOST_WRONG_BY_ADDRESS
                or sum(when > since for when in self._all) >= settings.MOST_WRONG_IN_ALL
            )


DOOR = Door()
