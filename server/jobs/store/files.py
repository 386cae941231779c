"""Files by the hash of their content: written once, whole or not at all, and never changed."""

import contextlib
import errno
import hashlib
import os
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import NoReturn

from django.conf import settings

from horismos.errors import CannotWrite, NoRoom
from horismos.workflow.steps.stored import Content

__all__ = ["Incoming", "content_of", "keep", "load", "path_of", "read_whole", "write_whole"]

BESIDE = ".part-"
"""How the name begins of a file that is being written; one that is left over is swept."""
CHUNK = 1 << 20


def path_of(sha256: str) -> Path:
    """Where a file lies. Raises ValueError for what is no hash."""
    if len(sha256) != 64 or not all(c in "0123456789abcdef" for c in sha256):
        raise ValueError("Not a content hash.")
    return Path(settings.VAR) / "files" / sha256[:2] / sha256


def content_of(sha256: str) -> Content:
    """A stored file, as a child is told of it."""
    return Content(path_of(sha256), sha256)


@contextlib.contextmanager
def _beside(folder: Path) -> Iterator[tuple[int, Path]]:
    """A file in the folder that is there only while it is written; the caller moves it to its place."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        handle, name = tempfile.mkstemp(prefix=BESIDE, dir=folder)
        path = Path(name)
        try:
            yield handle, path
        finally:
            os.close(handle)
            path.unlink(missing_ok=True)
    except OSError as error:
        if error.errno in (errno.ENOSPC, errno.EDQUOT):
            raise NoRoom() from None
        raise CannotWrite(
            f"“{folder.name}” cannot be written to ({error.strerror}).",
            "Tell who looks after the server.",
        ) from None


def _move(handle: int, path: Path, to: Path) -> None:
    """Move a file to its place when all of it is on the disk, and make the move last."""
    os.fsync(handle)
    to.parent.mkdir(parents=True, exist_ok=True)
    path.replace(to)
    folder = os.open(to.parent, os.O_RDONLY | os.O_DIRECTORY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)


def _write(handle: int, data: bytes) -> None:
    view = memoryview(data)
    while view:
        view = view[os.write(handle, view) :]


def write_whole(path: Path, data: bytes) -> None:
    """Write a file so that it is there whole or not at all, also after a loss of power. Raises CannotWrite."""
    with _beside(path.parent) as (handle, beside):
        _write(handle, data)
        _move(handle, beside, path)


def keep(data: bytes) -> str:
    """Store bytes and give their hash; bytes that are there already are left alone."""
    sha256 = hashlib.sha256(data).hexdigest()
    path = path_of(sha256)
    if not path.exists():
        write_whole(path, data)
    return sha256


class Incoming:
    """Content that comes in parts, none of them kept in memory; it counts once all of it is kept.

    Every step raises CannotWrite where the disk does not take it, and then nothing of it stays.
    """

    def __init__(self) -> None:
        self._hash = hashlib.sha256()
        self._open = _beside(Path(settings.VAR) / "files")
        self._handle, self._path = self._open.__enter__()

    def write(self, part: bytes) -> None:
        """Add a part."""
        self._hash.update(part)
        try:
            _write(self._handle, part)
        except OSError as error:
            self._failed(error)

    def keep(self) -> str:
        """Make it content of the store; gives its hash."""
        sha256 = self._hash.hexdigest()
        try:
            if not path_of(sha256).exists():
                _move(self._handle, self._path, path_of(sha256))
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


def read_whole(path: Path) -> Iterator[bytes]:
    """A file in parts."""
    with path.open("rb") as file:
        while part := file.read(CHUNK):
            yield part


def load(sha256: str) -> bytes:
    """The bytes of a stored file. Raises CannotRead where they are gone, or not what they were."""
    return content_of(sha256).read()

