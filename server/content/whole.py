"""Files that are there whole or not at all, also after a loss of power."""

import contextlib
import errno
import os
import tempfile
from collections.abc import Iterator
from pathlib import Path

from horismos.errors import CannotWrite, NoRoom

__all__ = ["BESIDE", "CHUNK", "beside", "move", "read_whole", "write", "write_whole"]

BESIDE = ".part-"
"""How the name begins of a file that is being written; one that is left over is swept."""
CHUNK = 1 << 20


@contextlib.contextmanager
def beside(folder: Path) -> Iterator[tuple[int, Path]]:
    """A file in the folder that is there only while it is written; the caller moves it to its place.

    Raises CannotWrite where the disk does not take it.
    """
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
            f"“{folder.name}” cannot be written to ({error.strerror}).", "Tell who looks after the server.",
        ) from None


def move(handle: int, path: Path, to: Path) -> None:
    """Move a file to its place when all of it is on the disk, and make the move last."""
    os.fsync(handle)
    to.parent.mkdir(parents=True, exist_ok=True)
    path.replace(to)
    folder = os.open(to.parent, os.O_RDONLY | os.O_DIRECTORY)
    try:
        os.fsync(folder)
    finally:
        os.close(folder)


def write(handle: int, data: bytes) -> None:
    """Write all of it."""
    view = memoryview(data)
    while view:
        view = view[os.write(handle, view) :]


def write_whole(path: Path, data: bytes) -> None:
    """Write a file so that it is there whole or not at all, also after a loss of power. Raises CannotWrite."""
    with beside(path.parent) as (handle, part):
        write(handle, data)
        move(handle, part, path)


def read_whole(path: Path) -> Iterator[bytes]:
    """A file in parts."""
    with path.open("rb") as file:
        while part := file.read(CHUNK):
            yield part
