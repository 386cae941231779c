"""The content of files, kept under the hash of it: the same content is kept once, whole or not at all, never changed.
"""

import hashlib
from collections.abc import Iterator, Mapping
from dataclasses import fields, is_dataclass
from functools import cache
from pathlib import Path
from typing import NoReturn

from content.opening import store_at
from content.store import Store
from content.whole import BESIDE, beside, read_whole, write, write_whole
from django.conf import settings

from horismos.errors import CannotRead
from horismos.workflow.steps.stored import Content

__all__ = [
    "BESIDE", "Incoming", "bytes_of", "content_of", "fetch", "keep", "load", "local", "parts_of", "path_of",
    "read_whole", "size_of", "store", "verified", "write_whole",
]


def store() -> Store:
    """The shop's store: a folder beside its data, or what the setting says."""
    var = Path(settings.VAR)
    return _opened(settings.STORE or str(var / "files"), var / "cache", settings.CACHE_BYTES)


_opened = cache(store_at)


def path_of(sha256: str) -> Path:
    """Where a file lies on this machine, or will once it is fetched. Raises ValueError for what is no hash."""
    return store().path_of(sha256)


def local(sha256: str) -> Path:
    """A file on this machine, fetched where it lies elsewhere. Raises CannotRead, and ValueError for what is no hash.
    """
    return store().local(sha256)


def verified(sha256: str) -> Path:
    """A file on this machine that was just held against its hash, to be given away. Raises CannotRead."""
    path, whole = local(sha256), hashlib.sha256()
    for part in read_whole(path):
        whole.update(part)
    if whole.hexdigest() != sha256:
        raise CannotRead("A file of this job has changed in the store.", "Restore the shop's backup.")
    return path


def size_of(sha256: str) -> int:
    """How many bytes a stored file has; 0 where there is none."""
    return store().size(sha256) if sha256 else 0


def content_of(sha256: str) -> Content:
    """A stored file, as a child is told of it."""
    return Content(path_of(sha256), sha256)


def fetch(value: object) -> None:
    """Fetch all content that a value names, where the store lies elsewhere. Raises CannotRead."""
    if store().near:
        return
    if isinstance(value, Content):
        local(value.sha256)
    elif is_dataclass(value) and not isinstance(value, type):
        fetch([getattr(value, part.name) for part in fields(value)])
    elif isinstance(value, Mapping):
        fetch(list(value.values()))
    elif isinstance(value, list | tuple):
        for one in value:
            fetch(one)


def keep(data: bytes | Content) -> str:
    """Store bytes and give their hash; what is there already is left alone, as what a worker elsewhere has stored."""
    return data.sha256 if isinstance(data, Content) else store().put(data)


def bytes_of(data: bytes | Content) -> bytes:
    """Bytes that a step has given; a worker elsewhere has stored them."""
    return load(data.sha256) if isinstance(data, Content) else data


class Incoming:
    """Content that comes in parts, none of them kept in memory; it counts once all of it is kept.

    Every step raises CannotWrite where the disk does not take it, and then nothing of it stays.
    """

    def __init__(self) -> None:
        self._hash = hashlib.sha256()
        self._open = beside(Path(settings.VAR) / "files")
        self._handle, self._path = self._open.__enter__()

    def write(self, part: bytes) -> None:
        """Add a part."""
        self._hash.update(part)
        try:
            write(self._handle, part)
        except OSError as error:
            self._failed(error)

    def keep(self) -> str:
        """Make it content of the store; gives its hash."""
        sha256 = self._hash.hexdigest()
        try:
            store().take(self._handle, self._path, sha256)
        except OSError as error:
            self._failed(error)
        self.drop()
        return sha256

    def drop(self) -> None:
        """Leave nothing of it."""
        self._open.__exit__(None, None, None)

    def _failed(self, error: OSError) -> NoReturn:
        self._open.__exit__(type(error), error, error.__traceback__)  # raises CannotWrite
        raise error


def load(sha256: str) -> bytes:
    """The bytes of a stored file. Raises CannotRead where they are gone, or not what they were."""
    return Content(local(sha256), sha256).read()


def parts_of(sha256: str) -> Iterator[bytes]:
    """A stored file in parts, as the store holds it."""
    return store().parts(sha256)
