"""What children are told to do in the tests."""

import ctypes
import os
import signal
import socket
import subprocess
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

Tell = Callable[[float, str], None]


def tells(count: int, tell: Tell) -> int:
    """Tell so many things."""
    for i in range(count):
        tell(i / max(count - 1, 1), str(i))
    return count


def number(tell: Tell) -> int:
    """Its own number."""
    return os.getpid()


def faulty(tell: Tell) -> float:
    """Fail as our own code may."""
    return 1 / 0


def starts_and_hangs(path: str, tell: Tell) -> None:
    """Start a program, write both numbers down, and never end."""
    child = subprocess.Popen(["sleep", "600"])
    Path(path + ".new").write_text(f"{os.getpid()} {child.pid}")
    Path(path + ".new").rename(path)
    while True:
        time.sleep(1)


def eats(size: int, tell: Tell) -> int:
    """Take memory."""
    return len(bytearray(size))


def crashes(tell: Tell) -> None:
    """End as a broken codec does."""
    ctypes.string_at(0)


def ends_so_often(tally: str, times: int, tell: Tell) -> int:
    """End from outside, as by a loss of what it hangs on, so many times; gives at which try it came through."""
    with open(tally, "a+") as file:
        file.write("x")
        file.flush()
        file.seek(0)
        tries = len(file.read())
    if tries <= times:
        os.kill(os.getpid(), signal.SIGKILL)
    return tries


def grows(tell: Tell) -> None:
    """Take more and more memory, and touch it."""
    held = []
    while True:
        held.append(bytearray(os.urandom(1 << 20)) * 20)
        time.sleep(0.05)


def looks_around(own: Path, secret: str, port: int, tell: Tell) -> dict[str, object]:
    """What is seen of a file that was handed over, of another's path, of the network, of other processes."""
    left = Path(tempfile.gettempdir()) / "left"
    found: dict[str, object] = {"own": own.read_bytes(), "secret": os.path.exists(secret), "left": left.exists()}
    try:
        socket.create_connection(("127.0.0.1", port), 2).close()
        found["network"] = True
    except OSError:
        found["network"] = False
    found["processes"] = sum(name.isdigit() for name in os.listdir("/proc"))
    found["account"] = os.path.exists("/etc/passwd")
    left.write_text("of this child")
    return found


def tells_for_ever(tell: Tell) -> None:
    """Work and tell, again and again, until somebody has it left off."""
    while True:
        tell(0.5, "x" * 5_000)
        sum(range(10_000))
