"""Files by the hash of their content: written once, whole or not at all, and never changed."""

import contextlib
import hashlib
import os
import tempfile
from collections.abc import Iterable, Iterator
from pathlib import Path

from django.conf import settings

from horismos.errors import CannotWrite
from horismos.workflow.steps.stored import Content

__all__ = ["content_of", "keep", "keep_parts", "load", "path_of", "read_whole", "write_whole"]

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
        raise CannotWrite(
            f"“{folder.name}” cannot be written to ({error.strerror}).",
            "Make room, or tell who looks after the server.",
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


def write_whole(path: Path, data: bytes) -> None:
    """Write a file so that it is there whole or not at all, also after a loss of power. Raises CannotWrite."""
    with _beside(path.parent) as (handle, beside):
        view = memoryview(data)
        while view:
            view = view[os.write(handle, view) :]
        _move(handle, beside, path)


def keep(data: bytes) -> str:
    """Store bytes and give their hash; bytes that are there already are left alone."""
    sha256 = hashlib.sha256(data).hexdigest()
    path = path_of(sha256)
    if not path.exists():
        write_whole(path, data)
    return sha256


def keep_parts(parts: Iterable[bytes]) -> str:
    """The same for bytes that come in parts, none of them kept in memory."""
    with _beside(Path(settings.VAR) / "files") as (handle, beside):
        sha256 = hashlib.sha256()
        for part in parts:
            sha256.update(part)
            view = memoryview(part)
            while view:
                view = view[os.write(handle, view) :]
        path = path_of(sha256.hexdigest())
        if not path.exists():
            _move(handle, beside, path)
    return sha256.hexdigest()


def read_whole(path: Path) -> Iterator[bytes]:
    """A file in parts."""
    with path.open("rb") as file:
        while part := file.read(CHUNK):
            yield part


def load(sha256: str) -> bytes:
    """The bytes of a stored file. Raises CannotRead where they are gone, or not what they were."""
    return content_of(sha256).read()

