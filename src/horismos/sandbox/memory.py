"""How much memory a process and all that it has started hold, as Linux tells it in /proc (proc(5))."""

import os
from collections.abc import Sequence
from pathlib import Path

__all__ = ["held", "tree_of"]

PAGE = os.sysconf("SC_PAGE_SIZE")


def tree_of(number: int) -> list[int]:
    """A process and all that it has started, children first found; what ends meanwhile is left out."""
    found, at = [number], 0
    while at < len(found):
        for task in _lines(Path(f"/proc/{found[at]}/task")):
            found += [int(one) for one in _text(Path(f"/proc/{found[at]}/task/{task}/children")).split()]
        at += 1
    return found


def held(numbers: Sequence[int], most: int) -> int:
    """Bytes that processes hold: what they share is counted once for all who share it.

    Counting so takes time; where even with it counted for each they come to no more than ``most``, that is given.
    """
    resident = sum(_resident(number) for number in numbers)
    return resident if resident <= most else sum(_proportional(number) for number in numbers)


def _resident(number: int) -> int:
    parts = _text(Path(f"/proc/{number}/statm")).split()
    return int(parts[1]) * PAGE if len(parts) > 1 else 0


def _proportional(number: int) -> int:
    for line in _text(Path(f"/proc/{number}/smaps_rollup")).splitlines():
        if line.startswith("Pss:"):
            return int(line.split()[1]) * 1024
    return 0


def _text(path: Path) -> str:
    try:
        return path.read_text()
    except OSError:
        return ""


def _lines(path: Path) -> list[str]:
    try:
        return os.listdir(path)
    except OSError:
        return []
