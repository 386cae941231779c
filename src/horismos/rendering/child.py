"""Child processes under limits on time and memory; Ghostscript is never run otherwise."""

import os
import resource
import shutil
import subprocess
import tempfile
import time
from collections.abc import Callable, Sequence
from pathlib import Path

from horismos.errors import Cancelled, CannotRead, LimitExceeded, NotInstalled

__all__ = ["ghostscript", "run_limited"]

MEMORY_BYTES = 4_000_000_000
TIME_S = 300.0
OUTPUT_BYTES = 8_000_000_000


def _limits() -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_FSIZE, (OUTPUT_BYTES, OUTPUT_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def run_limited(
    command: Sequence[str],
    cwd: Path,
    time_s: float = TIME_S,
    cancelled: Callable[[], bool] = lambda: False,
) -> bytes:
    """Run a program in a folder of its own and give what it printed.

    Its temporary files go into that folder too: Ghostscript's safe mode allows writing where
    those go, and a PostScript file may do the same.

    Raises LimitExceeded when the time is over, Cancelled when ``cancelled`` says so, CannotRead
    when the program fails, with the last line it printed.
    """
    ends = time.monotonic() + time_s
    with tempfile.TemporaryFile() as output:
        child = subprocess.Popen(
            list(command), cwd=cwd, stdin=subprocess.DEVNULL, stdout=output,
            stderr=subprocess.STDOUT, preexec_fn=_limits, env={**os.environ, "TMPDIR": str(cwd)},
        )
        try:
            while True:
                try:
                    child.wait(0.1)
                    break
                except subprocess.TimeoutExpired:
                    if cancelled():
                        raise Cancelled(f"{Path(command[0]).name} was stopped.") from None
                    if time.monotonic() > ends:
                        raise LimitExceeded(
                            f"{Path(command[0]).name} took longer than {time_s:.0f} s.",
                            "Simplify the artwork or ask for a flattened one.",
                        ) from None
        finally:
            if child.poll() is None:
                child.kill()
                child.wait()
        output.seek(0)
        said = output.read(1_000_000)
    if child.returncode:
        lines = said.decode("utf-8", "replace").strip().splitlines()
        told = next((line for line in lines if line.startswith("Error:")), lines[-1] if lines else "it said nothing")
        raise CannotRead(f"{Path(command[0]).name} stopped: {told[:200]}")
    return said


def ghostscript(
    arguments: Sequence[str], cwd: Path, cancelled: Callable[[], bool] = lambda: False,
    time_s: float = TIME_S,
) -> bytes:
    """Run Ghostscript in safe mode. Raises as run_limited, or where it is not installed."""
    program = shutil.which("gs")
    if program is None:
        raise NotInstalled("Ghostscript is not installed.", "Install the package ghostscript.")
    fixed = [program, "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-dNOPROMPT"]
    return run_limited([*fixed, *arguments], cwd, time_s, cancelled)
