"""Which code this is: what was found by other code may be found otherwise now."""

import hashlib
from functools import cache
from pathlib import Path

__all__ = ["code_fingerprint"]

HERE = Path(__file__).parent
BESIDE = frozenset(["cli"])
"""Rooms that find nothing."""


@cache
def code_fingerprint(root: Path = HERE) -> str:
    """A hash of all sources below a folder, by name and content; the same wherever the folder lies.

    >>> len(code_fingerprint())
    64
    """
    whole = hashlib.sha256()
    for path in sorted(root.rglob("*.py")):
        name = path.relative_to(root)
        if name.parts[0] not in BESIDE:
            whole.update(f"{name.as_posix()}\0".encode() + hashlib.sha256(path.read_bytes()).digest())
    return whole.hexdigest()
