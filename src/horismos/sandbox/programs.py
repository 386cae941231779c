"""Programs that are not ours, under limits on time and memory; Ghostscript is never run otherwise."""

import os
import select
import shutil
import signal
import subprocess
import tempfile
import time
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path

from horismos.errors import Cancelled, CannotRead, LimitExceeded, NotInstalled
from horismos.sandbox.limits import MEMORY_BYTES, Limits, die_with_parent, limit_self

__all__ = ["ghostscript", "lines_of", "run_limited"]

TIME_S = 120.0
PRINTED_BYTES = 1_000_000
LOOKS_EVERY_S = 0.02


def run_limited(
    command: Sequence[str],
    cwd: Path,
    time_s: float = TIME_S,
    cancelled: Callable[[], bool] = lambda: False,
    memory_bytes: int = MEMORY_BYTES,
) -> bytes:
    """Run a program in a folder of its own and give what it printed.

    Its temporary files go into that folder too: Ghostscript's safe mode allows writing where
    those go, and a PostScript file may do the same. It ends when this process ends.

    Raises LimitExceeded when the time is over, Cancelled when ``cancelled`` says so, CannotRead
    when the program fails, with the last line it printed.
    """
    ends, parent, limits = time.monotonic() + time_s, os.getpid(), Limits(time_s, memory_bytes)

    def begin() -> None:
        die_with_parent(parent)
        limit_self(limits)

    with tempfile.TemporaryFile() as output:
        child = subprocess.Popen(
            list(command), cwd=cwd, stdin=subprocess.DEVNULL, stdout=output, stderr=subprocess.STDOUT,
            preexec_fn=begin, env={**os.environ, "TMPDIR": str(cwd)},
        )
        try:
            while not _ended(child):
                if cancelled():
                    raise Cancelled(f"{Path(command[0]).name} was stopped.")
                if time.monotonic() > ends:
                    raise LimitExceeded(
                        f"{Path(command[0]).name} took longer than {time_s:.0f} s.",
                        "Simplify the artwork or ask for a flattened one.",
                    )
        finally:
            if child.poll() is None:
                child.send_signal(signal.SIGKILL)
                child.wait()
        output.seek(0)
        said = output.read(PRINTED_BYTES)
    if child.returncode:
        lines = said.decode("utf-8", "replace").strip().splitlines()
        told = next((line for line in lines if line.startswith("Error:")), lines[-1] if lines else "it said nothing")
        raise CannotRead(f"{Path(command[0]).name} stopped: {told[:200]}")
    return said


def _ended(child: subprocess.Popen[bytes]) -> bool:
    try:
        child.wait(LOOKS_EVERY_S)
    except subprocess.TimeoutExpired:
        return False
    return True


def ghostscript(
    arguments: Sequence[str], cwd: Path, cancelled: Callable[[], bool] = lambda: False,
    time_s: float = TIME_S, memory_bytes: int = MEMORY_BYTES,
) -> bytes:
    """Run Ghostscript in safe mode. Raises as run_limited, or where it is not installed."""
    program = shutil.which("gs")
    if program is None:
        raise NotInstalled("Ghostscript is not installed.", "Install the package ghostscript.")
    fixed = [program, "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-dNOPROMPT"]
    return run_limited([*fixed, *arguments], cwd, time_s, cancelled, memory_bytes)


def lines_of(
    command: Sequence[str], given: str, time_s: float = TIME_S, enough: Callable[[], bool] = lambda: False
) -> Iterator[list[str]]:
    """The lines that a program prints, those together that came since the last were taken; it reads ``given``.

    When it is ``enough`` the program is ended, and the lines so far stand; so it is when the time is over. Raises
    CannotRead where it fails.
    """
    ends, parent = time.monotonic() + time_s, os.getpid()

    def begin() -> None:
        die_with_parent(parent)
        limit_self(Limits(time_s))

    with tempfile.TemporaryFile("w+") as asked, tempfile.TemporaryFile("w+") as errors:
        asked.write(given)
        asked.seek(0)
        child = subprocess.Popen(
            list(command), stdin=asked, stdout=subprocess.PIPE, stderr=errors, preexec_fn=begin, bufsize=0,
        )
        assert child.stdout is not None
        try:
            rest = b""
            while not enough() and time.monotonic() < ends:
                if not select.select([child.stdout], [], [], LOOKS_EVERY_S)[0]:
                    continue
                some = os.read(child.stdout.fileno(), 1 << 16)
                if not some:
                    break
                *whole, rest = (rest + some).split(b"\n")
                if whole:
                    yield [line.decode("utf-8", "replace") for line in whole]
            else:
                return
            if child.wait(time_s):
                errors.seek(0)
                said = errors.read()[-400:].strip().splitlines()
                raise CannotRead(f"{Path(command[-1]).stem} failed: {said[-1] if said else 'it said nothing'}.")
        finally:
            if child.poll() is None:
                child.kill()
                child.wait()
            child.stdout.close()
