"""What was fetched from a store elsewhere: files of a folder that holds no more than so many bytes."""

import os
import time
from pathlib import Path
from threading import Lock

from content.whole import BESIDE, move

__all__ = ["Cache"]

HELD_S = 120.0
"""[ours] what was asked for within so long is in use, and stays even where there is too much."""
COUNTS_EVERY = 50
"""[ours] after so many files what all of them hold is looked up anew: several processes share the folder."""


class Cache:
    """Files by their hash; the ones that were not asked for longest go first. Several processes may share it."""

    def __init__(self, root: Path, most_bytes: int) -> None:
        self.root, self._most = root, most_bytes
        self._held, self._taken = 0, 0
        self._lock = Lock()

    def path_of(self, sha256: str) -> Path:
        """Where a file lies, if it is here."""
        return self.root / sha256[:2] / sha256

    def found(self, sha256: str) -> Path | None:
        """A file that is here, which counts as used; None where it is not."""
        path = self.path_of(sha256)
        try:
            os.utime(path)
        except OSError:
            return None
        return path

    def take(self, handle: int, path: Path, sha256: str) -> Path:
        """Move a file in, and whatever is too much out."""
        to = self.path_of(sha256)
        size = os.fstat(handle).st_size
        move(handle, path, to)
        with self._lock:
            if self._taken % COUNTS_EVERY == 0:
                self._held = sum(size for _, size, _ in self._all())
            else:
                self._held += size
            self._taken += 1
            if self._held > self._most:
                self._relieve()
        return to

    def _relieve(self) -> None:
        for used, size, path in sorted(self._all()):
            if self._held <= self._most or time.time() - used < HELD_S:
                break
            path.unlink(missing_ok=True)
            self._held -= size

    def _all(self) -> list[tuple[float, int, Path]]:
        found = []
        for path in self.root.glob("??/*"):
            try:
                stat = path.stat()
            except OSError:
                continue
            if not path.name.startswith(BESIDE):
                found.append((stat.st_mtime, stat.st_size, path))
        return found
