"""A store in a folder: of this machine, or one that several machines have in common."""

import hashlib
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

from content.store import Stored, checked_hash
from content.whole import BESIDE, move, read_whole, write_whole
from horismos.errors import CannotRead

__all__ = ["FolderStore"]


class FolderStore:
    """Files by the hash of what they hold, below a folder; ``Store`` says what each does."""

    near = True

    def __init__(self, root: Path) -> None:
        self.root = root

    def path_of(self, sha256: str) -> Path:
        """Where a file lies."""
        return self.root / checked_hash(sha256)[:2] / sha256

    def local(self, sha256: str) -> Path:
        """The file; who reads it holds it against its hash."""
        path = self.path_of(sha256)
        if not path.exists():
            raise CannotRead("A file of this job is missing in the store.", "Restore the shop's backup.")
        return path

    def has(self, sha256: str) -> bool:
        """Whether it holds a file."""
        return self.path_of(sha256).exists()

    def size(self, sha256: str) -> int:
        """How many bytes a file has."""
        try:
            return self.path_of(sha256).stat().st_size
        except OSError:
            return 0

    def put(self, data: bytes) -> str:
        """Keep bytes."""
        sha256 = hashlib.sha256(data).hexdigest()
        if not self.has(sha256):
            write_whole(self.path_of(sha256), data)
        return sha256

    def take(self, handle: int, path: Path, sha256: str) -> None:
        """Move a file to its place."""
        if not self.has(sha256):
            move(handle, path, self.path_of(sha256))

    def parts(self, sha256: str) -> Iterator[bytes]:
        """A file in parts."""
        return read_whole(self.path_of(sha256))

    def remove(self, sha256: str) -> None:
        """Remove a file."""
        self.path_of(sha256).unlink(missing_ok=True)

    def listed(self) -> Iterator[Stored]:
        """All that it holds."""
        for path in self.root.glob("??/*"):
            if not path.name.startswith(BESIDE):
                with suppress(FileNotFoundError):
                    found = path.stat()
                    yield Stored(path.name, found.st_size, found.st_mtime)
