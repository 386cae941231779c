"""What a store is."""

from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

__all__ = ["Store", "Stored", "checked_hash"]


@dataclass(frozen=True)
class Stored:
    """A file of the store: its hash, its length, and when it came, in s of the clock."""

    sha256: str
    bytes: int
    when: float


class Store(Protocol):
    """Files by the hash of what they hold. What is there is never another."""

    near: bool
    """Whether ``path_of`` is where a file lies; otherwise it lies elsewhere, and ``local`` fetches it."""

    def path_of(self, sha256: str) -> Path:
        """Where a file lies on this machine, or will once it is fetched. Raises ValueError for what is no hash."""

    def local(self, sha256: str) -> Path:
        """The file on this machine, fetched and held against its hash where it lay elsewhere.

        Raises CannotRead where it is gone, or not what it was.
        """

    def has(self, sha256: str) -> bool:
        """Whether it holds a file."""

    def size(self, sha256: str) -> int:
        """How many bytes a file has; 0 where there is none."""

    def put(self, data: bytes) -> str:
        """Keep bytes and give their hash; what is there is left alone. Raises CannotWrite."""

    def take(self, handle: int, path: Path, sha256: str) -> None:
        """Keep a file of this machine that is known to hold this, and open by a handle. Raises CannotWrite."""

    def parts(self, sha256: str) -> Iterator[bytes]:
        """A file as the store holds it, in parts, never as it was fetched before. Raises OSError."""

    def remove(self, sha256: str) -> None:
        """Remove a file, or do nothing where there is none."""

    def listed(self) -> Iterator[Stored]:
        """All that it holds."""


def checked_hash(sha256: str) -> str:
    """A hash. Raises ValueError for what is none."""
    if len(sha256) != 64 or not all(c in "0123456789abcdef" for c in sha256):
        raise ValueError("Not a content hash.")
    return sha256
