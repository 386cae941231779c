"""A jail for those who handle files of unknown making, where the machine offers one: bubblewrap's.

Inside there is no network, no process of the shop's, and of the disk only programs, fonts and a scratch folder. What
is to be read comes in open, by descriptor.
"""

import functools
import shutil
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path

__all__ = ["jailed", "offered"]

PROGRAMS = ("/usr", "/bin", "/lib", "/lib64", "/sbin")
SHARED = (
    "/etc/fonts", "/etc/alternatives", "/etc/ld.so.cache", "/etc/ghostscript", "/etc/localtime", "/var/lib/ghostscript",
)
TRIED_S = 20.0


def jailed(command: Sequence[str], scratch: Path) -> list[str]:
    """A command of ours as it is run in a jail that may write to ``scratch`` alone, which it knows as /tmp."""
    bwrap = shutil.which("bwrap") or "bwrap"
    out = [bwrap, "--unshare-all", "--die-with-parent", "--new-session", "--cap-drop", "ALL"]
    out += ["--proc", "/proc", "--dev", "/dev", "--bind", str(scratch), "/tmp"]
    for place in (*PROGRAMS, *SHARED):
        out += ["--ro-bind-try", place, place]
    for folder in _ours():
        out += ["--ro-bind", str(folder), str(folder)]
    return [*out, "--chdir", "/", "--", *command]


def _ours() -> list[Path]:
    """Where Python, its packages and the product lie, outermost only."""
    here = Path(__file__).resolve().parents[2]
    places = [*map(Path, (sys.prefix, sys.base_prefix, *filter(None, sys.path))), here]
    found = {path for place in places for path in (place, place.resolve()) if path.is_dir()}
    outer = found | {Path(place) for place in PROGRAMS}
    return sorted(path for path in found if path not in map(Path, PROGRAMS) and not outer & set(path.parents))


@functools.cache
def offered() -> bool:
    """Whether this machine has bubblewrap, and lets it make a jail."""
    if shutil.which("bwrap") is None:
        return False
    try:
        tried = subprocess.run(
            jailed([sys.executable, "-I", "-c", "pass"], Path("/tmp")), stdin=subprocess.DEVNULL, capture_output=True,
            timeout=TRIED_S, check=False,
        )
    except (OSError, subprocess.TimeoutExpired):
        return False
    return tried.returncode == 0
