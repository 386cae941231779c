"""Files by the hash of their content: written once, never changed."""

import hashlib
import os
import tempfile
from pathlib import Path

from django.conf import settings

__all__ = ["keep", "load", "path_of", "write_whole"]


def path_of(sha256: str) -> Path:
    """Where a file lies. Raises ValueError for what is no hash."""
    if len(sha256) != 64 or not all(c in "0123456789abcdef" for c in sha256):
        raise ValueError("Not a content hash.")
    return Path(settings.VAR) / "files" / sha256[:2] / sha256


def write_whole(path: Path, data: bytes) -> None:
    """Write a file so that it is there whole or not at all."""
    path.parent.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(dir=path.parent)
    with os.fdopen(handle, "wb") as out:
        out.write(data)
        out.flush()
        os.fsync(out.fileno())
    Path(name).replace(path)


def keep(data: bytes) -> str:
    """Store bytes and give their hash; bytes that are there already are left alone."""
    sha256 = hashlib.sha256(data).hexdigest()
    path = path_of(sha256)
    if not path.exists():
        write_whole(path, data)
    return sha256


def load(sha256: str) -> bytes:
    """The bytes of a stored file."""
    return path_of(sha256).read_bytes()
