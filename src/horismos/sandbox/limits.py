"""What a process that handles a file of unknown making may take of the machine."""

import ctypes
import os
import resource
import signal
from dataclasses import dataclass

__all__ = ["MEMORY_BYTES", "Limits", "adopt_orphans", "confine_self", "die_with_parent", "limit_self", "tree_bytes"]

MEMORY_BYTES = 4_000_000_000
OUTPUT_BYTES = 8_000_000_000
TREE_BYTES, TREE_RATIO, MOST_TREE_BYTES = 1_000_000_000, 10, 6_000_000_000
"""[ours] a child may hold so much together with all that it has started, more for large files, never more than that."""
PR_SET_PDEATHSIG, PR_SET_CHILD_SUBREAPER, PR_SET_NO_NEW_PRIVS = 1, 36, 38
"""From linux/prctl.h."""
_libc = ctypes.CDLL(None, use_errno=True)


@dataclass(frozen=True)
class Limits:
    """``seconds`` of the clock, and as many of each core; ``memory_bytes`` of addresses. All [ours]."""

    seconds: float = 120.0
    memory_bytes: int = MEMORY_BYTES
    output_bytes: int = OUTPUT_BYTES


def tree_bytes(file_bytes: int) -> int:
    """How much a child and all that it has started may hold for files of so many bytes."""
    return min(TREE_BYTES + TREE_RATIO * file_bytes, MOST_TREE_BYTES)


def die_with_parent(parent: int) -> None:
    """Let the kernel end this process when its parent ends, however that comes about."""
    _libc.prctl(PR_SET_PDEATHSIG, signal.SIGKILL, 0, 0, 0)
    if os.getppid() != parent:  # it ended before this was said
        os.kill(os.getpid(), signal.SIGKILL)


def adopt_orphans() -> None:
    """Become the parent of whatever the children of this process leave behind, so that it can be forgotten."""
    _libc.prctl(PR_SET_CHILD_SUBREAPER, 1, 0, 0, 0)


def limit_self(limits: Limits) -> None:
    """Put this process, and all that it starts, under limits on memory and on what it writes; no core dumps."""
    _libc.prctl(PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0)
    for what, most in (
        (resource.RLIMIT_AS, limits.memory_bytes), (resource.RLIMIT_FSIZE, limits.output_bytes),
        (resource.RLIMIT_CORE, 0),
    ):
        hard = resource.getrlimit(what)[1]
        most = most if hard == resource.RLIM_INFINITY else min(most, hard)
        resource.setrlimit(what, (most, most))


def limit_processor(seconds: float) -> None:
    """Let this process use so many seconds of the processor more, and then end."""
    used = resource.getrusage(resource.RUSAGE_SELF)
    cores = os.cpu_count() or 1
    soft = int(used.ru_utime + used.ru_stime + seconds * cores) + 1
    resource.setrlimit(resource.RLIMIT_CPU, (soft, resource.getrlimit(resource.RLIMIT_CPU)[1]))


def confine_self(limits: Limits) -> None:
    """Make this process itself the one that is limited: what a command of the shell does with its one file.

    At the end of its time it ends with the message of the signal, as every program that it has started does.
    """
    limit_self(limits)
    limit_processor(limits.seconds)
