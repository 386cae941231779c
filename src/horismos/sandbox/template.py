"""The process that children are forked from: everything is imported in it once, and no file ever opened.

It has one thread and does nothing but fork. It ends when whoever started it ends, and its children with it.
"""

import contextlib
import gc
import importlib
import os
import pickle
import shutil
import signal
import socket
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

from horismos.sandbox.child import begin, scratch_of
from horismos.sandbox.limits import Limits, adopt_orphans
from horismos.sandbox.wire import HEAD

__all__ = ["main"]


def main(control: socket.socket, modules: list[str]) -> None:
    """Fork a child for each socket that comes; say its number."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    adopt_orphans()
    for name in modules:
        importlib.import_module(name)
    gc.collect()
    gc.freeze()
    me, children = os.getpid(), set[int]()
    while True:
        try:
            data, descriptors, _, _ = socket.recv_fds(control, 4096, 1)
        except ConnectionError:
            data = b""
        for number in _ended():
            children.discard(number)
            _forget(number)
        if not data:
            for number in children:
                _end(number)
                _forget(number)
            return
        limits: Limits = pickle.loads(data)
        link = socket.socket(fileno=descriptors[0])
        number = os.fork()
        if number == 0:
            control.close()
            begin(link, limits, me)
        children.add(number)
        link.close()
        with contextlib.suppress(OSError):  # who asked has ended meanwhile, and is heard of next
            control.sendall(HEAD.pack(number))


def _ended() -> Iterator[int]:
    """The processes that have ended since; those that children left behind are forgotten here too."""
    with contextlib.suppress(ChildProcessError):
        while (number := os.waitpid(-1, os.WNOHANG)[0]) != 0:
            yield number


def _end(number: int) -> None:
    """End a child and all that it has started."""
    with contextlib.suppress(ProcessLookupError):
        os.killpg(number, signal.SIGKILL)


def _forget(number: int) -> None:
    """Take away what a child has left in its folder."""
    for folder in Path(tempfile.gettempdir()).glob(f"{scratch_of(number)}*"):
        shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main(socket.socket(fileno=int(sys.argv[1])), sys.argv[2:])
